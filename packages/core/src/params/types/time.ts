import { parseTime, printTime } from '../../timing/expressions.ts';
import { resolveTime, type TimeValue } from '../../timing/tempo.ts';
import type { NumericParam, ParamType, Scaled } from './contract.ts';
import { timeSchemaOf } from './musical.ts';
import { blendOnScale, rangeText, secondsOf } from './scale.ts';

export interface TimeParam extends NumericParam {
  readonly type: 'time';
  readonly default: TimeValue;
}

/** A length of time; canonical unit seconds. Can follow the tempo. */
export const time = (p: Scaled<TimeValue>): TimeParam => ({ type: 'time', curve: 'log', ...p });

export const timeType: ParamType<TimeParam, TimeValue> = {
  unit: 'seconds',
  scaled: true,
  resolve: (_param, value, timing, sampleRate) => resolveTime(value, timing, sampleRate),
  print: (_param, value) => printTime(value),
  parse: (_param, text, meter) => parseTime(text, meter),
  range: (param) => rangeText(param, printTime),
  schema: ({ min, max }, z) => timeSchemaOf(z, min, max),
  blend: (param, from, to, share, timing) => blendOnScale(param, from, to, share, timing, secondsOf(timing)),
};
