import { mkdir, readdir, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { tryStored } from '../chains/storedDocument.ts';
import { AudioFiles } from '../sounds/audioFiles.ts';
import { hashOf } from './backup.ts';
import { DATABASE } from './backupManifest.ts';
import { DataFolder } from './dataFolder.ts';
import { refuseNoStore } from './refuseNoStore.ts';

/** Something that is not as it should be in a store. */
export interface Finding {
  readonly what: string;
  /** What was done about it, or what can be. */
  readonly remedy: string;
  /** True once it is as it should be. */
  readonly mended: boolean;
}

interface SoundRow {
  readonly id: string;
  readonly name: string;
  readonly sha256: string;
  readonly bytes: number;
  readonly marks: string | null;
  readonly tags: string;
  readonly touched: string | null;
}

/** What stands for a column that cannot be read. */
const EMPTY = { marks: null, tags: '[]', touched: null } as const;

/**
 * Goes through all of a store that no server holds: the database, its rows, every file of audio by its hash. With `mend`
 * what can be put right is; nothing that may still be of use is thrown away. StartFault when a server holds it.
 */
export async function checkStore(path: string, mend: boolean): Promise<Finding[]> {
  refuseNoStore(path);
  const folder = await DataFolder.open(path);
  try {
    return await new StoreCheck(path, mend).run();
  } finally {
    await folder.close();
  }
}

class StoreCheck {
  private readonly path: string;
  private readonly mend: boolean;
  private readonly files: AudioFiles;
  private readonly findings: Finding[] = [];

  constructor(path: string, mend: boolean) {
    this.path = path;
    this.mend = mend;
    this.files = new AudioFiles(path);
  }

  async run(): Promise<Finding[]> {
    const database = new Database(join(this.path, DATABASE), { readonly: !this.mend });
    try {
      const sound = database.pragma('integrity_check(1)', { simple: true });
      if (sound !== 'ok') {
        this.tell(`The database is damaged: ${String(sound)}.`, 'Put a backup in its place.');
        return this.findings;
      }
      this.checkReferences(database);
      this.checkColumns(database);
      this.checkChains(database);
      await this.checkAudio(database.prepare<[], SoundRow>('SELECT * FROM sounds').all());
      return this.findings;
    } finally {
      database.close();
    }
  }

  private tell(what: string, remedy: string): void {
    this.findings.push({ what, remedy, mended: false });
  }

  /** Puts it right by `work`, where that is wanted. */
  private async right(what: string, done: string, work: () => unknown): Promise<void> {
    if (this.mend) await work();
    this.findings.push({ what, remedy: this.mend ? done : 'Can be mended.', mended: this.mend });
  }

  /** Rows that name others which are not there. */
  private checkReferences(database: Database.Database): void {
    const broken = database.pragma('foreign_key_check') as { table: string; rowid: number; parent: string }[];
    for (const { table, rowid, parent } of broken)
      void this.right(
        `A row of ${table} (${rowid}) names one of ${parent} that is not there.`,
        'It was taken out.',
        () => database.prepare(`DELETE FROM "${table.replaceAll('"', '')}" WHERE rowid = ?`).run(rowid),
      );
  }

  private checkColumns(database: Database.Database): void {
    for (const row of database.prepare<[], SoundRow>('SELECT * FROM sounds').all())
      for (const column of ['marks', 'tags', 'touched'] as const) {
        const text = row[column];
        if (text === null || isJson(text)) continue;
        void this.right(`What is noted as ${column} of “${row.name}” cannot be read.`, 'It was emptied.', () =>
          database.prepare(`UPDATE sounds SET ${column} = ? WHERE id = ?`).run(EMPTY[column], row.id),
        );
      }
  }

  private checkChains(database: Database.Database): void {
    for (const table of ['drafts', 'versions']) {
      const rows = database
        .prepare<[], { name: string; document: string }>(
          `SELECT chains.name, ${table}.document FROM ${table} JOIN chains ON chains.id = ${table}.chain_id WHERE chains.deleted_at IS NULL`,
        )
        .all();
      for (const { name, document } of rows) {
        const read = tryStored(document);
        if ('fault' in read)
          this.tell(
            `A ${table === 'drafts' ? 'draft' : 'version'} of the chain “${name}” cannot be read: ${read.fault}`,
            'The Library shows it, lets it be downloaded as it is, and deleted.',
          );
      }
    }
  }

  private async checkAudio(sounds: readonly SoundRow[]): Promise<void> {
    const present = await this.files.present();
    const seen = new Set<string>();
    for (const { name, sha256, bytes } of sounds) {
      if (seen.has(sha256)) continue;
      seen.add(sha256);
      const file = this.files.pathOf(sha256);
      if (!present.has(sha256)) {
        this.tell(
          `The audio of “${name}” is missing.`,
          'Put the same file back on the sound’s page, or restore a backup.',
        );
        continue;
      }
      const { size } = await stat(file);
      const wrong =
        size !== bytes ? `has ${size} bytes instead of ${bytes}` : (await hashOf(file)) !== sha256 && 'was changed';
      if (wrong !== false)
        await this.right(
          `The audio of “${name}” ${wrong}.`,
          'It was laid into the folder “damaged”; the sound is told as missing, and the same file can be put back.',
          () => this.layAside(file, sha256),
        );
    }
    for (const sha256 of present)
      if (!seen.has(sha256))
        await this.right(`A file of audio belongs to no sound: ${sha256}.`, 'It was taken away.', () =>
          this.files.remove(sha256),
        );
    for (const sha256 of await this.files.aside())
      if (!seen.has(sha256))
        await this.right(
          `A file of audio belongs to no sound and was laid aside: ${sha256}.`,
          'It was taken away.',
          () => this.files.removeAside(sha256),
        );
    const unfinished = join(this.path, 'unfinished');
    for (const name of await readdir(unfinished).catch((): string[] => []))
      await this.right(`Something unfinished was left: ${name}.`, 'It was taken away.', () =>
        rm(join(unfinished, name), { recursive: true, force: true }),
      );
  }

  private async layAside(file: string, sha256: string): Promise<void> {
    const folder = join(this.path, 'damaged');
    await mkdir(folder, { recursive: true });
    await rename(file, join(folder, `${sha256}.wav`));
  }
}

function isJson(text: string): boolean {
  try {
    JSON.parse(text);
    return true;
  } catch {
    return false;
  }
}
