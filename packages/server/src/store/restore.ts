import { createHash } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { access, mkdir, readFile, readdir, rename, rm, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import Database from 'better-sqlite3';
import { InputError } from '@hexenkessel/core/model';
import { openPromise, type Entry, type ZipFile } from 'yauzl';
import { MIGRATIONS } from '../database/migrations/migrations.ts';
import { DATABASE, MANIFEST, manifestSchema, type Manifest } from './backupManifest.ts';
import { DataFolder } from './dataFolder.ts';
import { isDiskFull } from './diskFull.ts';
import { flushFolder } from './flushFolder.ts';

const MANIFEST_BYTES = 256 * 1024 * 1024;

/** Where a backup lies that is whole and waits to be put in place; beside its files, what was done of that. */
const STAGED = 'restored';
const CLEARED = 'cleared';

/** Puts a backup into a folder that holds no store yet. InputError when it is not whole, or the folder is in use. */
export async function restoreBackup(file: string, path: string): Promise<Manifest> {
  const folder = await DataFolder.open(path);
  try {
    await refuseUsed(path);
    const manifest = await stageBackup(file, path);
    await placeStaged(path);
    return manifest;
  } finally {
    await folder.close();
  }
}

/**
 * Unpacks a backup beside a store and checks all of it; it is put in place by `placeStaged`. InputError when it is not whole
 * or of a newer version; nothing of it is left then.
 */
export async function stageBackup(file: string, path: string): Promise<Manifest> {
  const unpacked = join(path, 'unfinished', 'restore');
  await rm(unpacked, { recursive: true, force: true });
  try {
    const manifest = await unpack(file, unpacked);
    checkDatabaseOf(join(unpacked, DATABASE));
    await writeFile(join(unpacked, MANIFEST), JSON.stringify(manifest), { flush: true });
    await rm(join(path, STAGED), { recursive: true, force: true });
    await rename(unpacked, join(path, STAGED));
    await flushFolder(path);
    return manifest;
  } finally {
    await rm(unpacked, { recursive: true, force: true });
  }
}

/**
 * Puts a backup in place that waits for it, instead of what is there; without one it does nothing. Broken off anywhere, it
 * goes on the next time. For who holds the folder, with no database open.
 */
export async function placeStaged(path: string): Promise<void> {
  const staged = join(path, STAGED);
  const text = await readFile(join(staged, MANIFEST), 'utf8').catch(() => undefined);
  if (text === undefined) return;
  const manifest = manifestSchema.parse(JSON.parse(text));
  if (!(await isThere(join(staged, CLEARED)))) {
    for (const name of [DATABASE, `${DATABASE}-wal`, `${DATABASE}-shm`, 'audio'])
      await rm(join(path, name), { recursive: true, force: true });
    await writeFile(join(staged, CLEARED), '', { flush: true });
  }
  // The database last: until it is there, the store is an empty one.
  for (const { path: name } of [...manifest.files].reverse()) {
    if (!(await isThere(join(staged, name)))) continue;
    await mkdir(dirname(join(path, name)), { recursive: true });
    await rename(join(staged, name), join(path, name));
    await flushFolder(dirname(join(path, name)));
  }
  await rm(staged, { recursive: true });
}

const isThere = (path: string) =>
  access(path).then(
    () => true,
    () => false,
  );

async function refuseUsed(path: string): Promise<void> {
  // One that was broken off goes first.
  await placeStaged(path);
  const audio = await readdir(join(path, 'audio')).catch((): string[] => []);
  if (audio.length > 0 || (await isThere(join(path, DATABASE))))
    throw new InputError(`The folder ${path} holds a store already; a backup is put only into an empty one.`);
}

async function unpack(file: string, into: string): Promise<Manifest> {
  const zip = await opened(file);
  try {
    let manifest: Manifest | undefined;
    const left = new Map<string, Manifest['files'][number]>();
    for await (const entry of zip.eachEntry()) {
      if (manifest === undefined) {
        manifest = await readManifest(zip, entry, file);
        for (const one of manifest.files) left.set(one.path, one);
        continue;
      }
      const expected = left.get(entry.fileName);
      if (!expected) throw new InputError(`The backup holds ${entry.fileName}, which its manifest does not name.`);
      left.delete(entry.fileName);
      await unpackOne(zip, entry, expected, join(into, expected.path));
    }
    if (manifest === undefined) throw new InputError(`${file} is no backup: it is empty.`);
    const [lost] = left.keys();
    if (lost !== undefined) throw new InputError(`The backup is not whole: ${lost} is not in it.`);
    if (!manifest.files.some(({ path }) => path === DATABASE))
      throw new InputError(`The backup is not whole: its manifest names no ${DATABASE}.`);
    return manifest;
  } catch (error) {
    // What the reader of ZIP files and the unpacking say of a file that is not whole.
    if (error instanceof InputError || isDiskFull(error)) throw error;
    throw new InputError(`The backup cannot be read: ${(error as Error).message}.`);
  } finally {
    zip.close();
  }
}

async function opened(file: string): Promise<ZipFile> {
  try {
    return await openPromise(file, { autoClose: false });
  } catch (error) {
    const { code, message } = error as NodeJS.ErrnoException;
    if (code === 'ENOENT') throw new InputError(`There is no file ${file}.`);
    throw new InputError(`${file} is no backup: it is no whole ZIP file (${message}).`);
  }
}

async function readManifest(zip: ZipFile, entry: Entry, file: string): Promise<Manifest> {
  if (entry.fileName !== MANIFEST || entry.uncompressedSize > MANIFEST_BYTES)
    throw new InputError(`${file} is no backup of Hexenkessel: it does not begin with ${MANIFEST}.`);
  const pieces: Buffer[] = [];
  for await (const piece of await zip.openReadStreamPromise(entry)) pieces.push(piece as Buffer);
  const read = manifestSchema.safeParse(JSON.parse(Buffer.concat(pieces).toString('utf8')));
  if (!read.success) {
    const [{ path, message }] = read.error.issues;
    throw new InputError(`The backup’s ${MANIFEST} is not as it should be: ${path.join('.')}: ${message}.`);
  }
  return read.data;
}

async function unpackOne(
  zip: ZipFile,
  entry: Entry,
  { path, sha256, bytes }: Manifest['files'][number],
  target: string,
): Promise<void> {
  if (entry.uncompressedSize !== bytes)
    throw new InputError(`The backup is damaged: ${path} has ${entry.uncompressedSize} bytes, not ${bytes}.`);
  await mkdir(dirname(target), { recursive: true });
  const hash = createHash('sha256');
  const hashing = new Transform({
    transform(piece: Buffer, _encoding, done) {
      hash.update(piece);
      done(null, piece);
    },
  });
  await pipeline(
    await zip.openReadStreamPromise(entry),
    hashing,
    createWriteStream(target, { flags: 'wx', flush: true }),
  );
  if (hash.digest('hex') !== sha256) throw new InputError(`The backup is damaged: ${path} is not what was put in.`);
}

function checkDatabaseOf(path: string): void {
  const database = new Database(path, { readonly: true });
  try {
    const found = database.pragma('integrity_check(1)', { simple: true });
    if (found !== 'ok') throw new InputError(`The backup’s database is damaged: ${String(found)}.`);
    const done = database.prepare<[], string>('SELECT name FROM knex_migrations').pluck().all();
    if (done.some((name) => !Object.hasOwn(MIGRATIONS, name)))
      throw new InputError('The backup was made by a newer Hexenkessel than this one; restore it with that one.');
  } finally {
    database.close();
  }
}
