import type { Random } from './random.ts';
import type { Ramp } from '../model/ramp.ts';
import { SINE, SINE_POINTS } from './sineTable.ts';

export const LFO_SHAPES = ['sine', 'triangle', 'square', 'random'] as const;
export type LfoShape = (typeof LFO_SHAPES)[number];

/** Seconds that the edges of a square take at least, so that it moves without a click. */
const EDGE_SECONDS = 0.004;
const VALUES = 64;

/**
 * A slow movement of 0…1 that begins at 1 and is read at up to two places of its turn at once. `random` passes smoothly
 * from one seeded value to the next, one a turn.
 */
export class Lfo {
  private readonly sampleRate: number;
  /** Cycles since frame 0. */
  private turns = 0;
  private fresh = true;
  private readonly values: Float64Array;

  constructor(sampleRate: number, random: Random) {
    this.sampleRate = sampleRate;
    this.values = Float64Array.from({ length: VALUES }, () => random());
  }

  reset(): void {
    this.turns = 0;
    this.fresh = true;
  }

  /**
   * Before its first block since it was made or reset: puts it where it would be had it run from frame 0 on at `rate`, in Hz.
   */
  begin(position: number, rate: number): void {
    if (!this.fresh) return;
    this.fresh = false;
    this.turns = (rate * position) / this.sampleRate;
  }

  /** Writes `frames` values as they are `offset` turns on. The same block may be read again before `advance`. */
  read(into: Float64Array, frames: number, shape: LfoShape, rate: Ramp, offset: Ramp): void {
    let step = rate.start / this.sampleRate;
    const growth = (rate.end - rate.start) / this.sampleRate / frames;
    const moved = (offset.end - offset.start) / frames;
    let turns = this.turns + offset.start;
    const { values } = this;
    const edge = Math.min(0.2, Math.max(rate.start, rate.end) * EDGE_SECONDS);
    for (let i = 0; i < frames; i++) {
      const whole = Math.floor(turns);
      const phase = turns - whole;
      if (shape === 'sine') {
        const place = (phase < 0.75 ? phase + 0.25 : phase - 0.75) * SINE_POINTS;
        const at = place | 0;
        into[i] = 0.5 + 0.5 * (SINE[at] + (place - at) * (SINE[at + 1] - SINE[at]));
      } else if (shape === 'triangle') {
        into[i] = Math.abs(1 - 2 * phase);
      } else if (shape === 'square') {
        const t = phase < 0.5 ? phase / edge : (phase - 0.5) / edge;
        const s = t >= 1 ? 1 : t * t * (3 - 2 * t);
        into[i] = phase < 0.5 ? s : 1 - s;
      } else {
        const from = values[whole & (VALUES - 1)];
        const to = values[(whole + 1) & (VALUES - 1)];
        into[i] = from + (to - from) * (phase * phase * (3 - 2 * phase));
      }
      turns += step + moved;
      step += growth;
    }
  }

  /** Moves on by a block. */
  advance(frames: number, rate: Ramp): void {
    this.turns += (0.5 * (rate.start + rate.end) * frames) / this.sampleRate;
  }
}
