import { timeReferenceOf } from '../formats/placement.ts';

/** place: each by the time reference of its file; start: all from the same frame. */
export const MIX_LAYS = ['place', 'start'] as const;
export type MixLay = (typeof MIX_LAYS)[number];

/** A sound to be laid out. */
export interface LaidSound {
  readonly sampleRate: number;
  /** Frames from midnight at its own rate; null: it does not say, and lies where sources are taken to lie. */
  readonly timeReference: number | null;
  /** Seconds that it is moved by: later where positive. */
  readonly offset: number;
}

export interface LaidOut {
  /** Where each begins, in frames of the mix at `sampleRate`; the first of them is 0. */
  readonly at: readonly number[];
  /** Frames from midnight to the first frame of the mix; null where that is where sounds lie that do not say, or before midnight. */
  readonly timeReference: number | null;
}

/** Lays sounds beside each other on one time line at `sampleRate`. */
export function layOut(sounds: readonly LaidSound[], lay: MixLay, sampleRate: number): LaidOut {
  const places = sounds.map((sound) => {
    const from = lay === 'place' ? timeReferenceOf(sound.timeReference, sound.sampleRate) : 0;
    return Math.round((from / sound.sampleRate + sound.offset) * sampleRate);
  });
  const first = Math.min(...places);
  const said = sounds.find(({ timeReference }) => timeReference !== null);
  const from = said ?? { timeReference: null, sampleRate };
  const start = Math.round((timeReferenceOf(from.timeReference, from.sampleRate) / from.sampleRate) * sampleRate);
  const begins = lay === 'place' ? first : start + first;
  // Begun where sounds that say nothing are taken to lie, it need not say so either; moved from there it must.
  const known = said !== undefined || begins !== timeReferenceOf(null, sampleRate);
  return { at: places.map((place) => place - first), timeReference: known && begins >= 0 ? begins : null };
}
