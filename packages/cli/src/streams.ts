/** Standard input and output, where `-` stands for a file. */
import { randomUUID } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { stdin, stdout } from 'node:process';
import { pipeline } from 'node:stream/promises';
import { InputError } from '@hexenkessel/core/model';

/** Stands for standard input or output where a file is named. */
export const STANDARD = '-';

export const isStandard = (path: string) => path === STANDARD;

/** What a path is called in messages. */
export const named = (path: string, direction: 'in' | 'out') => (isStandard(path) ? `standard ${direction}put` : path);

/** InputError when there is nobody to send anything. */
export function refuseSilentInput(): void {
  if (stdin.isTTY)
    throw new InputError('“-” reads what is sent to standard input, and nothing is: write “hexenkessel … < file”.');
}

/** InputError when more than one thing is to be read from standard input. */
export function refuseSharedInput(paths: readonly string[]): void {
  if (paths.filter(isStandard).length > 1)
    throw new InputError('“-” stands for standard input and can be read once; name a file for the others.');
}

/** Keeps what comes on standard input in a file, of any length, for as long as `work` takes. */
export async function withStandardInput<T>(work: (path: string) => Promise<T>): Promise<T> {
  refuseSilentInput();
  return withTemporary(async (path) => {
    await pipeline(stdin, createWriteStream(path, { flags: 'wx', mode: 0o600 }));
    return work(path);
  });
}

/** Has `work` write a file, and sends it to standard output once it is whole. InputError on a terminal. */
export async function toStandardOutput<T>(ending: string, work: (path: string) => Promise<T>): Promise<T> {
  if (stdout.isTTY && ending !== '.md')
    throw new InputError('“-” sends the file to standard output, which is this terminal; add “> file” or “| program”.');
  return withTemporary(async (path) => {
    const made = await work(path);
    await pipeline(createReadStream(path), stdout, { end: false });
    return made;
  }, ending);
}

async function withTemporary<T>(work: (path: string) => Promise<T>, ending = ''): Promise<T> {
  const folder = await mkdtemp(join(tmpdir(), 'hexenkessel-'));
  const clear = () => rm(folder, { recursive: true, force: true });
  const interrupted = () => void clear().then(() => process.exit(130));
  process.once('SIGINT', interrupted).once('SIGTERM', interrupted);
  try {
    return await work(join(folder, `${randomUUID()}${ending}`));
  } finally {
    process.off('SIGINT', interrupted).off('SIGTERM', interrupted);
    await clear();
  }
}
