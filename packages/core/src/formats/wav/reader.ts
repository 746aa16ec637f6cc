import { InputError } from '../../model/errors.ts';
import type { Clip } from '../../model/clip.ts';
import type { FrameSource } from '../../model/frameSource.ts';
import { LIMITS } from '../../model/limits.ts';
import type { ByteSource } from '../common/byteSource.ts';
import { pickedChannels } from '../common/pickedChannels.ts';
import type { SoundMarks } from '../common/soundMarks.ts';
import { A_LAW, MU_LAW } from './companding.ts';
import { readWavHeader, type SampleFormat, type WavHeader } from './header.ts';

/** Frames read at once when a whole file is gone through. */
const PIECE_FRAMES = 65536;

/** A sound that can be read from any place, and what its file says of it. */
export interface SoundReader extends FrameSource {
  /** Frames from midnight to its first; undefined when the file does not say. */
  readonly timeReference: number | undefined;
  readonly marks: SoundMarks;
  /** What was wrong with the file and did not keep it from being read. */
  readonly warning?: string | undefined;
  /** How its samples are kept, in short. */
  readonly format: string;
  /** The whole sound in memory, origin 0. InputError when it is longer than a clip may be. */
  readClip(): Promise<Clip>;
}

/** Reads a WAV file piece by piece. */
export class WavReader implements SoundReader {
  readonly header: WavHeader;
  private readonly source: ByteSource;

  /** Which of the file's channels are read, from 0. */
  private readonly picked: readonly number[];

  private constructor(source: ByteSource, header: WavHeader, picked: readonly number[]) {
    this.source = source;
    this.header = header;
    this.picked = picked;
  }

  /** `picked`: one or two of the file's channels, from 0. InputError when the file is not a WAV file that can be read. */
  static async open(source: ByteSource, picked?: readonly number[]): Promise<WavReader> {
    const header = await readWavHeader(source);
    return new WavReader(source, header, pickedChannels(header.channels, picked));
  }

  get sampleRate(): number {
    return this.header.sampleRate;
  }

  get channels(): number {
    return this.picked.length;
  }

  get frames(): number {
    return this.header.frames;
  }

  get timeReference(): number | undefined {
    return this.header.timeReference;
  }

  get marks(): SoundMarks {
    return this.header.marks;
  }

  get warning(): string | undefined {
    return this.header.warning;
  }

  get format(): string {
    return this.header.format;
  }

  /** `count` frames from frame `from`, one array a channel, full scale = ±1. InputError for samples that are not numbers. */
  async read(from: number, count: number): Promise<Float32Array[]> {
    const { dataOffset, bytesPerFrame, channels: all, format } = this.header;
    const bytes = await this.source.read(dataOffset + from * bytesPerFrame, count * bytesPerFrame);
    const samples = this.picked.map(() => new Float32Array(count));
    decodeFrames(bytes, format, samples, all, this.picked);
    if (format === 'f32' || format === 'f64') refuseNonFinite(samples, from);
    return samples;
  }

  /** Goes through the whole file in pieces. */
  async *pieces(): AsyncGenerator<{ from: number; samples: Float32Array[] }> {
    for (let from = 0; from < this.header.frames; from += PIECE_FRAMES) {
      yield { from, samples: await this.read(from, Math.min(PIECE_FRAMES, this.header.frames - from)) };
    }
  }

  async readClip(): Promise<Clip> {
    const { frames, sampleRate } = this.header;
    const { channels } = this;
    refuseLongClip(frames, channels);
    const whole = Array.from({ length: channels }, () => new Float32Array(frames));
    for await (const { from, samples } of this.pieces()) samples.forEach((piece, c) => whole[c].set(piece, from));
    return { sampleRate, origin: 0, channels: whole };
  }
}

/** InputError for a sound that is too long to be held whole. */
export function refuseLongClip(frames: number, channels: number): void {
  if (frames * channels <= LIMITS.clipSamples) return;
  throw new InputError(
    `The sound has ${frames} frames × ${channels} channels; allowed are ${LIMITS.clipSamples} samples (30 minutes of stereo at 48 kHz).`,
  );
}

/**
 * Interleaved bytes of `all` channels to one array for each that is picked. A loop a format: a call a sample would take
 * longer than the rest of a render.
 */
function decodeFrames(
  bytes: Uint8Array,
  format: SampleFormat,
  into: readonly Float32Array[],
  all: number,
  picked: readonly number[],
): void {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  into.forEach((samples, n) => {
    const count = samples.length;
    const c = picked[n];
    if (format === 'u8') for (let i = 0; i < count; i++) samples[i] = (bytes[i * all + c] - 128) / 128;
    else if (format === 's16') {
      for (let i = 0; i < count; i++) samples[i] = view.getInt16((i * all + c) * 2, true) / 32768;
    } else if (format === 's24') {
      for (let i = 0; i < count; i++) {
        const at = (i * all + c) * 3;
        samples[i] = ((bytes[at] << 8) | (bytes[at + 1] << 16) | (bytes[at + 2] << 24)) / 2147483648;
      }
    } else if (format === 'alaw' || format === 'ulaw') {
      const steps = format === 'alaw' ? A_LAW : MU_LAW;
      for (let i = 0; i < count; i++) samples[i] = steps[bytes[i * all + c]];
    } else if (format === 's32') {
      for (let i = 0; i < count; i++) samples[i] = view.getInt32((i * all + c) * 4, true) / 2147483648;
    } else if (format === 'f32') {
      for (let i = 0; i < count; i++) samples[i] = view.getFloat32((i * all + c) * 4, true);
    } else for (let i = 0; i < count; i++) samples[i] = view.getFloat64((i * all + c) * 8, true);
  });
}

function refuseNonFinite(samples: readonly Float32Array[], from: number): void {
  for (let c = 0; c < samples.length; c++) {
    let sum = 0;
    for (let i = 0; i < samples[c].length; i++) sum += samples[c][i] * 0; // stays 0 unless one is NaN or infinite
    if (sum !== 0) {
      const bad = samples[c].findIndex((sample) => !Number.isFinite(sample));
      throw new InputError(
        `The WAV file contains a NaN or infinite sample (frame ${from + bad}, channel ${c + 1}); every sample must be finite.`,
      );
    }
  }
}
