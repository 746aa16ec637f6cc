import { frameCount, type Clip, type Span } from '../../model/clip.ts';
import { Quantiser, ditheredSpans } from '../common/quantise.ts';
import { hasMarks, type SoundMarks } from '../common/soundMarks.ts';
import { ascii, chunk, join, words } from './chunks.ts';
import { markChunks } from './markChunks.ts';

export const WAV_DEPTHS = ['16', '24', '32f'] as const;
export type WavDepth = (typeof WAV_DEPTHS)[number];

export interface WavOptions {
  readonly depth: WavDepth;
  /** Frames from midnight to the first sample; written as a `bext` chunk. Not negative. */
  readonly timeReference?: number;
  /** Frames that get dither at 16 and 24 bits; all when left out. */
  readonly dithered?: readonly Span[];
  /** Loops, root note and markers. */
  readonly marks?: SoundMarks | undefined;
  /** Text for `LIST INFO`. */
  readonly info?: { readonly name?: string; readonly comment?: string };
}

export interface WavFormat extends WavOptions {
  readonly channels: number;
  readonly sampleRate: number;
}

const BYTES: Record<WavDepth, number> = { '16': 2, '24': 3, '32f': 4 };
const PIECE_FRAMES = 16384;

/** Writes a WAV file piece by piece. The same samples give the same bytes however they are cut. */
export class WavEncoder {
  private readonly quantiser: Quantiser | undefined;
  private readonly format: WavFormat;
  private readonly longest: number;
  private frames = 0;

  /** `longest` is the most frames that may come: what does not fit a RIFF file then becomes RF64 (EBU Tech 3306). */
  constructor(format: WavFormat, longest: number) {
    this.format = format;
    this.longest = longest;
    this.quantiser = format.depth === '32f' ? undefined : new Quantiser(format.depth, format.dithered);
  }

  /** Everything before the samples; always as long. Once all samples have come it is written again, as it then is. */
  header(frames = this.frames): Uint8Array {
    return wavHeader(frames, this.format, fileIsLong(this.longest, this.format));
  }

  encode(channels: readonly Float32Array[]): Uint8Array {
    this.frames += channels[0].length;
    return this.quantiser ? packed(this.quantiser.steps(channels), BYTES[this.format.depth]) : floats(channels);
  }

  /** What follows the last sample: a chunk is a whole number of words long. */
  padding(): Uint8Array {
    return new Uint8Array((this.frames * bytesPerFrame(this.format)) % 2);
  }
}

/** A WAV file as pieces of bytes, header first; dithered where it needs it. */
export function* encodeWav(clip: Clip, options: WavOptions): Generator<Uint8Array> {
  const frames = frameCount(clip);
  const { depth, dithered = depth === '32f' ? [] : ditheredSpans(clip, depth) } = options;
  const format = { ...options, dithered, channels: clip.channels.length, sampleRate: clip.sampleRate };
  const encoder = new WavEncoder(format, frames);
  yield encoder.header(frames);
  for (let from = 0; from < frames; from += PIECE_FRAMES)
    yield encoder.encode(clip.channels.map((samples) => samples.subarray(from, from + PIECE_FRAMES)));
  yield encoder.padding();
}

function floats(samples: readonly Float32Array[]): Uint8Array {
  const channels = samples.length;
  const count = samples[0].length;
  const view = new DataView(new ArrayBuffer(count * channels * 4));
  samples.forEach((side, c) => {
    for (let i = 0; i < count; i++) view.setFloat32((i * channels + c) * 4, side[i], true);
  });
  return new Uint8Array(view.buffer);
}

/** Steps as integers of two or three bytes. */
function packed(steps: Int32Array, size: number): Uint8Array {
  const bytes = new Uint8Array(steps.length * size);
  for (let i = 0, at = 0; i < steps.length; i++, at += size) {
    const step = steps[i];
    bytes[at] = step;
    bytes[at + 1] = step >> 8;
    if (size === 3) bytes[at + 2] = step >> 16;
  }
  return bytes;
}

function bytesPerFrame({ channels, depth }: WavFormat): number {
  return channels * BYTES[depth];
}

function fileIsLong(frames: number, format: WavFormat): boolean {
  return wavHeader(0, format, false).length + frames * bytesPerFrame(format) > 0xffffffff;
}

/** Everything before the samples, as RIFF or, when `long`, as RF64. */
function wavHeader(frames: number, format: WavFormat, long: boolean): Uint8Array {
  const { channels, sampleRate, depth } = format;
  const dataBytes = frames * bytesPerFrame(format);
  const floating = depth === '32f';
  const chunks = [
    chunk('fmt ', formatChunk(channels, sampleRate, BYTES[depth], floating)),
    ...(floating ? [chunk('fact', words([[4, Math.min(frames, 0xffffffff)]]))] : []),
    ...(format.timeReference === undefined ? [] : [chunk('bext', broadcastChunk(format.timeReference))]),
    ...(format.info ? [chunk('LIST', infoChunk(format.info))] : []),
    ...(format.marks && hasMarks(format.marks) ? markChunks(format.marks, sampleRate) : []),
  ];
  const beforeData = chunks.reduce((sum, bytes) => sum + bytes.length, 0);
  const riffBytes = 4 + beforeData + 8 + dataBytes + (dataBytes % 2);
  if (long) chunks.unshift(chunk('ds64', longSizes(riffBytes + 36, dataBytes, frames)));
  return join([
    ascii(long ? 'RF64' : 'RIFF', 4),
    words([[4, long ? 0xffffffff : riffBytes]]),
    ascii('WAVE', 4),
    ...chunks,
    ascii('data', 4),
    words([[4, long ? 0xffffffff : dataBytes]]),
  ]);
}

function formatChunk(channels: number, sampleRate: number, size: number, floating: boolean): Uint8Array {
  return words([
    [2, floating ? 3 : 1],
    [2, channels],
    [4, sampleRate],
    [4, sampleRate * channels * size],
    [2, channels * size],
    [2, size * 8],
    ...(floating ? ([[2, 0]] as [2, number][]) : []),
  ]);
}

/** EBU Tech 3285, version 1. Date and time stay empty so that the same render gives the same file. */
function broadcastChunk(timeReference: number): Uint8Array {
  const bytes = new Uint8Array(602);
  bytes.set(ascii('Hexenkessel', 32), 256);
  const view = new DataView(bytes.buffer);
  view.setBigUint64(338, BigInt(timeReference), true);
  view.setUint16(346, 1, true);
  return bytes;
}

function infoChunk(info: NonNullable<WavOptions['info']>): Uint8Array {
  const entries = [
    ['INAM', info.name],
    ['ICMT', info.comment],
    ['ISFT', 'Hexenkessel'],
  ].flatMap(([key, text]) => (text ? [chunk(key as string, new TextEncoder().encode(`${text}\0`))] : []));
  return join([ascii('INFO', 4), ...entries]);
}

function longSizes(riffBytes: number, dataBytes: number, frames: number): Uint8Array {
  const bytes = new Uint8Array(28);
  const view = new DataView(bytes.buffer);
  view.setBigUint64(0, BigInt(riffBytes), true);
  view.setBigUint64(8, BigInt(dataBytes), true);
  view.setBigUint64(16, BigInt(frames), true);
  return bytes;
}
