import { createRandom, exp, type Clip, type Random } from '@hexenkessel/core/model';
import { BEAT, addWave, ping, resonantNoise, silence, sweep, toPeak } from '../synth.ts';

/** Two bars of 4/4: a tank lid for the kick, a struck pipe on two and four, steam on the eighths. */
export function boilerRoomDrums(): Clip {
  const clip = silence(8 * BEAT, 2);
  const random = createRandom(37);
  for (const beat of [0, 1.5, 2.5, 4, 5.5, 6.25]) kick(clip, beat * BEAT);
  for (const beat of [1, 3, 5, 7]) pipe(clip, beat * BEAT, random);
  for (let eighth = 0; eighth < 16; eighth++) steam(clip, (eighth * BEAT) / 2, eighth % 2 === 0 ? 0.5 : 0.9, random);
  return toPeak(clip, 0.89);
}

function kick(clip: Clip, at: number): void {
  addWave(
    clip,
    at,
    0.4,
    0,
    sweep(
      (t) => 46 + 120 * exp(-t / 0.03),
      (t) => 1.1 * Math.min(1, t / 0.001) * exp(-t / 0.12),
    ),
  );
}

function pipe(clip: Clip, at: number, random: Random): void {
  for (const [pitch, gain] of [
    [412, 0.5],
    [977, 0.35],
    [1733, 0.3],
    [2610, 0.2],
  ]) {
    addWave(clip, at, 0.4, 0.15, ping(pitch, gain, 0.06));
  }
  const rattle = resonantNoise(random, 1900, 2200);
  addWave(clip, at, 0.25, 0.15, (t) => 1.6 * exp(-t / 0.05) * rattle());
}

function steam(clip: Clip, at: number, strength: number, random: Random): void {
  const hiss = resonantNoise(random, 8800, 4200);
  addWave(clip, at, 0.12, -0.3, (t) => strength * Math.min(1, t / 0.002) * exp(-t / 0.022) * hiss());
}
