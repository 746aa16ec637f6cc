import { LIMITS } from '../../model/limits.ts';
import { CURVE_UNITS, MOST_POINTS, inSeconds, type Curve } from '../../modulation/curve.ts';
import { parseCurve, printCurve } from '../../modulation/writtenCurve.ts';
import { printInterval, printRatio } from '../../timing/expressions.ts';
import { beatSeconds } from '../../timing/tempo.ts';
import type { ParamText, ParamType, Schemas } from './contract.ts';
import { halfWay } from './scale.ts';

/** A value drawn over the clip. */
export interface CurveParam extends ParamText {
  readonly type: 'curve';
  readonly unit: 'semitones' | 'ratio';
  readonly min: number;
  readonly max: number;
  readonly default: Curve;
}

export const curve = (p: Omit<CurveParam, 'type'>): CurveParam => ({ type: 'curve', ...p });

/** A curve whose values lie in a range. */
export const curveSchemaOf = (z: Schemas, min: number, max: number) =>
  z
    .strictObject({
      over: z.enum(CURVE_UNITS).default('clip').describe('What the places of the points count.'),
      points: z
        .array(
          z.strictObject({
            at: z.number().min(0).max(LIMITS.soundSeconds).describe('Share of the clip, seconds or beats.'),
            value: z.number().min(min).max(max),
            bend: z.number().min(-1).max(1).default(0).describe('0 straight; above 0 it hurries at the end.'),
          }),
        )
        .min(1)
        .max(MOST_POINTS),
    })
    .refine(
      ({ points }) => points.every(({ at }, n) => n === 0 || at >= points[n - 1].at),
      'its points go back in time',
    )
    .refine(({ over, points }) => over !== 'clip' || (points.at(-1)?.at ?? 0) <= 1, 'shares of the clip end at 1');

export const curveType: ParamType<CurveParam, Curve> = {
  unit: '',
  scaled: false,
  /** Over seconds, where it is over beats. */
  resolve: (_param, value, timing) => inSeconds(value, beatSeconds(timing)),
  print: (_param, value) => printCurve(value),
  parse: (_param, text) => parseCurve(text),
  range({ unit, min, max }) {
    const written = unit === 'semitones' ? printInterval : printRatio;
    return `breakpoints from ${written(min)} to ${written(max)}, such as clip 0:${max} 1:${min}`;
  },
  schema: ({ min, max }, z) => curveSchemaOf(z, min, max),
  blend: halfWay,
};
