import type { Clip } from '../model/clip.ts';
import { decibelsToGain } from '../dsp/portableMath.ts';

/** Largest absolute sample over all channels. */
export function peakOf(clip: Clip): number {
  let peak = 0;
  for (const samples of clip.channels) {
    for (let i = 0; i < samples.length; i++) {
      const size = Math.abs(samples[i]);
      if (size > peak) peak = size;
    }
  }
  return peak;
}

/** First and last index whose sample exceeds `threshold` in any channel; undefined for silence. */
export function soundingRange(clip: Clip, threshold: number): { first: number; last: number } | undefined {
  let first = Infinity;
  let last = -1;
  for (const samples of clip.channels) {
    let i = 0;
    while (i < samples.length && !(Math.abs(samples[i]) > threshold)) i++;
    if (i === samples.length) continue;
    first = Math.min(first, i);
    let j = samples.length - 1;
    while (!(Math.abs(samples[j]) > threshold)) j--;
    last = Math.max(last, j);
  }
  return last < 0 ? undefined : { first, last };
}

const AUDIBLE = decibelsToGain(-60);

/** Where the sound begins and ends: the first and last index above −60 dB of its own peak; undefined for silence. */
export function audibleRange(clip: Clip): { first: number; last: number } | undefined {
  return soundingRange(clip, peakOf(clip) * AUDIBLE);
}
