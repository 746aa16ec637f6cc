import { TAU, createRandom, keyToFrequency, sin, type Clip } from '@hexenkessel/core/model';
import { addWave, arch, resonantNoise, silence, toPeak } from '../synth.ts';

/** Strings stirred by wind: narrow bands of noise that rise and sink in turn. */
export function windHarp(): Clip {
  const seconds = 8;
  const clip = silence(seconds, 2);
  const random = createRandom(41);
  const whole = arch(seconds, 0.8, 1.2);
  [45, 52, 57, 61, 64, 69, 73].forEach((key, k) => {
    const string = resonantNoise(random, keyToFrequency(key), 1.6);
    const octave = resonantNoise(random, 2 * keyToFrequency(key), 3);
    const speed = 0.09 + 0.11 * random();
    const offset = random();
    addWave(clip, 0, seconds, -0.8 + 0.27 * k, (t) => {
      const gust = 0.5 + 0.5 * sin(TAU * (speed * t + offset));
      return whole(t) * gust * gust * (string() + 0.3 * octave());
    });
  });
  return toPeak(clip, 0.7);
}
