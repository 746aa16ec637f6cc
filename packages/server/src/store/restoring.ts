import { rm } from 'node:fs/promises';
import type { Readable } from 'node:stream';
import type { Knex } from 'knex';
import { DEMO_CHAINS, DEMO_SOUNDS } from '@hexenkessel/demo';
import { Problem } from '../http/problem.ts';
import type { AudioFiles } from '../sounds/audioFiles.ts';
import type { Manifest } from './backupManifest.ts';
import { stageBackup } from './restore.ts';

/** Takes in a backup while the server runs; it is put in place when the server begins anew, for which `staged` asks. */
export class Restoring {
  /** Resolves when a backup waits to be put in place. */
  readonly staged: Promise<void>;
  private readonly tell: () => void;
  private readonly database: Knex;
  private readonly files: AudioFiles;
  private readonly folder: string;

  constructor(database: Knex, files: AudioFiles, folder: string) {
    this.database = database;
    this.files = files;
    this.folder = folder;
    let tell = () => undefined as void;
    this.staged = new Promise((resolve) => (tell = resolve));
    this.tell = tell;
  }

  /** Problem 409 in a store that is worked with; InputError when the backup is not whole. */
  async take(bytes: Readable): Promise<Manifest> {
    await this.refuseUsed();
    const path = await this.files.receiveAny(bytes);
    try {
      const manifest = await stageBackup(path, this.folder);
      // Something may have been done meanwhile.
      await this.refuseUsed();
      this.tell();
      return manifest;
    } finally {
      await rm(path, { force: true });
    }
  }

  private async refuseUsed(): Promise<void> {
    if (!(await this.isPossible()))
      throw new Problem(
        409,
        'This store is worked with already; a backup is put only into one in which nothing was done yet. Start the server with another folder (HEXENKESSEL_DATA), and restore it there.',
      );
  }

  /** True while nothing lies in the store but what it was set up with. */
  async isPossible(): Promise<boolean> {
    const { database } = this;
    const others = [
      database('drafts'),
      database('renders'),
      database('scripts'),
      database('versions').where('number', '>', 1),
      database('chains').whereNotIn(
        'name',
        DEMO_CHAINS.map(({ name }) => name),
      ),
      database('sounds')
        .whereNull('signal')
        .whereNotIn(
          'name',
          DEMO_SOUNDS.map(({ name }) => name),
        ),
    ];
    for (const other of others) if ((await other.first(database.raw('1'))) !== undefined) return false;
    return true;
  }
}
