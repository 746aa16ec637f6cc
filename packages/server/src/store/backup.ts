import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { constants, copyFile, link, mkdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import type { Readable } from 'node:stream';
import Database from 'better-sqlite3';
import { ZipFile } from 'yazl';
import type { AudioFiles } from '../sounds/audioFiles.ts';
import { DATABASE, MANIFEST, type Manifest } from './backupManifest.ts';

export interface Backup {
  readonly manifest: Manifest;
  /** The ZIP file. What it is made from is cleared away when it ends or is given up. */
  readonly stream: Readable;
}

/**
 * Everything in one ZIP file (ZIP64 where it has to be), as it was at one moment, while the store is in use: the database is
 * copied by `copyDatabase` through SQLite itself, and the audio, which never changes, is held by links until it has been read.
 */
export async function makeBackup(files: AudioFiles, copyDatabase: (to: string) => Promise<unknown>): Promise<Backup> {
  const folder = files.temporaryPath();
  await mkdir(folder);
  const clear = () => rm(folder, { recursive: true, force: true });
  try {
    const held = new Set<string>();
    const hold = async (sha256: string) => {
      if (!held.has(sha256) && (await linkedOrCopied(files.pathOf(sha256), join(folder, sha256)))) held.add(sha256);
    };
    // Before and after: what is deleted meanwhile is in the copy of the database still, what comes may be already.
    for (const sha256 of await files.present()) await hold(sha256);
    const copy = join(folder, DATABASE);
    await copyDatabase(copy);
    const used = hashesIn(copy);
    for (const sha256 of used) await hold(sha256);

    const audio = await Promise.all(
      [...held].sort().map(async (sha256) => ({
        path: `audio/${sha256.slice(0, 2)}/${sha256}.wav`,
        sha256,
        bytes: (await stat(join(folder, sha256))).size,
      })),
    );
    const manifest: Manifest = {
      format: 'hexenkessel.backup',
      version: 1,
      made: new Date().toISOString(),
      files: [{ path: DATABASE, sha256: await hashOf(copy), bytes: (await stat(copy)).size }, ...audio],
      missing: used.filter((sha256) => !held.has(sha256)),
    };
    const zip = new ZipFile();
    const stream = zip.outputStream as Readable;
    zip.on('error', (error: Error) => stream.destroy(error));
    stream.once('close', () => void clear());
    zip.addBuffer(Buffer.from(JSON.stringify(manifest, null, 1)), MANIFEST);
    zip.addFile(copy, DATABASE);
    for (const { path, sha256 } of audio) zip.addFile(join(folder, sha256), path, { compress: false });
    zip.end();
    return { manifest, stream };
  } catch (error) {
    await clear();
    throw error;
  }
}

/** Of the audio that the sounds of a database have. */
function hashesIn(file: string): string[] {
  const database = new Database(file, { readonly: true });
  try {
    return database.prepare<[], string>('SELECT DISTINCT sha256 FROM sounds').pluck().all();
  } finally {
    database.close();
  }
}

/** True when there is a file to hold. */
async function linkedOrCopied(from: string, to: string): Promise<boolean> {
  try {
    await link(from, to);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'ENOENT') return false;
    // A disk without links.
    await copyFile(from, to, constants.COPYFILE_FICLONE);
  }
  return true;
}

export async function hashOf(path: string): Promise<string> {
  const hash = createHash('sha256');
  await pipeline(createReadStream(path), hash);
  return hash.digest('hex');
}
