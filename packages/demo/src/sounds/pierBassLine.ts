import { exp, keyToFrequency, type Clip } from '@hexenkessel/core/model';
import { BEAT, addWave, arch, silence, softSaw, sweep, toPeak } from '../synth.ts';

/** Two bars of a plucked bass. Each entry: beat, length in beats, MIDI key. */
const NOTES = [
  [0, 0.9, 33],
  [1, 0.4, 33],
  [1.5, 0.9, 36],
  [2.5, 0.5, 40],
  [3, 0.9, 38],
  [4, 0.9, 29],
  [5, 0.4, 29],
  [5.5, 0.9, 36],
  [6.5, 0.5, 33],
  [7, 0.9, 31],
];

export function pierBassLine(): Clip {
  const clip = silence(8 * BEAT, 1);
  for (const [beat, beats, key] of NOTES) {
    const length = beats * BEAT;
    const pitch = keyToFrequency(key);
    const edge = arch(length, 0.004, 0.03);
    addWave(
      clip,
      beat * BEAT,
      length,
      0,
      sweep(
        () => pitch,
        (t) => 0.8 * edge(t) * exp(-t / 0.9),
      ),
    );
    addWave(
      clip,
      beat * BEAT,
      length,
      0,
      sweep(
        () => pitch,
        (t) => 0.5 * edge(t) * exp(-t / 0.12),
        softSaw(14),
      ),
    );
  }
  return toPeak(clip, 0.8);
}
