/**
 * The written form of times, rates, frequencies, levels, ratios and pitches: what is typed into a row, a chain's sheet
 * and the command line. Every `print…` is exact: parsing what it printed gives the same value, bit for bit.
 */
import { InputError } from '../model/errors.ts';
import { exp, log } from '../dsp/portableMath.ts';
import { readAmount, readQuantities, refuseLong, written } from './quantity.ts';
import { COMMON_METER, NOTE_PATTERN, type Meter, type RateValue, type TimeValue } from './tempo.ts';

/** Prints the small unit, `perWhole` of which are one whole, when that loses nothing, else the whole one. */
function printScaled(value: number, perWhole: number, small: string, whole: string, preferSmall: boolean): string {
  const plain = `${written(value)} ${whole}`;
  if (!preferSmall) return plain;
  // 1.15 × 100 is 114.99999999999999, so the rounded form is tried first. The shortest that leads back is taken.
  for (const scaled of [Number((value * perWhole).toPrecision(15)), value * perWhole]) {
    const text = `${written(scaled)} ${small}`;
    if (scaled / perWhole === value && text.length <= plain.length + 3) return text;
  }
  return plain;
}

type Musical = { readonly note: string } | { readonly beats: number } | { readonly bars: number };

const NOTE_FORMS = /^(dotted |triplet )?(\d{1,4}\/\d{1,4})( ?d| ?t| dotted| triplets?)?( notes?)?$/;

/** `1/8d`, `1/8 triplet`, `dotted 1/4 note` → the note value as a chain holds it. */
function readNote(text: string): string | undefined {
  const match = NOTE_FORMS.exec(text);
  if (!match || (match[1] && match[3])) return undefined;
  const note = `${match[2]}${(match[1] ?? match[3] ?? '').trim().slice(0, 1)}`;
  return NOTE_PATTERN.test(note) ? note : undefined;
}

/** A note value, or beats, or bars, or bars and beats; those together are beats, so the meter has to be known. */
function readMusical(text: string, meter: Meter): Musical | undefined {
  refuseLong(text);
  const compact = text.trim().toLowerCase().replace(/\s+/g, ' ');
  const note = readNote(compact);
  if (note !== undefined) return { note };
  const parts = readQuantities(compact) ?? [];
  const bars = parts.filter(({ unit }) => /^bars?$/.test(unit));
  const beats = parts.filter(({ unit }) => /^beats?$/.test(unit));
  if (parts.length === 0 || bars.length > 1 || beats.length > 1 || bars.length + beats.length < parts.length)
    return undefined;
  if (beats.length === 0) return { bars: bars[0].amount };
  if (bars.length === 0) return { beats: beats[0].amount };
  return { beats: bars[0].amount * meter[0] + beats[0].amount };
}

function printMusical(value: Musical): string {
  if ('note' in value) return value.note;
  if ('beats' in value) return `${written(value.beats)} ${value.beats === 1 ? 'beat' : 'beats'}`;
  return `${written(value.bars)} ${value.bars === 1 ? 'bar' : 'bars'}`;
}

const SECONDS = { '': 1, s: 1, sec: 1, secs: 1, second: 1, seconds: 1, min: 60, minute: 60, minutes: 60 };
const MILLISECONDS = { ms: 0.001, msec: 0.001, millisecond: 0.001, milliseconds: 0.001 };
const SAMPLES = { sample: 1, samples: 1 };
const CLOCK = /^(\d{1,4}):([0-5]\d(?:[.,]\d+)?)$/;

/**
 * Reads `1/8d`, `8 beats`, `2 bars 1 beat`, `250 ms`, `5 s`, `1:30`, `480 samples`; a bare number is seconds. The meter
 * says how many beats the bars have where both are added.
 */
export function parseTime(text: string, meter: Meter = COMMON_METER): TimeValue {
  const musical = readMusical(text, meter);
  if (musical) return musical;
  const seconds = readAmount(text, { ...SECONDS, ...MILLISECONDS });
  if (seconds !== undefined) return seconds;
  const samples = readAmount(text, SAMPLES);
  if (samples !== undefined) return { samples };
  const clock = CLOCK.exec(text.trim());
  if (clock) return Number(clock[1]) * 60 + Number(clock[2].replace(',', '.'));
  throw new InputError(`"${text}" is not a time; write 1/8d, 8 beats, 2 bars, 250 ms, 5 s, 1:30 or 480 samples.`);
}

export function printTime(value: TimeValue): string {
  if (typeof value === 'number') return printScaled(value, 1000, 'ms', 's', Math.abs(value) < 1 && value !== 0);
  if ('samples' in value) return `${written(value.samples)} ${value.samples === 1 ? 'sample' : 'samples'}`;
  return printMusical(value);
}

const HERTZ = { '': 1, hz: 1, hertz: 1, khz: 1000, kilohertz: 1000, k: 1000 };

/** Reads `5 Hz`, `1/8`, `2 bars`; a bare number is hertz. */
export function parseRate(text: string, meter: Meter = COMMON_METER): RateValue {
  const rate = readMusical(text, meter) ?? readAmount(text, HERTZ);
  if (rate !== undefined) return rate;
  throw new InputError(`"${text}" is not a rate; write 5 Hz, or once per 1/8, 3 beats or 2 bars.`);
}

export function printRate(value: RateValue): string {
  return typeof value === 'number' ? printFrequency(value) : printMusical(value);
}

/** Reads `420`, `420 Hz`, `1.2 kHz`, `2.5k` or a note such as `C3`; gives hertz. */
export function parseFrequency(text: string): number {
  const hertz = readAmount(text, HERTZ);
  if (hertz !== undefined) return hertz;
  const key = readKey(text);
  if (key !== undefined) return keyToFrequency(key);
  throw new InputError(`"${text}" is not a frequency; write 420 Hz, 1.2 kHz or a note such as C3.`);
}

export function printFrequency(value: number): string {
  const kilohertz = Number((value / 1000).toPrecision(15));
  return Math.abs(value) >= 1000 && kilohertz * 1000 === value ? `${written(kilohertz)} kHz` : `${written(value)} Hz`;
}

const DECIBELS = { '': 1, db: 1, decibel: 1, decibels: 1, dbfs: 1, dbtp: 1, lufs: 1, lu: 1 };

/** Reads `-6 dB`, `-6`, `-16 LUFS`. */
export function parseLevel(text: string): number {
  const decibels = readAmount(text, DECIBELS);
  if (decibels !== undefined) return decibels;
  throw new InputError(`"${text}" is not a level; write it in decibels, such as −6 dB.`);
}

/** `unit` says against what it is measured: dB, dBFS, dBTP, LUFS. */
export function printLevel(value: number, unit = 'dB'): string {
  return `${written(value)} ${unit}`;
}

const SHARES = { '': 0.01, '%': 0.01, percent: 0.01, x: 1, '×': 1, times: 1 };

/** Reads `50 %`, `50` (percent) or `0.5 x`; gives the ratio 0.5. */
export function parseRatio(text: string): number {
  const share = readAmount(text, SHARES);
  if (share !== undefined) return share;
  throw new InputError(`"${text}" is not a percentage; write 50 %, or a factor such as 0.5 x.`);
}

export function printRatio(value: number): string {
  return printScaled(value, 100, '%', '×', true);
}

const SEMITONES = { '': 1, st: 1, semitone: 1, semitones: 1, oct: 12, octave: 12, octaves: 12 };
const CENTS = { ct: 0.01, cent: 0.01, cents: 0.01 };

/** Reads an interval: `+7 st`, `-30 ct`, `+7 st 30 ct`, `1 octave`; a bare number is semitones. */
export function parseInterval(text: string): number {
  const interval = readAmount(text, { ...SEMITONES, ...CENTS });
  if (interval !== undefined) return interval;
  throw new InputError(`"${text}" is not an interval; write +7 st (semitones), −30 ct (cents) or 1 octave.`);
}

export function printInterval(value: number): string {
  return `${value > 0 ? '+' : ''}${written(value)} st`;
}

/** Reads `90°`, `90 deg` or `90`. */
export function parseDegrees(text: string): number {
  const degrees = readAmount(text, { '': 1, '°': 1, deg: 1, degree: 1, degrees: 1 });
  if (degrees !== undefined) return degrees;
  throw new InputError(`"${text}" is not an angle; write it in degrees, such as 90°.`);
}

export function printDegrees(value: number): string {
  return `${written(value)}°`;
}

/** Reads a plain number; one of the `units`, such as `bpm`, may stand behind it. */
export function parseNumber(text: string, units: readonly string[] = []): number {
  const amount = readAmount(text, Object.fromEntries(['', ...units].map((unit) => [unit, 1])));
  if (amount !== undefined) return amount;
  throw new InputError(`"${text}" is not a number.`);
}

const NOTE_NAMES = ['C', 'C#', 'D', 'D#', 'E', 'F', 'F#', 'G', 'G#', 'A', 'A#', 'B'];
const KEY = /^([a-g])([#♯b♭]?)(-?\d{1,2})(?:\s*([+-]\s*\d+(?:\.\d+)?(?:e-\d+)?)\s*(?:ct|cents?))?$/i;

function readKey(text: string): number | undefined {
  refuseLong(text);
  const match = KEY.exec(text.trim().replaceAll('\u2212', '-'));
  if (!match) return undefined;
  const natural = NOTE_NAMES.indexOf(match[1].toUpperCase());
  const accidental = { '': 0, '#': 1, '♯': 1, b: -1, '♭': -1 }[match[2].toLowerCase()] ?? 0;
  const cents = Number((match[4] ?? '0').replace(/\s/g, ''));
  return (Number(match[3]) + 1) * 12 + natural + accidental + cents / 100;
}

/** Reads a note name in scientific pitch notation, `A4`, `Eb3`, `C3 +20 ct`, or a MIDI key; gives the key, 60 for C4. */
export function parseKey(text: string): number {
  const key = readKey(text) ?? readAmount(text, { '': 1 });
  if (key === undefined) throw new InputError(`"${text}" is not a note; write C3, F#4 or Eb2.`);
  return key;
}

export function printKey(key: number): string {
  const nearest = Math.round(key);
  const cents = Number(((key - nearest) * 100).toFixed(9));
  const name = `${NOTE_NAMES[((nearest % 12) + 12) % 12]}${written(Math.floor(nearest / 12) - 1)}`;
  const note = cents === 0 ? name : `${name} ${cents > 0 ? '+' : ''}${written(cents)} ct`;
  return readKey(note) === key ? note : written(key);
}

/** Hertz of a MIDI key in equal temperament, A4 = 440 Hz. */
export function keyToFrequency(key: number): number {
  return 440 * exp(((key - 69) / 12) * Math.LN2);
}

export function frequencyToKey(frequency: number): number {
  return 69 + (12 * log(frequency / 440)) / Math.LN2;
}
