import type { BiquadCoefficients } from './biquad.ts';
import { TAU, cos, exp, sin } from './portableMath.ts';

export const BAND_TYPES = ['off', 'bell', 'low shelf', 'high shelf', 'low cut', 'high cut', 'notch'] as const;
export type BandType = (typeof BAND_TYPES)[number];

const LN10 = 2.302585092994046;

/**
 * Writes the second-order section of a band into `into`, by the "Audio EQ Cookbook" (R. Bristow-Johnson; W3C working
 * group note, 2021). `frequency` in Hz, `gain` in dB where the type has one.
 */
export function cookbook(
  type: BandType,
  frequency: number,
  gain: number,
  q: number,
  sampleRate: number,
  into: BiquadCoefficients,
): void {
  const w = (TAU * Math.min(frequency, 0.49 * sampleRate)) / sampleRate;
  const c = cos(w);
  const alpha = sin(w) / (2 * q);
  const A = exp((gain * LN10) / 40);
  switch (type) {
    case 'off':
      return set(into, 1, 0, 0, 1, 0, 0);
    case 'bell':
      return set(into, 1 + alpha * A, -2 * c, 1 - alpha * A, 1 + alpha / A, -2 * c, 1 - alpha / A);
    case 'notch':
      return set(into, 1, -2 * c, 1, 1 + alpha, -2 * c, 1 - alpha);
    case 'low cut':
      return set(into, (1 + c) / 2, -1 - c, (1 + c) / 2, 1 + alpha, -2 * c, 1 - alpha);
    case 'high cut':
      return set(into, (1 - c) / 2, 1 - c, (1 - c) / 2, 1 + alpha, -2 * c, 1 - alpha);
    case 'low shelf': {
      const r = 2 * Math.sqrt(A) * alpha;
      return set(
        into,
        A * (A + 1 - (A - 1) * c + r),
        2 * A * (A - 1 - (A + 1) * c),
        A * (A + 1 - (A - 1) * c - r),
        A + 1 + (A - 1) * c + r,
        -2 * (A - 1 + (A + 1) * c),
        A + 1 + (A - 1) * c - r,
      );
    }
    case 'high shelf': {
      const r = 2 * Math.sqrt(A) * alpha;
      return set(
        into,
        A * (A + 1 + (A - 1) * c + r),
        -2 * A * (A - 1 + (A + 1) * c),
        A * (A + 1 + (A - 1) * c - r),
        A + 1 - (A - 1) * c + r,
        2 * (A - 1 - (A + 1) * c),
        A + 1 - (A - 1) * c - r,
      );
    }
  }
}

function set(into: BiquadCoefficients, b0: number, b1: number, b2: number, a0: number, a1: number, a2: number): void {
  into.b0 = b0 / a0;
  into.b1 = b1 / a0;
  into.b2 = b2 / a0;
  into.a1 = a1 / a0;
  into.a2 = a2 / a0;
}

/** Magnitude of a second-order section at a frequency in Hz. */
export function magnitudeAt({ b0, b1, b2, a1, a2 }: BiquadCoefficients, frequency: number, sampleRate: number): number {
  const w = (TAU * frequency) / sampleRate;
  const c1 = cos(w);
  const s1 = sin(w);
  const c2 = cos(2 * w);
  const s2 = sin(2 * w);
  const above = (b0 + b1 * c1 + b2 * c2) ** 2 + (b1 * s1 + b2 * s2) ** 2;
  const below = (1 + a1 * c1 + a2 * c2) ** 2 + (a1 * s1 + a2 * s2) ** 2;
  return Math.sqrt(above / below);
}
