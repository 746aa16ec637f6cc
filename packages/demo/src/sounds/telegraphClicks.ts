import type { Clip } from '@hexenkessel/core/model';
import { addWave, ping, silence, toPeak } from '../synth.ts';

/** The word FOG in Morse code as a sounder clicks it: one click when the key goes down, a duller one when it comes up. */
const MORSE = ['..-.', '---', '--.'];
const UNIT = 0.09;

export function telegraphClicks(): Clip {
  const clip = silence(3.6, 1);
  let at = 0.1;
  for (const letter of MORSE) {
    for (const sign of letter) {
      const held = sign === '.' ? UNIT : 3 * UNIT;
      click(clip, at, 2350, 0.9);
      click(clip, at + held, 1520, 0.6);
      at += held + UNIT;
    }
    at += 2 * UNIT;
  }
  return toPeak(clip, 0.75);
}

function click(clip: Clip, at: number, pitch: number, gain: number): void {
  addWave(clip, at, 0.06, 0, ping(pitch, gain, 0.006, 0.0002));
  addWave(clip, at, 0.06, 0, ping(pitch * 2.7, gain * 0.5, 0.002, 0.0001));
}
