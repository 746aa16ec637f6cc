import { randomUUID } from 'node:crypto';
import { mkdir, open, readFile, rename, rm, stat } from 'node:fs/promises';
import { dirname, resolve } from 'node:path';
import {
  InputError,
  LIMITS,
  bytesOfFile,
  parseChainText,
  readTempoMap,
  type ChainDocument,
  type SoundReader,
  type TempoMap,
} from '@hexenkessel/core';
import { openSound } from '@hexenkessel/core/codecs';

/** Adds the file's name to what is said about its contents. */
async function about<T>(path: string, work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof InputError)
      throw new InputError(error.message, { faults: error.faults.map((fault) => `${path}: ${fault}`) });
    const code = (error as NodeJS.ErrnoException).code;
    if (code === 'ENOENT') throw new InputError(`${path}: there is no such file.`);
    if (code === 'EISDIR') throw new InputError(`${path}: this is a folder; name a file.`);
    if (code === 'EACCES') throw new InputError(`${path}: this file may not be read.`);
    throw error;
  }
}

export function readChainFile(path: string): Promise<ChainDocument> {
  return about(path, async () => {
    const { size } = await stat(path);
    if (size > LIMITS.chainBytes) {
      throw new InputError(`The chain file has ${size} bytes; at most ${LIMITS.chainBytes} (1 MiB) are allowed.`);
    }
    return parseChainText(await readFile(path, 'utf8'));
  });
}

/** Reads the tempo map of a MIDI file. */
export function readTempoFile(path: string): Promise<TempoMap> {
  return about(path, async () => readTempoMap(await readFile(path)));
}

/** Opens a sound file for as long as `work` takes; `picked`: one or two of its channels, from 0. */
export function withSoundFile<T>(
  path: string,
  work: (reader: SoundReader) => Promise<T>,
  picked?: readonly number[],
): Promise<T> {
  return about(path, async () => {
    const file = await open(path, 'r');
    try {
      const { size } = await file.stat();
      return await work(await openSound(bytesOfFile(file, size), picked));
    } finally {
      await file.close();
    }
  });
}

/**
 * Writes under a temporary name and renames, so that a failed or interrupted run leaves no file behind. `beginning`, if
 * given, is asked once all pieces are written, and replaces the first bytes.
 */
export async function writeWhole(
  path: string,
  pieces: Iterable<Uint8Array> | AsyncIterable<Uint8Array>,
  beginning?: () => Uint8Array,
): Promise<void> {
  const target = resolve(path);
  await mkdir(dirname(target), { recursive: true });
  const temporary = `${target}.${randomUUID()}.part`;
  const discard = () => void rm(temporary, { force: true }).then(() => process.exit(130));
  process.once('SIGINT', discard).once('SIGTERM', discard);
  try {
    const file = await open(temporary, 'wx');
    try {
      for await (const piece of pieces) await file.writeFile(piece);
      if (beginning) {
        const bytes = beginning();
        await file.write(bytes, 0, bytes.length, 0);
      }
      await file.sync();
    } finally {
      await file.close();
    }
    await rename(temporary, target);
  } catch (error) {
    await rm(temporary, { force: true });
    const code = (error as NodeJS.ErrnoException).code;
    if (code === 'EISDIR') throw new InputError(`${path}: this is a folder; name a file to write.`);
    throw error;
  } finally {
    process.off('SIGINT', discard).off('SIGTERM', discard);
  }
}
