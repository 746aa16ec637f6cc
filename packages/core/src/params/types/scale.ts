/** What all parameters share whose values are numbers on a scale. */
import { REFERENCE_RATE } from '../../timing/tempo.ts';
import { exp, log } from '../../dsp/portableMath.ts';
import {
  noteInWholes,
  resolveRate,
  resolveTime,
  type RateValue,
  type TimeValue,
  type Timing,
} from '../../timing/tempo.ts';
import { toCanonical, toPlace } from './paramScale.ts';
import type { NumericParam, ParamType, SettingValue } from './contract.ts';

/** Digits that a value between two others is kept with: finer than is heard, and still read at a glance. */
const DIGITS = 4;
/** Length of a musical value in whole notes; undefined for one that does not follow the tempo. */
export function wholeNotes(value: SettingValue, { meter }: Timing): number | undefined {
  if (typeof value !== 'object') return undefined;
  if ('note' in value) return noteInWholes(value.note);
  if ('beats' in value) return value.beats / meter[1];
  if ('bars' in value) return (value.bars * meter[0]) / meter[1];
  return undefined;
}

/** A value between two, along the scale; two musical lengths stay musical. `resolve` gives the canonical unit. */
export function blendOnScale<V extends SettingValue>(
  param: NumericParam,
  from: V,
  to: V,
  share: number,
  timing: Timing,
  resolve: (value: V) => number,
): SettingValue {
  const lengths = [wholeNotes(from, timing), wholeNotes(to, timing)];
  if (lengths[0] !== undefined && lengths[1] !== undefined) {
    const length = lengths[0] * exp(share * log(lengths[1] / lengths[0]));
    return { beats: Number((length * timing.meter[1]).toPrecision(DIGITS)) };
  }
  const start = toPlace(param, resolve(from));
  const value = toCanonical(param, start + (toPlace(param, resolve(to)) - start) * share);
  return Number(value.toPrecision(DIGITS));
}

/** A range from end to end, an end that is off as such. */
export function rangeText({ min, max, off }: NumericParam, print: (value: number) => string): string {
  const end = (value: number, here: boolean) => (here ? `off (${print(value)})` : print(value));
  return `${end(min, off === 'min')} to ${end(max, off === 'max')}`;
}

/** A type whose values are plain numbers in their canonical unit. */
export function plainType<P extends NumericParam>(
  unit: string,
  print: (value: number, param: P) => string,
  parse: (text: string, param: P) => number,
): ParamType<P, number> {
  return {
    unit,
    scaled: true,
    resolve: (_param, value) => value,
    print: (param, value) => print(value, param),
    parse: (param, text) => parse(text, param),
    range: (param) => rangeText(param, (value) => print(value, param)),
    schema: ({ min, max }, z) => z.number().min(min).max(max),
    blend: (param, from, to, share, timing) => blendOnScale(param, from, to, share, timing, (value) => value),
  };
}

export const secondsOf = (timing: Timing) => (value: TimeValue) => resolveTime(value, timing, REFERENCE_RATE);
export const hertzOf = (timing: Timing) => (value: RateValue) => resolveRate(value, timing);

/** Has no way between two values: changes half-way. */
export const halfWay = <V extends SettingValue>(_param: unknown, from: V, to: V, share: number): V =>
  share < 0.5 ? from : to;
