/** Reads AIFF and AIFF-C files (Apple, 1989 and 1991) with uncompressed samples. */
import { InputError } from '../../model/errors.ts';
import { LIMITS } from '../../model/limits.ts';
import { NO_MARKS, type SoundLoop, type SoundMarks } from '../common/soundMarks.ts';
import type { ByteSource } from '../common/byteSource.ts';

export interface AiffHeader {
  readonly sampleRate: number;
  readonly channels: number;
  readonly frames: number;
  readonly bits: number;
  readonly floating: boolean;
  readonly littleEndian: boolean;
  readonly dataOffset: number;
  readonly marks: SoundMarks;
}

interface Common {
  readonly channels: number;
  readonly frames: number;
  readonly bits: number;
  readonly sampleRate: number;
  readonly compression: string;
}

/** InputError says what is wrong with the file. */
export async function readAiffHeader(source: ByteSource): Promise<AiffHeader> {
  let common: Common | undefined;
  let data: { readonly offset: number; readonly size: number } | undefined;
  let instrument: DataView | undefined;
  const markers = new Map<number, { readonly at: number; readonly label: string }>();
  for (let at = 12; at + 8 <= source.size;) {
    const head = view(await source.read(at, 8));
    const name = text(head, 0, 4);
    const size = head.getUint32(4);
    const left = source.size - at - 8;
    if (size > left)
      throw new InputError(
        `The AIFF file is truncated or its header is wrong: the chunk "${name}" claims ${size} bytes, ${left} are there.`,
      );
    const body = async (most: number) => view(await source.read(at + 8, Math.min(size, most)));
    if (name === 'COMM' && size >= 18) common = readCommon(await body(64));
    else if (name === 'SSND' && size >= 8) {
      const offset = (await body(8)).getUint32(0);
      data = { offset: at + 16 + offset, size: size - 8 - offset };
    } else if (name === 'MARK' && size >= 2) readMarkers(await body(1 << 16), markers);
    else if (name === 'INST' && size >= 20) instrument = await body(20);
    at += 8 + size + (size % 2);
  }
  if (!common || !data)
    throw new InputError('The AIFF file is broken: it has no samples, or does not say of what kind they are.');
  const { channels, bits, sampleRate, compression } = common;
  const floating = /^fl(32|64)$/i.test(compression);
  const allowed = floating ? [Number(compression.slice(2))] : [8, 16, 24, 32];
  if (!(floating || ['NONE', 'twos', 'sowt'].includes(compression)) || !allowed.includes(bits))
    throw new InputError(
      `The AIFF file holds ${bits}-bit samples compressed as "${compression}"; allowed are 8, 16, 24 and 32 bits and floats of 32 and 64, uncompressed.`,
    );
  if (channels < 1 || channels > LIMITS.fileChannels)
    throw new InputError(`The AIFF file has ${channels} channels; 1 to ${LIMITS.fileChannels} are allowed.`);
  const needed = common.frames * channels * (bits / 8);
  if (needed > data.size)
    throw new InputError(
      `The AIFF file is truncated or its header is wrong: it claims ${common.frames} frames, ${Math.floor(data.size / (channels * (bits / 8)))} are there.`,
    );
  if (common.frames === 0) throw new InputError('The AIFF file holds 0 frames; at least 1 is needed.');
  return {
    sampleRate,
    channels,
    frames: common.frames,
    bits,
    floating,
    littleEndian: compression === 'sowt',
    dataOffset: data.offset,
    marks: marksOf(instrument, markers, common.frames),
  };
}

function readCommon(chunk: DataView): Common {
  // The rate is an 80-bit float: sign and exponent, then a 64-bit mantissa.
  const exponent = (chunk.getUint16(8) & 0x7fff) - 16383;
  const sampleRate = Math.round((chunk.getUint32(10) + chunk.getUint32(14) / 2 ** 32) * 2 ** (exponent - 31));
  return {
    channels: chunk.getUint16(0),
    frames: chunk.getUint32(2),
    bits: chunk.getUint16(6),
    sampleRate,
    compression: chunk.byteLength >= 22 ? text(chunk, 18, 4) : 'NONE',
  };
}

function readMarkers(chunk: DataView, into: Map<number, { at: number; label: string }>): void {
  const count = chunk.getUint16(0);
  for (let n = 0, at = 2; n < count && at + 7 <= chunk.byteLength; n++) {
    const length = chunk.getUint8(at + 6);
    if (at + 7 + length > chunk.byteLength) return;
    into.set(chunk.getUint16(at), { at: chunk.getUint32(at + 2), label: text(chunk, at + 7, length).slice(0, 80) });
    at += 7 + length + (length % 2 === 0 ? 1 : 0);
  }
}

function marksOf(
  instrument: DataView | undefined,
  markers: ReadonlyMap<number, { readonly at: number; readonly label: string }>,
  frames: number,
): SoundMarks {
  if (!instrument && markers.size === 0) return NO_MARKS;
  const used = new Set<number>();
  const loopAt = (offset: number, kind: SoundLoop['kind']): SoundLoop[] => {
    if (!instrument || instrument.getUint16(offset) === 0) return [];
    const [first, last] = [instrument.getUint16(offset + 2), instrument.getUint16(offset + 4)];
    const [start, end] = [markers.get(first)?.at, markers.get(last)?.at];
    if (start === undefined || end === undefined || start >= end || end > frames) return [];
    used.add(first).add(last);
    return [{ kind, start, end, times: 0 }];
  };
  const loops = [...loopAt(8, 'sustain'), ...loopAt(14, 'release')];
  const key = instrument?.getUint8(0);
  return {
    rootKey: key !== undefined && key <= 127 ? key : null,
    fineTune: Math.max(-50, Math.min(50, instrument?.getInt8(1) ?? 0)),
    loops,
    markers: [...markers].filter(([id, { at }]) => !used.has(id) && at <= frames).map(([, marker]) => marker),
  };
}

/** Interleaved samples as one array for each channel picked. */
export function decodeAiffFrames(
  bytes: Uint8Array,
  { bits, floating, littleEndian, channels }: AiffHeader,
  picked: readonly number[],
): Float32Array[] {
  const data = view(bytes);
  const size = bits / 8;
  const count = Math.floor(bytes.length / (size * channels));
  const sampleAt = (at: number): number => {
    if (floating) return bits === 64 ? data.getFloat64(at) : data.getFloat32(at);
    if (bits === 8) return data.getInt8(at) / 128;
    if (bits === 16) return data.getInt16(at, littleEndian) / 32768;
    if (bits === 32) return data.getInt32(at, littleEndian) / 2147483648;
    const [high, middle, low] = littleEndian ? [at + 2, at + 1, at] : [at, at + 1, at + 2];
    return ((bytes[high] << 24) | (bytes[middle] << 16) | (bytes[low] << 8)) / 2147483648;
  };
  return picked.map((channel) =>
    Float32Array.from({ length: count }, (_, i) => sampleAt((i * channels + channel) * size)),
  );
}

function view(bytes: Uint8Array): DataView {
  return new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
}

function text(data: DataView, offset: number, length: number): string {
  return Array.from({ length }, (_, i) => String.fromCharCode(data.getUint8(offset + i))).join('');
}
