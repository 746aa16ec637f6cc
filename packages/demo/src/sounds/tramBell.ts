import type { Clip } from '@hexenkessel/core/model';
import { addWave, ping, silence, toPeak } from '../synth.ts';

/** A bell struck twice; its partials are those of a small cast bell. */
export function tramBell(): Clip {
  const clip = silence(3.2, 2);
  for (const [start, strength] of [
    [0.05, 1],
    [0.42, 0.7],
  ]) {
    for (const [ratio, gain, decay, pan] of [
      [0.5, 0.35, 0.9, 0],
      [1, 1, 0.75, -0.2],
      [1.19, 0.6, 0.6, 0.3],
      [1.51, 0.4, 0.45, -0.4],
      [2.0, 0.7, 0.4, 0.2],
      [2.74, 0.35, 0.2, -0.3],
      [3.76, 0.3, 0.12, 0.4],
      [5.4, 0.2, 0.05, 0],
    ]) {
      addWave(clip, start, 3.2 - start, pan, ping(1180 * ratio, strength * gain, decay));
    }
  }
  return toPeak(clip, 0.85);
}
