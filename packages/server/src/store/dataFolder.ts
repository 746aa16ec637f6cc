import { randomUUID } from 'node:crypto';
import { mkdir, open, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { hostname } from 'node:os';
import { dirname, join } from 'node:path';
import Database from 'better-sqlite3';
import { StartFault, startFault } from './startFault.ts';

/** Less room than this is none: the first thing that is kept would fail. */
const LEAST_BYTES = 1024 * 1024;

interface Holder {
  readonly process: number;
  readonly machine: string;
  readonly since: string;
  readonly address?: string;
}

/**
 * The folder in which all is kept, held by one server at a time. The hold is a lock on a database file of its own: it ends
 * with the process, however that ends.
 */
export class DataFolder {
  readonly path: string;
  private readonly lock: Database.Database;

  private constructor(path: string, lock: Database.Database) {
    this.path = path;
    this.lock = lock;
  }

  /** Makes the folder where there is none, writes in it to see that it can, and takes hold of it. StartFault if not. */
  static async open(path: string): Promise<DataFolder> {
    try {
      await makeFolder(path);
      await tryToWrite(path);
      return await DataFolder.hold(path);
    } catch (error) {
      throw startFault(path, error);
    }
  }

  private static async hold(path: string): Promise<DataFolder> {
    const file = join(path, 'lock.sqlite');
    let lock = new Database(file, { timeout: 0 });
    try {
      lock.exec('BEGIN EXCLUSIVE');
    } catch (error) {
      lock.close();
      const { code = '' } = error as { code?: string };
      if (code.startsWith('SQLITE_BUSY')) throw new StartFault(await heldText(path));
      if (!/^SQLITE_(NOTADB|CORRUPT)/.test(code)) throw error;
      // It holds nothing but the lock, and nobody can hold what is no database.
      await rm(file);
      lock = new Database(file, { timeout: 0 });
      lock.exec('BEGIN EXCLUSIVE');
    }
    const folder = new DataFolder(path, lock);
    await folder.tell();
    return folder;
  }

  /** Writes down who holds it, for a second server to say. */
  async tell(address?: string): Promise<void> {
    const holder: Holder = {
      process: process.pid,
      machine: hostname(),
      since: new Date().toISOString(),
      ...(address === undefined ? {} : { address }),
    };
    await writeFile(holderFile(this.path), `${JSON.stringify(holder)}\n`);
  }

  /** Lets go of it. */
  async close(): Promise<void> {
    await rm(holderFile(this.path), { force: true }).catch(() => undefined);
    this.lock.close();
  }
}

const holderFile = (path: string) => join(path, 'held-by.json');

async function heldText(path: string): Promise<string> {
  const text = await readFile(holderFile(path), 'utf8').catch(() => '');
  let who = 'another Hexenkessel';
  try {
    const { process: id, machine, since, address } = JSON.parse(text) as Holder;
    who += ` (process ${id} on ${machine}, since ${since}${address === undefined ? '' : `, at ${address}`})`;
  } catch {
    // It has only just begun; the lock alone counts.
  }
  return `The data folder ${path} is held by ${who}. Use that one, stop it, or set HEXENKESSEL_DATA to another folder.`;
}

/** Step by step: Node's own way to make all folders of a path does not come back where none can be made. */
async function makeFolder(path: string): Promise<void> {
  try {
    await mkdir(path);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'EEXIST' && (await stat(path)).isDirectory()) return;
    if (code !== 'ENOENT' || dirname(path) === path) throw error;
    await makeFolder(dirname(path));
    await mkdir(path);
  }
}

/** Where the audio is received, too: what a killed start leaves there is cleared away with it. */
async function tryToWrite(path: string): Promise<void> {
  const unfinished = join(path, 'unfinished');
  await makeFolder(unfinished);
  const trial = join(unfinished, `trial-${randomUUID()}`);
  try {
    const file = await open(trial, 'wx');
    try {
      await file.writeFile(new Uint8Array(LEAST_BYTES));
      await file.sync();
    } finally {
      await file.close();
    }
  } catch (error) {
    // The folder is what is told of.
    throw Object.assign(error as object, { path });
  } finally {
    await rm(trial, { force: true }).catch(() => undefined);
  }
}
