import type { Clip } from '@hexenkessel/core/model';
import { BEAT, addWave, arch, silence, sweep, toPeak } from '../synth.ts';
import { keyToFrequency, sin } from '@hexenkessel/core/model';

/** Four chords of rubbed glass, two beats each. */
export function glassHarmonica(): Clip {
  const clip = silence(8 * BEAT + 0.6, 2);
  const chords = [
    [57, 64, 69, 72],
    [53, 60, 69, 72],
    [55, 62, 67, 71],
    [52, 59, 67, 76],
  ];
  chords.forEach((keys, c) => {
    const length = 2 * BEAT + 0.5;
    keys.forEach((key, k) => {
      const swell = arch(length, 0.28 + 0.05 * k, 0.6);
      for (const [partial, gain] of [
        [1, 1],
        [2.004, 0.22],
        [3.01, 0.08],
      ]) {
        const pitch = keyToFrequency(key) * partial;
        addWave(
          clip,
          2 * c * BEAT,
          length,
          -0.6 + 0.4 * k,
          sweep(
            () => pitch,
            (t) => gain * swell(t) * (1 + 0.12 * sin(31 * t + k)),
          ),
        );
      }
    });
  });
  return toPeak(clip, 0.7);
}
