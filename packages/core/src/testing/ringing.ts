import { transform } from './spectrum.ts';

/**
 * How far a decay rings: power spectra of 16 windows of 0.35 s spread from 0.3 to 1.2 decay times, each levelled by its
 * third-octave mean, then averaged; the largest excess from 150 Hz to 10 kHz in dB. Decaying noise gives about 4.
 */
export function ringing(samples: ArrayLike<number>, sampleRate: number, decay: number): number {
  const count = Math.floor(0.35 * sampleRate);
  // Padded to a power of two: bins between those of the window itself hold nothing new.
  let size = 1;
  while (size < count) size *= 2;
  const hertz = sampleRate / size;
  const bins = size / 2;
  const total = new Float64Array(bins);
  for (let n = 0; n < 16; n++) {
    const start = Math.floor((0.3 * decay + (n / 15) * (0.9 * decay - 0.35)) * sampleRate);
    const re = new Float64Array(size);
    const im = new Float64Array(size);
    for (let i = 0; i < count; i++)
      re[i] = (samples[start + i] ?? 0) * (0.5 - 0.5 * Math.cos((2 * Math.PI * i) / (count - 1)));
    transform(re, im);
    const sums = new Float64Array(bins + 1);
    for (let k = 0; k < bins; k++) sums[k + 1] = sums[k] + re[k] ** 2 + im[k] ** 2;
    for (let k = 1; k < bins; k++) {
      const from = Math.ceil(k / 2 ** (1 / 6));
      const to = Math.min(bins, Math.ceil(k * 2 ** (1 / 6)));
      total[k] += (sums[k + 1] - sums[k]) / ((sums[to] - sums[from]) / (to - from) + 1e-300);
    }
  }
  let most = 0;
  for (let k = Math.ceil(150 / hertz); k < Math.min(bins, 10_000 / hertz); k++) most = Math.max(most, total[k] / 16);
  return 10 * Math.log10(most);
}
