/** What packed files say of their own length, so that one that was cut short is told from a short one. */
import { InputError } from '../../model/errors.ts';
import type { ByteSource } from '../common/byteSource.ts';
import type { SoundFormat } from './soundFormat.ts';

/** Frames that the file claims to have; undefined when it does not say. */
export async function promisedFrames(source: ByteSource, format: SoundFormat): Promise<number | undefined> {
  if (format === 'flac') return flacFrames(await source.read(0, Math.min(64, source.size)));
  if (format === 'mp3') return mp3Frames(source);
  return undefined;
}

/** From STREAMINFO (RFC 9639), which comes first: 36 bits that begin in its 14th byte. */
function flacFrames(head: Uint8Array): number | undefined {
  if (head.length < 26) throw new InputError('The FLAC file is truncated: it ends inside its first block.');
  const frames = (head[21] & 0x0f) * 2 ** 32 + new DataView(head.buffer, head.byteOffset).getUint32(22);
  return frames === 0 ? undefined : frames;
}

const FLAG_FRAMES = 1;

/** The first frame, with what an encoder may have put into it in place of sound. */
async function firstMp3Frame(source: ByteSource): Promise<Uint8Array> {
  const opening = await source.read(0, Math.min(10, source.size));
  // An ID3 tag says its length in seven bits a byte.
  const tagged = String.fromCharCode(...opening.subarray(0, 3)) === 'ID3' && opening.length === 10;
  const start = tagged ? 10 + opening.subarray(6, 10).reduce((size, byte) => size * 128 + (byte & 0x7f), 0) : 0;
  if (start + 4 > source.size) throw new InputError('The MP3 file is truncated: it ends inside its tag.');
  return source.read(start, Math.min(200, source.size - start));
}

const MONO = 3;

/** True when an MP3 file has one channel: decoders give two in any case. */
export async function isMonoMp3(source: ByteSource): Promise<boolean> {
  const frame = await firstMp3Frame(source);
  return frame[3] >> 6 === MONO;
}

/** From the tag that encoders put into the first frame, silent, in place of sound. */
async function mp3Frames(source: ByteSource): Promise<number | undefined> {
  const frame = await firstMp3Frame(source);
  const at = find(frame, 'Xing') ?? find(frame, 'Info');
  if (at === undefined || at + 12 > frame.length) return undefined;
  const data = new DataView(frame.buffer, frame.byteOffset, frame.byteLength);
  if ((data.getUint32(at + 4) & FLAG_FRAMES) === 0) return undefined;
  // MPEG-1 frames last 1152 samples, those of the lower rates half as long.
  return data.getUint32(at + 8) * ((frame[1] & 0x08) !== 0 ? 1152 : 576);
}

function find(bytes: Uint8Array, word: string): number | undefined {
  for (let i = 0; i + word.length <= bytes.length; i++)
    if ([...word].every((letter, n) => bytes[i + n] === letter.charCodeAt(0))) return i;
  return undefined;
}

const LONGEST_PAGE = 65_307;
const LAST_PAGE = 4;

/** The last page of an Ogg file, with what stands before it in the same piece. */
async function lastPage(source: ByteSource): Promise<{ readonly end: Uint8Array; readonly at: number }> {
  const length = Math.min(2 * LONGEST_PAGE, source.size);
  const end = await source.read(source.size - length, length);
  let at = -1;
  for (let i = end.length - 27; i >= 0 && at < 0; i--)
    if (end[i] === 0x4f && end[i + 1] === 0x67 && end[i + 2] === 0x67 && end[i + 3] === 0x53) at = i;
  return { end, at };
}

/**
 * Frames of an Opus file: the last page says where it ends, counted from what a decoder throws away at the beginning
 * (RFC 7845). What comes beyond is padding.
 */
export async function opusFrames(source: ByteSource): Promise<number> {
  const head = await source.read(0, Math.min(64, source.size));
  const { end, at } = await lastPage(source);
  if (at < 0 || head.length < 40) return Infinity;
  const data = new DataView(end.buffer, end.byteOffset, end.byteLength);
  const skipped = head[38] + 256 * head[39];
  const frames = Number(data.getBigInt64(at + 6, true)) - skipped;
  return frames > 0 ? frames : Infinity;
}

/** Frames of a Vorbis file by the last page, which counts them all (Vorbis I specification A.2); Infinity when it does not say. */
export async function vorbisFrames(source: ByteSource): Promise<number> {
  const { end, at } = await lastPage(source);
  if (at < 0) return Infinity;
  const frames = Number(new DataView(end.buffer, end.byteOffset, end.byteLength).getBigInt64(at + 6, true));
  return frames > 0 ? frames : Infinity;
}

/** An Ogg stream ends with a page that says so (RFC 3533). InputError when this one does not. */
export async function refuseCutOgg(source: ByteSource, name: string): Promise<void> {
  const { end, at: last } = await lastPage(source);
  const segments = last < 0 ? 0 : end[last + 26];
  const size = 27 + segments + end.subarray(last + 27, last + 27 + segments).reduce((sum, byte) => sum + byte, 0);
  if (last < 0 || (end[last + 5] & LAST_PAGE) === 0 || last + size > end.length)
    throw new InputError(`The ${name} file is truncated: the page that ends it is not there.`);
}
