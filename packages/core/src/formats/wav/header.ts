/** Reads the chunks of a WAV file (RIFF; EBU Tech 3306 RF64; EBU Tech 3285 `bext`) and checks what they claim. */
import { InputError } from '../../model/errors.ts';
import { LIMITS } from '../../model/limits.ts';
import type { SoundMarks } from '../common/soundMarks.ts';
import { MarkReader } from './markChunks.ts';
import type { ByteSource } from '../common/byteSource.ts';

export type SampleFormat = 'u8' | 's16' | 's24' | 's32' | 'f32' | 'f64' | 'alaw' | 'ulaw';

export interface WavHeader {
  readonly sampleRate: number;
  readonly channels: number;
  readonly frames: number;
  readonly format: SampleFormat;
  /** Byte at which the samples begin. */
  readonly dataOffset: number;
  readonly bytesPerFrame: number;
  /** Frames from midnight to the first sample, from `bext`; undefined when the file does not say. */
  readonly timeReference: number | undefined;
  /** Loops, root note and markers. */
  readonly marks: SoundMarks;
  /** What was wrong with the file and did not keep it from being read. */
  readonly warning: string | undefined;
}

interface Format {
  readonly sampleRate: number;
  readonly channels: number;
  readonly sample: SampleFormat;
  readonly bytesPerFrame: number;
}

const UNKNOWN_SIZE = 0xffffffff;
const MARK_CHUNKS = ['smpl', 'cue ', 'LIST'];
const LONGEST_MARKS = 1 << 20;

/** InputError says what is wrong with the file and what is allowed. */
export async function readWavHeader(source: ByteSource): Promise<WavHeader> {
  if (source.size > LIMITS.soundBytes) {
    throw new InputError(`The file has ${source.size} bytes; at most ${LIMITS.soundBytes} (4 GiB) are allowed.`);
  }
  if (source.size < 12) throw new InputError(`This is not a WAV file: it has only ${source.size} bytes.`);
  const opening = await source.read(0, 12);
  const container = ascii(opening, 0, 4);
  if ((container !== 'RIFF' && container !== 'RF64') || ascii(opening, 8, 4) !== 'WAVE') {
    throw new InputError(`This is not a WAV file: it begins with ${printable(opening)}, a WAV file with RIFF…WAVE.`);
  }

  let format: Format | undefined;
  let longDataSize: number | undefined;
  let timeReference: number | undefined;
  let samples: { readonly start: number; readonly size: number } | undefined;
  let warning: string | undefined;
  const marks = new MarkReader();
  let offset = 12;
  while (offset + 8 <= source.size) {
    const head = view(await source.read(offset, 8));
    const name = ascii(bytesOf(head), 0, 4);
    const claimed = head.getUint32(4, true);
    const start = offset + 8;
    const left = source.size - start;
    if (name === 'data') {
      const told = container === 'RF64' && claimed === UNKNOWN_SIZE ? longDataSize : claimed;
      const { size, fault } = await sizeOfData(source, start, told);
      warning = fault;
      if (!format) throw new InputError('The WAV file is broken: its data comes before its format (fmt chunk).');
      samples = { start, size };
      offset = start + size + (size % 2);
      continue;
    }
    // Behind the samples nothing is needed any more: what is broken there ends the file.
    if (claimed > left && samples) break;
    if (claimed > left) {
      throw new InputError(
        `The WAV file is truncated or its header is wrong: the chunk "${name}" claims ${claimed} bytes, ${left} are there.`,
      );
    }
    if (name === 'fmt ') format = readFormat(view(await source.read(start, Math.min(claimed, 40))));
    else if (name === 'ds64' && claimed >= 24) longDataSize = readUint64(view(await source.read(start, 24)), 8);
    else if (name === 'bext' && claimed >= 346) timeReference = readUint64(view(await source.read(start + 338, 8)), 0);
    else if (MARK_CHUNKS.includes(name) && claimed <= LONGEST_MARKS)
      marks.read(name, await source.read(start, claimed));
    offset = start + claimed + (claimed % 2);
  }
  if (!format || !samples) throw new InputError('The WAV file is broken: it has no data chunk.');
  return finish(format, samples, timeReference, marks, warning);
}

/**
 * Bytes of samples that begin at `start`. A recorder that lost its power, and a program that writes into a pipe, leave no
 * size, or one that is larger than what is there: then all that is there counts, and it is said.
 */
async function sizeOfData(
  source: ByteSource,
  start: number,
  told: number | undefined,
): Promise<{ readonly size: number; readonly fault?: string }> {
  const left = source.size - start;
  if (told === undefined || told === UNKNOWN_SIZE || (told === 0 && left > 0 && !(await isChunk(source, start))))
    return { size: left, fault: 'The WAV file does not say how long it is; it was read to its end.' };
  if (told <= left) return { size: told };
  return {
    size: left,
    fault: `The WAV file is cut short: its data chunk claims ${told} bytes, ${left} are there; these were read.`,
  };
}

/** True where another chunk begins that fits into the file. */
async function isChunk(source: ByteSource, start: number): Promise<boolean> {
  if (source.size - start < 8) return false;
  const head = view(await source.read(start, 8));
  const isName = bytesOf(head)
    .subarray(0, 4)
    .every((byte) => byte >= 0x20 && byte < 0x7f);
  return isName && head.getUint32(4, true) <= source.size - start - 8;
}

function finish(
  format: Format,
  { start: dataOffset, size }: { readonly start: number; readonly size: number },
  timeReference: number | undefined,
  marks: MarkReader,
  warning: string | undefined,
): WavHeader {
  const frames = Math.floor(size / format.bytesPerFrame);
  if (frames === 0) throw new InputError('The WAV file holds 0 frames; at least 1 is needed.');
  return {
    sampleRate: format.sampleRate,
    channels: format.channels,
    frames,
    format: format.sample,
    dataOffset,
    bytesPerFrame: format.bytesPerFrame,
    timeReference,
    marks: marks.marks(frames),
    warning,
  };
}

function readFormat(chunk: DataView): Format {
  if (chunk.byteLength < 16) throw new InputError('The WAV file is broken: its format (fmt chunk) is too short.');
  const tag = chunk.getUint16(0, true);
  const code = tag === 0xfffe && chunk.byteLength >= 26 ? chunk.getUint16(24, true) : tag;
  const channels = chunk.getUint16(2, true);
  const sampleRate = chunk.getUint32(4, true);
  const bytesPerFrame = chunk.getUint16(12, true);
  const bits = chunk.getUint16(14, true);
  const sample = sampleFormat(code, bits);
  if (!sample) {
    throw new InputError(
      `The WAV file holds ${bits}-bit samples of format ${code}; allowed are PCM with 8, 16, 24 or 32 bits, float with 32 or 64, A-law and µ-law.`,
    );
  }
  if (channels < 1 || channels > LIMITS.fileChannels) {
    throw new InputError(
      `The WAV file has ${channels} channels; 1 to ${LIMITS.fileChannels} are allowed, of which one or two are taken.`,
    );
  }
  if (sampleRate < LIMITS.sampleRate.min || sampleRate > LIMITS.sampleRate.max) {
    throw new InputError(
      `The WAV file has a sample rate of ${sampleRate} Hz; allowed is ${LIMITS.sampleRate.min} to ${LIMITS.sampleRate.max} Hz.`,
    );
  }
  if (bytesPerFrame !== (channels * bits) / 8) {
    throw new InputError(
      `The WAV file is broken: a frame of ${channels} × ${bits} bits cannot have ${bytesPerFrame} bytes.`,
    );
  }
  return { sampleRate, channels, sample, bytesPerFrame };
}

function sampleFormat(code: number, bits: number): SampleFormat | undefined {
  if (code === 1) return ({ 8: 'u8', 16: 's16', 24: 's24', 32: 's32' } as const)[bits];
  if (code === 6 && bits === 8) return 'alaw';
  if (code === 7 && bits === 8) return 'ulaw';
  if (code === 3) return ({ 32: 'f32', 64: 'f64' } as const)[bits];
  return undefined;
}

function readUint64(data: DataView, offset: number): number {
  return Number(data.getBigUint64(offset, true));
}

function view(bytes: Uint8Array): DataView {
  return new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
}

function bytesOf(data: DataView): Uint8Array {
  return new Uint8Array(data.buffer, data.byteOffset, data.byteLength);
}

function ascii(bytes: Uint8Array, offset: number, length: number): string {
  return String.fromCharCode(...bytes.subarray(offset, offset + length));
}

function printable(bytes: Uint8Array): string {
  return `"${ascii(bytes, 0, 4).replace(/[^\x20-\x7e]/g, '?')}"`;
}
