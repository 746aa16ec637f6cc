import { TAU, createRandom, sin, type Clip, type Random } from '@hexenkessel/core/model';
import { addWave, arch, resonantNoise, silence, softSaw, sweep, toPeak } from '../synth.ts';

/** A crowd of gulls: calls that fall in pitch, near and far, over a little surf. */
export function gulls(): Clip {
  const clip = silence(6.5, 2);
  const random = createRandom(53);
  const surf = resonantNoise(random, 420, 500);
  addWave(clip, 0, 6.5, 0, (t) => 0.15 * (0.6 + 0.4 * sin(TAU * 0.15 * t)) * arch(6.5, 0.5, 0.8)(t) * surf());
  for (let bird = 0; bird < 9; bird++) cry(clip, 0.2 + 4.6 * random(), random);
  return toPeak(clip, 0.7);
}

/** One gull: a few calls, each shorter than the last. */
function cry(clip: Clip, start: number, random: Random): void {
  const base = 850 + 500 * random();
  const pan = 1.6 * random() - 0.8;
  const distance = 0.2 + 0.8 * random();
  let at = start;
  for (let call = 0; call < 3 && at < 6; call++) {
    const length = (0.34 - 0.07 * call) * (0.8 + 0.4 * random());
    const swell = arch(length, 0.04, 0.12);
    const pitch = (t: number) => base * (1 + 0.5 * sin((Math.PI * 0.9 * t) / length)) * (1 + 0.01 * sin(TAU * 38 * t));
    addWave(
      clip,
      at,
      length,
      pan,
      sweep(pitch, (t) => distance * 0.5 * swell(t), softSaw(5)),
    );
    at += length + 0.08;
  }
}
