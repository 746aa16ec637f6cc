import { settled } from './settled.ts';

/** Coefficients of H(z) = (b0 + b1 z⁻¹ + b2 z⁻²) / (1 + a1 z⁻¹ + a2 z⁻²). */
export interface BiquadCoefficients {
  b0: number;
  b1: number;
  b2: number;
  a1: number;
  a2: number;
}

/** One second-order section in transposed direct form II, 64-bit state. */
export class Biquad {
  private s1 = 0;
  private s2 = 0;
  private readonly coefficients: BiquadCoefficients;

  constructor(coefficients: BiquadCoefficients) {
    this.coefficients = coefficients;
  }

  reset(): void {
    this.s1 = 0;
    this.s2 = 0;
  }

  /** Filters `frames` frames of `samples` in place. */
  process(samples: Float32Array | Float64Array, frames: number): void {
    const { b0, b1, b2, a1, a2 } = this.coefficients;
    let s1 = this.s1;
    let s2 = this.s2;
    for (let i = 0; i < frames; i++) {
      const x = samples[i];
      const y = b0 * x + s1;
      s1 = b1 * x - a1 * y + s2;
      s2 = b2 * x - a2 * y;
      samples[i] = y;
    }
    this.s1 = settled(s1);
    this.s2 = settled(s2);
  }
}
