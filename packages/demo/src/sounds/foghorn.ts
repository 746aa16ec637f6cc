import { createRandom, type Clip } from '@hexenkessel/core/model';
import { addWave, arch, resonantNoise, silence, softSaw, sweep, toPeak } from '../synth.ts';

/** Two blasts of a low horn, the second a minor third lower. */
export function foghorn(): Clip {
  const clip = silence(5.4, 1);
  const random = createRandom(11);
  for (const [start, length, pitch] of [
    [0.15, 2.1, 116],
    [2.6, 2.5, 97.5],
  ]) {
    const swell = arch(length, 0.18, 0.5);
    const breath = resonantNoise(random, 640, 300);
    addWave(
      clip,
      start,
      length,
      0,
      sweep(
        (t) => pitch * (1 - 0.03 * Math.max(0, 1 - t * 6)),
        (t) => 0.6 * swell(t),
        softSaw(18),
      ),
    );
    addWave(
      clip,
      start,
      length,
      0,
      sweep(
        () => pitch * 1.004,
        (t) => 0.35 * swell(t),
        softSaw(9),
      ),
    );
    addWave(clip, start, length, 0, (t) => 0.8 * swell(t) * breath());
  }
  return toPeak(clip, 0.8);
}
