import { exp, log } from '../../../../dsp/portableMath.ts';
import type { PitchTrack } from '../../../../dsp/pitchTrack.ts';

export const SCALES = ['one note', 'nearest note', 'chromatic', 'major', 'minor', 'pentatonic'] as const;
export type ScaleName = (typeof SCALES)[number];

export interface Settling {
  readonly scale: ScaleName;
  /** MIDI key: the note, or the root of the scale. */
  readonly note: number;
  /** 0…1: how far it is pulled. */
  readonly amount: number;
  /** 0…1: how much of the voice's own movement around its notes is left. */
  readonly movement: number;
  /** Seconds in which it goes over from note to note. */
  readonly glide: number;
}

/** Steps of a scale in semitones above its root. */
const STEPS: Partial<Record<ScaleName, readonly number[]>> = {
  chromatic: [0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11],
  major: [0, 2, 4, 5, 7, 9, 11],
  minor: [0, 2, 3, 5, 7, 8, 10],
  pentatonic: [0, 2, 4, 7, 9],
};

/** Seconds over which the voice's own movement is told from where it goes. */
const MOVEMENT_SECONDS = 0.25;
/** Semitones by which another note has to be nearer before it is taken. */
const HOLD = 0.25;

const keyOf = (hertz: number) => 69 + (12 * log(hertz / 440)) / Math.LN2;
const hertzOf = (key: number) => 440 * exp(((key - 69) / 12) * Math.LN2);

/** Where the pitch shall go: a track like the one given, in hertz, 0 where there is no pitch. */
export function settledPitch({ sampleRate, hop, pitches }: PitchTrack, settling: Settling): PitchTrack {
  const settled = new Float64Array(pitches.length);
  const perSecond = sampleRate / hop;
  for (const [from, to] of voicedStretches(pitches)) {
    const keys = Array.from(pitches.subarray(from, to), keyOf);
    const slow = averaged(keys, Math.round(0.5 * MOVEMENT_SECONDS * perSecond));
    const notes = averaged(notesFor(slow, settling), Math.round(0.5 * settling.glide * perSecond));
    keys.forEach((key, n) => {
      const wanted = notes[n] + settling.movement * (key - slow[n]);
      settled[from + n] = hertzOf(key + settling.amount * (wanted - key));
    });
  }
  return { sampleRate, hop, pitches: settled };
}

/** [first, first behind) of each stretch with a pitch. */
export function voicedStretches(pitches: Float64Array): [number, number][] {
  const stretches: [number, number][] = [];
  for (let n = 0; n < pitches.length; n++) {
    if (pitches[n] === 0) continue;
    const from = n;
    while (n < pitches.length && pitches[n] !== 0) n++;
    stretches.push([from, n]);
  }
  return stretches;
}

function averaged(values: readonly number[], reach: number): number[] {
  if (reach < 1) return [...values];
  const sums = [0];
  for (const value of values) sums.push(sums[sums.length - 1] + value);
  return values.map((_, n) => {
    const from = Math.max(0, n - reach);
    const to = Math.min(values.length, n + reach + 1);
    return (sums[to] - sums[from]) / (to - from);
  });
}

function notesFor(keys: readonly number[], { scale, note }: Settling): number[] {
  if (scale === 'one note') return keys.map(() => note);
  if (scale === 'nearest note') {
    const middle = [...keys].sort((a, b) => a - b)[keys.length >> 1];
    return keys.map(() => Math.round(middle));
  }
  const steps = STEPS[scale] ?? [];
  let held = NaN;
  return keys.map((key) => {
    const nearest = nearestIn(steps, note, key);
    if (!(Math.abs(key - held) <= Math.abs(key - nearest) + HOLD)) held = nearest;
    return held;
  });
}

function nearestIn(steps: readonly number[], root: number, key: number): number {
  const octave = Math.floor((key - root) / 12);
  let best = NaN;
  for (let n = octave - 1; n <= octave + 1; n++) {
    for (const step of steps) {
      const candidate = root + 12 * n + step;
      if (!(Math.abs(key - candidate) >= Math.abs(key - best))) best = candidate;
    }
  }
  return best;
}
