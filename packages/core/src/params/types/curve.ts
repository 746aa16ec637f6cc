import { LIMITS } from '../../model/limits.ts';
import { CURVE_UNITS, MOST_POINTS, inSeconds, type Curve } from '../../modulation/curve.ts';
import { MOST_CYCLES, SHAPES } from '../../modulation/stamp.ts';
import { breakpointsOf } from '../../modulation/stampedShape.ts';
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
            at: place(z).describe('Share of the clip, seconds or beats.'),
            value: z.number().min(min).max(max),
            bend: z.number().min(-1).max(1).default(0).describe('0 straight; above 0 it hurries at the end.'),
          }),
        )
        .max(MOST_POINTS),
      shapes: z
        .array(
          z.strictObject({
            shape: z.enum(SHAPES),
            start: place(z).describe('Where it begins and ends, as the places of the points.'),
            end: place(z),
            from: z.number().min(min).max(max).describe('The value it begins with.'),
            to: z.number().min(min).max(max).describe('The value it goes to.'),
            cycles: z.number().int().min(1).max(MOST_CYCLES),
            seed: z.number().int().min(0).max(0xffffffff).describe('Of a random one.'),
          }),
        )
        .max(MOST_SHAPES)
        .optional()
        .describe('Between the points: shapes that are drawn, in order.'),
    })
    .refine(({ points, shapes }) => points.length + (shapes?.length ?? 0) > 0, 'it has neither breakpoints nor shapes')
    .refine(
      ({ points }) => points.every(({ at }, n) => n === 0 || at >= points[n - 1].at),
      'its points go back in time',
    )
    .refine(
      ({ shapes = [] }) => shapes.every(({ start, end }, n) => end > start && (n === 0 || start >= shapes[n - 1].end)),
      'its shapes lie over each other, or end before they begin',
    )
    .refine(
      ({ over, points, shapes }) => over !== 'clip' || Math.max(points.at(-1)?.at ?? 0, shapes?.at(-1)?.end ?? 0) <= 1,
      'shares of the clip end at 1',
    );

const place = (z: Schemas) => z.number().min(0).max(LIMITS.soundSeconds);
const MOST_SHAPES = 64;

export const curveType: ParamType<CurveParam, Curve> = {
  unit: '',
  scaled: false,
  /** Over seconds, where it is over beats. */
  resolve: (_param, value, timing) => inSeconds(breakpointsOf(value), beatSeconds(timing)),
  print: (_param, value) => printCurve(value),
  parse: (_param, text) => parseCurve(text),
  range({ unit, min, max }) {
    const written = unit === 'semitones' ? printInterval : printRatio;
    return `breakpoints from ${written(min)} to ${written(max)}, such as clip 0:${max} 1:${min}`;
  },
  schema: ({ min, max }, z) => curveSchemaOf(z, min, max),
  blend: halfWay,
};
