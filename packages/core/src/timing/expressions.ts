/**
 * The written form of times, rates, frequencies, levels, ratios and pitches: what is typed into a row, a chain's sheet
 * and the command line. Every `print…` is exact: parsing what it printed gives the same value, bit for bit.
 */
import { InputError, shortened } from '../model/errors.ts';
import { LIMITS } from '../model/limits.ts';
import { exp, log } from '../dsp/portableMath.ts';
import { NOTE_PATTERN, type RateValue, type TimeValue } from './tempo.ts';

// One way to read each digit: a number that is none is refused in one pass over it.
const QUANTITY = /^([+-]?(?:\d+(?:\.\d*)?|\.\d+)(?:e[+-]?\d+)?)\s*([a-z%]*)$/i;

interface Quantity {
  readonly amount: number;
  readonly unit: string;
}

/** InputError for what is longer than any value; a message does not repeat it. */
function refuseLong(text: string): void {
  if (text.length > LIMITS.valueLength)
    throw new InputError(
      `"${shortened(text)}" has ${text.length} characters; a value has at most ${LIMITS.valueLength}.`,
    );
}

function readQuantity(text: string): Quantity | undefined {
  refuseLong(text);
  const match = QUANTITY.exec(text.trim().replace(/\u2212/g, '-'));
  if (!match) return undefined;
  const amount = Number(match[1]);
  return Number.isFinite(amount) ? { amount, unit: match[2].toLowerCase() } : undefined;
}

/** `inSmall` units to one whole: prints the small unit when that loses nothing, else the whole one. */
function printScaled(value: number, perWhole: number, small: string, whole: string, preferSmall: boolean): string {
  const plain = `${value} ${whole}`;
  if (!preferSmall) return plain;
  // 1.15 × 100 is 114.99999999999999, so the rounded form is tried first. The shortest that leads back is taken.
  for (const scaled of [Number((value * perWhole).toPrecision(15)), value * perWhole]) {
    const text = `${scaled} ${small}`;
    if (scaled / perWhole === value && text.length <= plain.length + 3) return text;
  }
  return plain;
}

function isNote(text: string): boolean {
  return NOTE_PATTERN.test(text);
}

function readMusical(text: string): { note: string } | { beats: number } | { bars: number } | undefined {
  refuseLong(text);
  const compact = text.trim().toLowerCase();
  if (isNote(compact)) return { note: compact };
  const quantity = readQuantity(compact);
  if (quantity && /^beats?$/.test(quantity.unit)) return { beats: quantity.amount };
  if (quantity && /^bars?$/.test(quantity.unit)) return { bars: quantity.amount };
  return undefined;
}

function printMusical(
  value: { readonly note: string } | { readonly beats: number } | { readonly bars: number },
): string {
  if ('note' in value) return value.note;
  if ('beats' in value) return `${value.beats} ${value.beats === 1 ? 'beat' : 'beats'}`;
  return `${value.bars} ${value.bars === 1 ? 'bar' : 'bars'}`;
}

/** Reads `1/8d`, `8 beats`, `2 bars`, `250 ms`, `5 s`, `480 samples`; a bare number is seconds. */
export function parseTime(text: string): TimeValue {
  const musical = readMusical(text);
  if (musical) return musical;
  const quantity = readQuantity(text);
  if (quantity) {
    if (quantity.unit === '' || quantity.unit === 's') return quantity.amount;
    if (quantity.unit === 'ms') return quantity.amount / 1000;
    if (/^samples?$/.test(quantity.unit)) return { samples: quantity.amount };
  }
  throw new InputError(`"${text}" is not a time; write 1/8d, 8 beats, 2 bars, 250 ms, 5 s or 480 samples.`);
}

export function printTime(value: TimeValue): string {
  if (typeof value === 'number') return printScaled(value, 1000, 'ms', 's', Math.abs(value) < 1 && value !== 0);
  if ('samples' in value) return `${value.samples} ${value.samples === 1 ? 'sample' : 'samples'}`;
  return printMusical(value);
}

/** Reads `5 Hz`, `1/8`, `2 bars`; a bare number is hertz. */
export function parseRate(text: string): RateValue {
  const musical = readMusical(text);
  if (musical) return musical;
  const quantity = readQuantity(text);
  if (quantity && (quantity.unit === '' || quantity.unit === 'hz')) return quantity.amount;
  throw new InputError(`"${text}" is not a rate; write 5 Hz, or once per 1/8, 3 beats or 2 bars.`);
}

export function printRate(value: RateValue): string {
  return typeof value === 'number' ? `${value} Hz` : printMusical(value);
}

/** Reads `420`, `420 Hz`, `1.2 kHz` or a note such as `C3`; gives hertz. */
export function parseFrequency(text: string): number {
  const quantity = readQuantity(text);
  if (quantity) {
    if (quantity.unit === '' || quantity.unit === 'hz') return quantity.amount;
    if (quantity.unit === 'khz') return quantity.amount * 1000;
  }
  const key = readKey(text);
  if (key !== undefined) return keyToFrequency(key);
  throw new InputError(`"${text}" is not a frequency; write 420 Hz, 1.2 kHz or a note such as C3.`);
}

export function printFrequency(value: number): string {
  const kilohertz = Number((value / 1000).toPrecision(15));
  return value >= 1000 && kilohertz * 1000 === value ? `${kilohertz} kHz` : `${value} Hz`;
}

/** Reads `-6 dB` or `-6`. */
export function parseLevel(text: string): number {
  const quantity = readQuantity(text);
  if (quantity && (quantity.unit === '' || quantity.unit === 'db')) return quantity.amount;
  throw new InputError(`"${text}" is not a level; write it in decibels, such as -6 dB.`);
}

export function printLevel(value: number): string {
  return `${value} dB`;
}

/** Reads `50 %`, `50` (percent) or `0.5 x`; gives the ratio 0.5. */
export function parseRatio(text: string): number {
  const quantity = readQuantity(text);
  if (quantity && (quantity.unit === '' || quantity.unit === '%')) return quantity.amount / 100;
  if (quantity?.unit === 'x') return quantity.amount;
  throw new InputError(`"${text}" is not a share; write it in percent, such as 50 %, or as a factor, such as 0.5 x.`);
}

export function printRatio(value: number): string {
  return printScaled(value, 100, '%', 'x', true);
}

/** Reads an interval: `+7 st`, `-30 ct`, `+7 st 30 ct`; a bare number is semitones. */
export function parseInterval(text: string): number {
  refuseLong(text);
  const compound = /^(.*?st)\s+(.*ct)$/i.exec(text.trim());
  if (compound) {
    const semitones = readQuantity(compound[1]);
    const cents = readQuantity(compound[2]);
    if (semitones?.unit === 'st' && cents?.unit === 'ct') {
      const down = compound[1].trim().startsWith('-');
      return semitones.amount + (down ? -Math.abs(cents.amount) : cents.amount) / 100;
    }
  }
  const quantity = readQuantity(text);
  if (quantity) {
    if (quantity.unit === '' || quantity.unit === 'st') return quantity.amount;
    if (quantity.unit === 'ct') return quantity.amount / 100;
  }
  throw new InputError(`"${text}" is not an interval; write +7 st (semitones) or -30 ct (cents).`);
}

export function printInterval(value: number): string {
  return `${value > 0 ? '+' : ''}${value} st`;
}

/** Reads `90°`, `90 deg` or `90`. */
export function parseDegrees(text: string): number {
  const quantity = readQuantity(text.replace('°', ''));
  if (quantity && (quantity.unit === '' || quantity.unit === 'deg')) return quantity.amount;
  throw new InputError(`"${text}" is not an angle; write it in degrees, such as 90°.`);
}

export function printDegrees(value: number): string {
  return `${value}°`;
}

/** What was typed without a unit behind it, such as `bpm`; its case does not count. */
export function withoutUnit(text: string, unit: string): string {
  const trimmed = text.trim();
  return trimmed.toLowerCase().endsWith(unit.toLowerCase()) ? trimmed.slice(0, -unit.length).trim() : trimmed;
}

/** Reads a plain number. */
export function parseNumber(text: string): number {
  const quantity = readQuantity(text);
  if (quantity && quantity.unit === '') return quantity.amount;
  throw new InputError(`"${text}" is not a number.`);
}

const NOTE_NAMES = ['C', 'C#', 'D', 'D#', 'E', 'F', 'F#', 'G', 'G#', 'A', 'A#', 'B'];
const KEY = /^([a-g])([#b]?)(-?\d{1,2})(?:\s*([+-]\d+(?:\.\d+)?)\s*ct)?$/i;

function readKey(text: string): number | undefined {
  refuseLong(text);
  const match = KEY.exec(text.trim());
  if (!match) return undefined;
  const natural = NOTE_NAMES.indexOf(match[1].toUpperCase());
  const accidental = match[2] === '#' ? 1 : match[2] === 'b' ? -1 : 0;
  return (Number(match[3]) + 1) * 12 + natural + accidental + Number(match[4] ?? 0) / 100;
}

/** Reads a note name in scientific pitch notation, `A4`, `Eb3`, `C3 +20 ct`; gives the MIDI key, 60 for C4. */
export function parseKey(text: string): number {
  const key = readKey(text);
  if (key === undefined) throw new InputError(`"${text}" is not a note; write C3, F#4 or Eb2.`);
  return key;
}

export function printKey(key: number): string {
  const nearest = Math.round(key);
  const cents = Number(((key - nearest) * 100).toFixed(9));
  const name = `${NOTE_NAMES[((nearest % 12) + 12) % 12]}${Math.floor(nearest / 12) - 1}`;
  return cents === 0 ? name : `${name} ${cents > 0 ? '+' : ''}${cents} ct`;
}

/** Hertz of a MIDI key in equal temperament, A4 = 440 Hz. */
export function keyToFrequency(key: number): number {
  return 440 * exp(((key - 69) / 12) * Math.LN2);
}

export function frequencyToKey(frequency: number): number {
  return 69 + (12 * log(frequency / 440)) / Math.LN2;
}
