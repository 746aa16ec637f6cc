import { decibelsToGain } from './portableMath.ts';
import type { Ramp } from '../model/ramp.ts';

/** The gain of a level in dB that moves from block to block; worked out only when it has moved. */
export class GainRamp implements Ramp {
  start = NaN;
  end = NaN;
  private decibels = NaN;

  /** Begins again at the next level. */
  reset(): void {
    this.decibels = NaN;
    this.end = NaN;
  }

  /** Moves on by a block to the level at its end. */
  advance(decibels: number): void {
    this.start = this.end;
    if (decibels !== this.decibels) {
      this.decibels = decibels;
      this.end = decibelsToGain(decibels);
    }
    if (Number.isNaN(this.start)) this.start = this.end;
  }

  /** Multiplies `samples` in place. */
  apply(samples: Float32Array | Float64Array, frames: number): void {
    const step = (this.end - this.start) / frames;
    if (step === 0 && this.end === 1) return;
    let gain = this.start;
    for (let i = 0; i < frames; i++) {
      samples[i] *= gain;
      gain += step;
    }
  }
}
