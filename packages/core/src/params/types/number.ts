import { InputError } from '../../model/errors.ts';
import { readAmount, written } from '../../timing/quantity.ts';
import type { NumericParam, ParamType, Scaled } from './contract.ts';
import { plainType } from './scale.ts';

/** What stands behind a number, and the words that may be typed for it, with how many of the unit each is. */
const UNITS = {
  ct: { ct: 1, cent: 1, cents: 1, st: 100, semitone: 100, semitones: 100 },
  oct: { oct: 1, octave: 1, octaves: 1 },
  Hz: { hz: 1, hertz: 1, khz: 1000, k: 1000 },
  '/s': { '/s': 1 },
  '×': { '×': 1, x: 1, times: 1 },
  ':1': { ':1': 1 },
  bit: { bit: 1, bits: 1 },
  m: { m: 1, metre: 1, metres: 1, meter: 1, meters: 1, cm: 0.01 },
} as const satisfies Record<string, Record<string, number>>;

export type NumberUnit = keyof typeof UNITS;

export interface NumberParam extends NumericParam {
  readonly type: 'number';
  readonly default: number;
  /** None when left out. */
  readonly unit?: NumberUnit;
}

/** A number, with or without a unit. */
export const number = (p: Scaled<number> & { readonly unit?: NumberUnit }): NumberParam => ({
  type: 'number',
  curve: 'linear',
  ...p,
});

/** `30 ct`, `28 /s`, `3:1`. */
function print(value: number, { unit }: NumberParam): string {
  return `${written(value)}${unit === undefined ? '' : unit === ':1' ? unit : ` ${unit}`}`;
}

function parse(text: string, { unit }: NumberParam): number {
  const words: Record<string, number> = { '': 1, ...(unit && UNITS[unit]) };
  const value = readAmount(text, words);
  if (value !== undefined) return value;
  const form = unit && (unit === ':1' ? '3:1' : `3 ${unit}`);
  throw new InputError(`"${text}" is not a number${form ? `; write 3 or ${form}` : ''}.`);
}

export const numberType: ParamType<NumberParam, number> = plainType('', print, parse);
