import type { Clip } from '../model/clip.ts';
import { findAttacks } from './attacks.ts';
import { levelRises, type LevelRise } from './levelRises.ts';

/** Seconds that a cut may lie before a note is there. */
const EARLY = 0.02;
/** Seconds before a note is there that a cut of its own is put. */
const BEFORE = 0.004;
/** Seconds around a rise in which an attack that was found belongs to it. */
const BELONGS = 0.03;
/** dB that a swell without an attack has to rise at full sensitivity, and at none. */
const LEAST_SWELL = 9;
const MOST_SWELL = 15;

/**
 * Where notes begin in a clip, in frames: attacks, and rises of the level too slow to be one. A cut there takes all of a
 * note: where an attack was found further up a slow rise, it is put back to where the note comes in. `sensitivity` 0…1.
 */
export function noteStarts(clip: Clip, sensitivity = 0.6): number[] {
  const { sampleRate } = clip;
  const attacks = findAttacks(clip, sensitivity);
  const rises = levelRises(clip);
  const starts = new Set(attacks);
  const swell = MOST_SWELL + sensitivity * (LEAST_SWELL - MOST_SWELL);
  for (const rise of rises) {
    const from = rise.begins - BELONGS * sampleRate;
    const own = attacks.filter((at) => at >= from && at <= rise.top + BELONGS * sampleRate);
    if (own.length === 0 && rise.height < swell) continue;
    if (own.some((at) => fits(at, rise, sampleRate))) continue;
    // The first attack on the way up is this note's; later ones may be others in it.
    starts.delete(own[0]);
    starts.add(Math.max(0, Math.round(rise.begins - BEFORE * sampleRate)));
  }
  return [...starts].sort((a, b) => a - b);
}

const fits = (at: number, { begins, latest }: LevelRise, sampleRate: number) =>
  at <= latest && at >= begins - EARLY * sampleRate;
