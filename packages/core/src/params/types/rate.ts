import { parseRate, printRate } from '../../timing/expressions.ts';
import { resolveRate, type RateValue } from '../../timing/tempo.ts';
import type { NumericParam, ParamType, Scaled } from './contract.ts';
import { musicalSchema } from './musical.ts';
import { blendOnScale, rangeText, hertzOf } from './scale.ts';

export interface RateParam extends NumericParam {
  readonly type: 'rate';
  readonly default: RateValue;
}

/** A speed of movement; canonical unit hertz. Can follow the tempo. */
export const rate = (p: Scaled<RateValue>): RateParam => ({ type: 'rate', curve: 'log', ...p });

export const rateType: ParamType<RateParam, RateValue> = {
  unit: 'hertz',
  scaled: true,
  resolve: (_param, value, timing) => resolveRate(value, timing),
  print: (_param, value) => printRate(value),
  parse: (_param, text, meter) => parseRate(text, meter),
  range: (param) => rangeText(param, printRate),
  schema: ({ min, max }, z) => z.union([z.number().min(min).max(max), musicalSchema(z)]),
  blend: (param, from, to, share, timing) => blendOnScale(param, from, to, share, timing, hertzOf(timing)),
};
