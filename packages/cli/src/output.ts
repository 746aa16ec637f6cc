/** Files that are written: whole or not at all, and nothing but files of the user's own is replaced. */
import { randomUUID } from 'node:crypto';
import { lstat, mkdir, open, readdir, readlink, rename, rm } from 'node:fs/promises';
import { hostname } from 'node:os';
import { dirname, extname, join, resolve } from 'node:path';
import { InputError, diskFault } from '@hexenkessel/core/model';

/** What is wrong with a file that is written; it names the file by itself. */
export class OutputError extends InputError {}

/** How unfinished files are called: by the machine and the process that write them, so that a later run knows its own. */
const UNFINISHED = `.hexenkessel-${hostname().replace(/[^\w.-]/g, '_')}-`;

/**
 * Refuses a path that cannot be written to before any work is done for it: one whose ending says something else than the
 * formats in `endings`, and one that names a device, a pipe, a link or a folder.
 */
export async function checkOutput(path: string, endings: readonly string[]): Promise<void> {
  const ending = extname(path).toLowerCase();
  if (!endings.includes(ending))
    throw new OutputError(
      `${path}: ${ending === '' ? 'a name without an ending' : `"${ending}"`} is no format that is written here; allowed ${endings.length === 1 ? 'is' : 'are'} ${endings.join(' and ')}.`,
    );
  await refuseOther(path, resolve(path));
}

async function refuseOther(path: string, target: string): Promise<void> {
  const there = await lstat(target).catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT') return undefined;
    throw explained(path, error);
  });
  if (!there || there.isFile()) return;
  if (there.isDirectory()) throw new OutputError(`${path}: this is a folder; name a file to write.`);
  if (there.isSymbolicLink())
    throw new OutputError(`${path}: this is a link to ${await readlink(target)}; name the file itself.`);
  const kind = there.isFIFO() ? 'a pipe' : there.isSocket() ? 'a socket' : 'a device';
  throw new OutputError(`${path}: this is ${kind}; only files are written and replaced.`);
}

/**
 * Writes under a temporary name and renames, so that a failed or interrupted run leaves no file behind; what a run that
 * was killed has left in the folder is cleared away. `beginning`, if given, is asked once all pieces are written, and
 * replaces the first bytes. OutputError says what cannot be written and why.
 */
export async function writeWhole(
  path: string,
  pieces: Iterable<Uint8Array> | AsyncIterable<Uint8Array>,
  beginning?: () => Uint8Array,
): Promise<void> {
  const target = resolve(path);
  const folder = dirname(target);
  const temporary = join(folder, `${UNFINISHED}${process.pid}-${randomUUID()}.part`);
  const writing = <T>(work: Promise<T>): Promise<T> =>
    work.catch((error: NodeJS.ErrnoException) => {
      throw explained(path, error);
    });
  const discard = () => void rm(temporary, { force: true }).then(() => process.exit(130));
  process.once('SIGINT', discard).once('SIGTERM', discard);
  try {
    await writing(makeFolder(folder));
    await clearLeft(folder);
    const file = await writing(open(temporary, 'wx'));
    try {
      for await (const piece of pieces) await writing(file.writeFile(piece));
      if (beginning) {
        const bytes = beginning();
        await writing(file.write(bytes, 0, bytes.length, 0));
      }
      await writing(file.sync());
    } finally {
      await file.close();
    }
    // It may have come to be another thing meanwhile.
    await refuseOther(path, target);
    await writing(rename(temporary, target));
  } catch (error) {
    await rm(temporary, { force: true }).catch(() => undefined);
    throw error;
  } finally {
    process.off('SIGINT', discard).off('SIGTERM', discard);
  }
}

/** Step by step: Node's own way to make all folders of a path does not come back where none can be made. */
async function makeFolder(folder: string): Promise<void> {
  try {
    await mkdir(folder);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'EEXIST') return;
    if (code !== 'ENOENT' || dirname(folder) === folder) throw error;
    await makeFolder(dirname(folder));
    await mkdir(folder);
  }
}

/** Clears away unfinished files whose process is gone. */
async function clearLeft(folder: string): Promise<void> {
  const names = await readdir(folder).catch((): string[] => []);
  for (const name of names) {
    const writer = name.startsWith(UNFINISHED) && /^(\d+)-[\w-]+\.part$/.exec(name.slice(UNFINISHED.length));
    if (writer && !isRunning(Number(writer[1]))) await rm(join(folder, name), { force: true }).catch(() => undefined);
  }
}

function isRunning(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    // Somebody else's may not be asked, but it runs.
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}

/** A failure to write, in words; nothing is there then. */
function explained(path: string, error: NodeJS.ErrnoException): Error {
  const found = diskFault(error);
  if (!found) return error;
  return new OutputError(`${path}: ${found.fault}. Nothing was written; ${found.remedy}, or name another place.`);
}
