import { RealFft } from './realFft.ts';

/** The most that an impulse response makes of any tone: the highest magnitude of its spectrum. */
export function greatestGain(response: ArrayLike<number>): number {
  let size = 4;
  // Twice as long, so that no peak falls between two bins by more than a dB.
  while (size < 2 * response.length) size *= 2;
  const samples = new Float64Array(size);
  for (let i = 0; i < response.length; i++) samples[i] = response[i];
  const re = new Float64Array(size / 2 + 1);
  const im = new Float64Array(size / 2 + 1);
  new RealFft(size).forward(samples, re, im);
  let most = 0;
  for (let k = 0; k < re.length; k++) most = Math.max(most, re[k] * re[k] + im[k] * im[k]);
  return Math.sqrt(most);
}
