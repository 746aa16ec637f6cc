/** A lane between its values and their places on the parameter's scale, in which it is drawn. */
import { InputError, type Timing } from '@hexenkessel/core/model';
import {
  breakpointsOf,
  canonical,
  isScaled,
  parseSetting,
  printSetting,
  settingAt,
  toCanonical,
  toPlace,
  type Breakpoints,
  type Curve,
  type Param,
} from '@hexenkessel/core/stages';

const DIGITS = 6;

export interface LaneScale {
  /** True for a switch: its value stands until the next point. */
  readonly stands: boolean;
  readonly toPlaces: (curve: Curve) => Curve;
  readonly toValues: (curve: Curve) => Curve;
  /** The nearest place with a value that reads well. */
  readonly rounded: (place: number) => number;
  /** The value at a place, in words. */
  readonly text: (place: number) => string;
  /** The place of a value that was typed. */
  readonly parse: (text: string) => number;
}

export function laneScale(param: Param, timing: Timing): LaneScale {
  if (!isScaled(param))
    return {
      stands: true,
      toPlaces: (curve) => curve,
      toValues: (curve) => curve,
      rounded: (place) => (place >= 0.5 ? 1 : 0),
      text: (place) => (place >= 0.5 ? 'on' : 'off'),
      parse: (text) => (parseSetting(param, text) === true ? 1 : 0),
    };
  const points = (curve: Curve, change: (value: number) => number): Breakpoints => ({
    over: curve.over,
    points: breakpointsOf(curve).points.map((point) => ({ ...point, value: change(point.value) })),
  });
  // On a scale that is no straight line a shape would be another one.
  const straight = Math.abs(toPlace(param, (param.min + param.max) / 2) - 0.5) < 1e-9;
  const mapped = (curve: Curve, change: (value: number) => number): Curve =>
    straight && curve.shapes
      ? {
          over: curve.over,
          points: curve.points.map((point) => ({ ...point, value: change(point.value) })),
          shapes: curve.shapes.map((shape) => ({ ...shape, from: change(shape.from), to: change(shape.to) })),
        }
      : points(curve, change);
  const valueAt = (place: number) => Number(toCanonical(param, place).toPrecision(DIGITS));
  return {
    stands: false,
    toPlaces: (curve) => mapped(curve, (value) => toPlace(param, value)),
    toValues: (curve) => mapped(curve, valueAt),
    rounded: (place) => toPlace(param, settingAt(param, place, 0, timing) as number),
    text: (place) => printSetting(param, settingAt(param, place, 0, timing)),
    parse: (text) => {
      const value = canonical(param, parseSetting(param, text, timing.meter), timing);
      if (value < param.min || value > param.max)
        throw new InputError(
          `${text} is out of range; allowed is ${printSetting(param, param.min)} to ${printSetting(param, param.max)}.`,
        );
      return toPlace(param, value);
    },
  };
}
