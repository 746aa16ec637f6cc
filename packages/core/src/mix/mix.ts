import { InputError } from '../model/errors.ts';
import type { FrameSource } from '../model/frameSource.ts';
import { LIMITS } from '../model/limits.ts';

/** One of the sounds that are mixed. */
export interface MixPart {
  /** Of the rate of the mix. */
  readonly source: FrameSource;
  /** The frame of the mix at which it begins, 0 or later. */
  readonly at: number;
  /** A factor; 0: it is muted. */
  readonly gain: number;
}

const PIECE_FRAMES = 16_384;
/** More than a file needs before its samples. */
const HEADER_BYTES = 4096;

/**
 * Several sounds added up. A mono sound is as loud in both channels of a stereo mix as it is alone; nothing is limited. A
 * muted one keeps its place, so that a mix is as long with it as without.
 */
export class Mix {
  readonly sampleRate: number;
  readonly channels: number;
  readonly frames: number;
  private readonly parts: readonly MixPart[];

  /** InputError when there is none, or the mix would be longer than a sound may be. */
  constructor(parts: readonly MixPart[]) {
    if (parts.length === 0) throw new InputError('A mix needs at least one sound.');
    this.parts = parts;
    this.sampleRate = parts[0].source.sampleRate;
    this.channels = Math.max(...parts.map(({ source }) => source.channels));
    this.frames = Math.max(...parts.map(({ source, at }) => at + source.frames));
    const longest = Math.min(
      LIMITS.soundSeconds * this.sampleRate,
      Math.floor((LIMITS.soundBytes - HEADER_BYTES) / (4 * this.channels)),
    );
    const hours = (frames: number) => (frames / this.sampleRate / 3600).toFixed(1);
    if (this.frames > longest)
      throw new InputError(
        `The mix would be ${hours(this.frames)} hours long, as its sounds lie that far apart; ${hours(longest)} are allowed.`,
      );
  }

  /** The mix, one array a channel. */
  async *pieces(): AsyncGenerator<Float32Array[]> {
    for (let from = 0; from < this.frames; from += PIECE_FRAMES)
      yield await this.piece(from, Math.min(PIECE_FRAMES, this.frames - from));
  }

  private async piece(from: number, count: number): Promise<Float32Array[]> {
    const sums = Array.from({ length: this.channels }, () => new Float64Array(count));
    for (const { source, at, gain } of this.parts) {
      const start = Math.max(from, at);
      const end = Math.min(from + count, at + source.frames);
      if (gain === 0 || end <= start) continue;
      const samples = await source.read(start - at, end - start);
      sums.forEach((sum, c) => add(sum, samples[Math.min(c, samples.length - 1)], start - from, gain));
    }
    return sums.map((sum) => Float32Array.from(sum));
  }
}

function add(sum: Float64Array, samples: Float32Array, at: number, gain: number): void {
  for (let i = 0; i < samples.length; i++) sum[at + i] += gain * samples[i];
}
