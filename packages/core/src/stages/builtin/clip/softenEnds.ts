import { fadeGain } from '../../../dsp/fadeCurve.ts';

/** Lets channels rise at their beginning and fall at their end, in place; never over more than half of them. */
export function softenEnds(channels: readonly Float32Array[], frames: number, start = true, end = true): void {
  for (const samples of channels) {
    const count = Math.min(frames, samples.length >> 1);
    for (let i = 0; i < count; i++) {
      const gain = fadeGain('s-shaped', i / count);
      if (start) samples[i] *= gain;
      if (end) samples[samples.length - 1 - i] *= gain;
    }
  }
}
