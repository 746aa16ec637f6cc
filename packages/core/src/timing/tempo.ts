import { InputError } from '../model/errors.ts';

/**
 * How musical lengths become seconds. `tempo` counts quarter notes a minute; `meter` is [beats in a bar, note value of a
 * beat], so a beat of a 6/8 bar is an eighth.
 */
export interface Timing {
  readonly tempo: number;
  readonly meter: Meter;
}

/** Beats in a bar, note value of a beat. */
export type Meter = readonly [number, number];

export const COMMON_METER: Meter = [4, 4];

/** Hz. What counts samples is worked out at this rate where there is no sound at hand. */
export const REFERENCE_RATE = 48000;

export const TEMPO_RANGE = { min: 20, max: 400 } as const;

/** A length of time: seconds, or musical, or frames of the sound at hand. */
export type TimeValue =
  | number
  | { readonly note: string }
  | { readonly beats: number }
  | { readonly bars: number }
  | { readonly samples: number };

/** A rate: hertz, or musical: once in a note value, in so many beats, in so many bars. */
export type RateValue = number | { readonly note: string } | { readonly beats: number } | { readonly bars: number };

/** `1/8`, dotted `1/8d`, triplet `1/8t`. */
export const NOTE_PATTERN = /^([1-9]\d{0,3})\/([1-9]\d{0,3})([dt])?$/;

export function beatSeconds(timing: Timing): number {
  return (60 / timing.tempo) * (4 / timing.meter[1]);
}

export function barSeconds(timing: Timing): number {
  return beatSeconds(timing) * timing.meter[0];
}

/** Length of a note value in whole notes: `1/4` → 0.25, `1/8d` → 0.1875. */
export function noteInWholes(note: string): number {
  const match = NOTE_PATTERN.exec(note);
  if (!match) throw new InputError(`"${note}" is not a note value; write 1/4, 1/8d (dotted) or 1/8t (triplet).`);
  const plain = Number(match[1]) / Number(match[2]);
  if (match[3] === 'd') return plain * 1.5;
  if (match[3] === 't') return (plain * 2) / 3;
  return plain;
}

/** Seconds of a time under a tempo and, for frames, a sample rate in Hz. */
export function resolveTime(value: TimeValue, timing: Timing, sampleRate: number): number {
  if (typeof value === 'number') return value;
  if ('samples' in value) return value.samples / sampleRate;
  return musicalSeconds(value, timing);
}

/** Hertz of a rate under a tempo. */
export function resolveRate(value: RateValue, timing: Timing): number {
  return typeof value === 'number' ? value : 1 / musicalSeconds(value, timing);
}

/** True when the value moves with the tempo. */
export function isSynced(value: unknown): boolean {
  return typeof value === 'object' && value !== null && ('note' in value || 'beats' in value || 'bars' in value);
}

function musicalSeconds(
  value: { readonly note: string } | { readonly beats: number } | { readonly bars: number },
  timing: Timing,
): number {
  if ('note' in value) return noteInWholes(value.note) * 4 * (60 / timing.tempo);
  if ('beats' in value) return value.beats * beatSeconds(timing);
  return value.bars * barSeconds(timing);
}
