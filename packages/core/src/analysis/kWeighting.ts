import { PI, pow, tan } from '../dsp/portableMath.ts';
import type { BiquadCoefficients } from '../dsp/biquad.ts';

/**
 * The two filters of ITU-R BS.1770 for any sample rate. The standard prints coefficients for 48 kHz; these are the
 * analogue prototypes behind them, put through the bilinear transform, and equal the printed ones at 48 kHz.
 */
export function kWeighting(sampleRate: number): [BiquadCoefficients, BiquadCoefficients] {
  return [headShelf(sampleRate), lowCut(sampleRate)];
}

function headShelf(sampleRate: number): BiquadCoefficients {
  const k = tan((PI * 1681.974450955533) / sampleRate);
  const q = 0.7071752369554196;
  const high = pow(10, 3.999843853973347 / 20);
  const middle = pow(high, 0.4996667741545416);
  const a0 = 1 + k / q + k * k;
  return {
    b0: (high + (middle * k) / q + k * k) / a0,
    b1: (2 * (k * k - high)) / a0,
    b2: (high - (middle * k) / q + k * k) / a0,
    a1: (2 * (k * k - 1)) / a0,
    a2: (1 - k / q + k * k) / a0,
  };
}

function lowCut(sampleRate: number): BiquadCoefficients {
  const k = tan((PI * 38.13547087602444) / sampleRate);
  const q = 0.5003270373238773;
  const a0 = 1 + k / q + k * k;
  return { b0: 1, b1: -2, b2: 1, a1: (2 * (k * k - 1)) / a0, a2: (1 - k / q + k * k) / a0 };
}
