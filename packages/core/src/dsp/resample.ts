import { kaiser } from './kaiser.ts';
import { PI, sin } from './portableMath.ts';

/** Zero crossings of the kernel on either side at the lower of the two rates. */
const CROSSINGS = 48;
/** Places between two zero crossings that the kernel is worked out for; read in straight lines between them. */
const FINENESS = 512;
/** Kaiser window: 110 dB. */
const BETA = 11;
/** Share of the lower rate's band that passes: flat to 0.45 of the rate, gone at half of it. */
const BAND = 0.95;

let kernel: Float64Array | undefined;

/**
 * Reads a sound between its samples, by a windowed sinc evaluated at every place (J. O. Smith, "Digital audio
 * resampling", 2002). `density` is the number of frames written for each frame of the sound that is passed: below 1 the
 * band is narrowed as far, so that nothing folds. Flat to 0.45 of the lower rate, images and aliases below −96 dB.
 */
export function readBetween(samples: Float32Array, place: number, density: number): number {
  const table = (kernel ??= kernelTable());
  const scale = BAND * (density < 1 ? density : 1);
  const reach = CROSSINGS / scale;
  const first = Math.max(0, Math.ceil(place - reach));
  const last = Math.min(samples.length - 1, Math.floor(place + reach));
  let sum = 0;
  for (let k = first; k <= last; k++) {
    const at = Math.abs(place - k) * scale * FINENESS;
    const whole = at | 0;
    sum += samples[k] * (table[whole] + (at - whole) * (table[whole + 1] - table[whole]));
  }
  return sum * scale;
}

/** A sound at another rate. `ratio` is the new rate by the old one. */
export function resample(samples: Float32Array, ratio: number): Float32Array {
  if (ratio === 1) return samples;
  const out = new Float32Array(Math.max(1, Math.round(samples.length * ratio)));
  for (let i = 0; i < out.length; i++) out[i] = readBetween(samples, i / ratio, ratio);
  return out;
}

/** What the resampler is, for those who want to know. */
export const RESAMPLER = 'windowed sinc, 96 taps at the lower rate, Kaiser 110 dB, flat to 0.45 of it';

function kernelTable(): Float64Array {
  const points = CROSSINGS * FINENESS;
  return Float64Array.from({ length: points + 2 }, (_, i) => {
    const x = i / FINENESS;
    const t = i / points;
    if (t >= 1) return 0;
    return i === 0 ? 1 : (kaiser(t, BETA) * sin(PI * x)) / (PI * x);
  });
}
