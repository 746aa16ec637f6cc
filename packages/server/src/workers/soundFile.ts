/** Sound files as the workers read and write them, and how their work ends. */
import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { open, type FileHandle } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import { InputError } from '@hexenkessel/core/model';
import type { Measures } from '@hexenkessel/core/analysis';
import { WavReader, bytesOfFile, type ByteSource } from '@hexenkessel/core/formats';
import { isDiskFull } from '../store/diskFull.ts';
import type { Answer, Measured } from './tasks.ts';

/** What was asked for is not wanted any more. */
class Cancelled extends Error {}

/** Does some work and says how it ended; what is nobody's fault is thrown. */
export async function answerOf<T>(work: () => Promise<T>): Promise<Answer<T>> {
  try {
    return { outcome: 'done', result: await work() };
  } catch (error) {
    if (error instanceof Cancelled) return { outcome: 'cancelled' };
    if (error instanceof InputError) return { outcome: 'refused', message: error.message, faults: error.faults };
    if (isDiskFull(error)) return { outcome: 'disk full' };
    throw error;
  }
}

export function refuseCancelled(cancel: SharedArrayBuffer): void {
  if (Atomics.load(new Int32Array(cancel), 0) !== 0) throw new Cancelled();
}

export function levels({ peak, truePeak, loudness }: Measures): Pick<Measured, 'peak' | 'truePeak' | 'loudness'> {
  const finite = (value: number) => (Number.isFinite(value) ? value : null);
  return { peak: finite(peak), truePeak: finite(truePeak), loudness: finite(loudness) };
}

export function withReader<T>(path: string, work: (reader: WavReader) => Promise<T>): Promise<T> {
  return withBytes(path, async (source) => work(await WavReader.open(source)));
}

export async function withBytes<T>(path: string, work: (source: ByteSource) => Promise<T>): Promise<T> {
  const file: FileHandle = await open(path, 'r');
  try {
    return await work(bytesOfFile(file, (await file.stat()).size));
  } finally {
    await file.close();
  }
}

interface Writing {
  readonly cancel?: SharedArrayBuffer;
  /** Asked once all is written; replaces the first bytes. */
  readonly beginning?: () => Uint8Array;
  readonly onPiece?: () => void;
}

export async function writePieces(
  path: string,
  pieces: Iterable<Uint8Array> | AsyncIterable<Uint8Array>,
  { cancel, beginning, onPiece }: Writing = {},
): Promise<{ sha256: string; bytes: number }> {
  let bytes = 0;
  const file = await open(path, 'wx');
  try {
    for await (const piece of pieces) {
      if (cancel) refuseCancelled(cancel);
      await file.writeFile(piece);
      bytes += piece.length;
      onPiece?.();
    }
    if (beginning) {
      const first = beginning();
      await file.write(first, 0, first.length, 0);
    }
    await file.sync();
  } finally {
    await file.close();
  }
  const hash = createHash('sha256');
  await pipeline(createReadStream(path), hash);
  return { sha256: hash.digest('hex'), bytes };
}
