import { createRandom, type Clip } from '@hexenkessel/core/model';
import { addWave, ping, resonantNoise, silence, toPeak } from '../synth.ts';

/** Drops on a tin roof over a soft rush of rain. */
export function rainOnTin(): Clip {
  const clip = silence(6, 2);
  const random = createRandom(23);
  const left = resonantNoise(random, 3200, 2500);
  const right = resonantNoise(random, 2900, 2500);
  addWave(clip, 0, 6, -1, () => 0.25 * left());
  addWave(clip, 0, 6, 1, () => 0.25 * right());
  for (let at = 0; at < 5.9; at += 0.004 + 0.05 * random() * random()) {
    const size = random() * random();
    const pitch = 900 + 4200 * random();
    addWave(clip, at, 0.09, 2 * random() - 1, ping(pitch, 0.05 + 0.6 * size, 0.004 + 0.014 * size, 0.0004));
  }
  return toPeak(clip, 0.6);
}
