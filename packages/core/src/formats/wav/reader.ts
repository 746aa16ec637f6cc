import { InputError } from '../../errors.ts';
import type { Clip } from '../../engine/clip.ts';
import type { ByteSource } from './byteSource.ts';
import { readWavHeader, type SampleFormat, type WavHeader } from './header.ts';

/** Frames read at once when a whole file is gone through. */
const PIECE_FRAMES = 65536;

/** Reads a WAV file piece by piece. */
export class WavReader {
  readonly header: WavHeader;
  private readonly source: ByteSource;

  private constructor(source: ByteSource, header: WavHeader) {
    this.source = source;
    this.header = header;
  }

  /** InputError when the file is not a WAV file that can be read. */
  static async open(source: ByteSource): Promise<WavReader> {
    return new WavReader(source, await readWavHeader(source));
  }

  /** `count` frames from frame `from`, one array a channel, full scale = ±1. InputError for samples that are not numbers. */
  async read(from: number, count: number): Promise<Float32Array[]> {
    const { dataOffset, bytesPerFrame, channels, format } = this.header;
    const bytes = await this.source.read(dataOffset + from * bytesPerFrame, count * bytesPerFrame);
    const samples = Array.from({ length: channels }, () => new Float32Array(count));
    decode(bytes, format, samples);
    if (format === 'f32' || format === 'f64') refuseNonFinite(samples, from);
    return samples;
  }

  /** Goes through the whole file in pieces. */
  async *pieces(): AsyncGenerator<{ from: number; samples: Float32Array[] }> {
    for (let from = 0; from < this.header.frames; from += PIECE_FRAMES) {
      yield { from, samples: await this.read(from, Math.min(PIECE_FRAMES, this.header.frames - from)) };
    }
  }

  /** The whole sound in memory, origin 0. */
  async readClip(): Promise<Clip> {
    const { frames, channels, sampleRate } = this.header;
    const whole = Array.from({ length: channels }, () => new Float32Array(frames));
    for await (const { from, samples } of this.pieces()) samples.forEach((piece, c) => whole[c].set(piece, from));
    return { sampleRate, origin: 0, channels: whole };
  }
}

function decode(bytes: Uint8Array, format: SampleFormat, into: readonly Float32Array[]): void {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const read = READERS[format];
  const size = BYTES[format];
  const channels = into.length;
  for (let c = 0; c < channels; c++) {
    const samples = into[c];
    for (let i = 0; i < samples.length; i++) samples[i] = read(view, (i * channels + c) * size);
  }
}

const BYTES: Record<SampleFormat, number> = { u8: 1, s16: 2, s24: 3, s32: 4, f32: 4, f64: 8 };

const READERS: Record<SampleFormat, (view: DataView, at: number) => number> = {
  u8: (view, at) => (view.getUint8(at) - 128) / 128,
  s16: (view, at) => view.getInt16(at, true) / 32768,
  s24: (view, at) => (view.getUint16(at, true) + view.getInt8(at + 2) * 65536) / 8388608,
  s32: (view, at) => view.getInt32(at, true) / 2147483648,
  f32: (view, at) => view.getFloat32(at, true),
  f64: (view, at) => view.getFloat64(at, true),
};

function refuseNonFinite(samples: readonly Float32Array[], from: number): void {
  for (let c = 0; c < samples.length; c++) {
    const bad = samples[c].findIndex((sample) => !Number.isFinite(sample));
    if (bad >= 0) {
      throw new InputError(
        `The WAV file holds a sample that is not a number (frame ${from + bad}, channel ${c + 1}); every sample must be finite.`,
      );
    }
  }
}
