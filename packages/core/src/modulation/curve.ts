import { exp } from '../dsp/portableMath.ts';
import type { Stamp } from './stamp.ts';

/** A breakpoint. */
export interface CurvePoint {
  /** Where it lies, from 0: in shares of the clip, seconds or beats. */
  readonly at: number;
  readonly value: number;
  /** How the way to the next point is bent, −1…1: 0 straight, above 0 it stays near this point and hurries at the end. */
  readonly bend: number;
}

export const CURVE_UNITS = ['clip', 'seconds', 'beats'] as const;

/** A value over time as breakpoints alone. Before its first it has that one's value, behind its last that one's. */
export interface Breakpoints {
  /** What `at` counts: shares of the clip, seconds or beats. */
  readonly over: (typeof CURVE_UNITS)[number];
  /** In order of `at`; two at the same place are a step. */
  readonly points: readonly CurvePoint[];
  readonly shapes?: undefined;
}

/** A value over time: breakpoints, and shapes between them that nobody has changed a point of. */
export interface Curve {
  readonly over: Breakpoints['over'];
  /** In order of `at`; none where there is a shape. */
  readonly points: readonly CurvePoint[];
  /** In order; `breakpointsOf` gives their points. */
  readonly shapes?: readonly Stamp[] | undefined;
}

export const MOST_POINTS = 10_000;

/** How strong the strongest bend is. */
const BENT = 6;

/** Height, 0…1, at the share `t` of a segment with this bend: an exponential through (0, 0) and (1, 1). */
export function bentWay(t: number, bend: number): number {
  if (bend > -1e-6 && bend < 1e-6) return t;
  const k = BENT * bend;
  return (exp(k * t) - 1) / (exp(k) - 1);
}

/** The curve's value at a place. On a step it is the later value. */
export function curveAt({ points }: Breakpoints, at: number): number {
  if (points.length === 0) return 0;
  let low = 0;
  let high = points.length - 1;
  if (at < points[0].at) return points[0].value;
  if (at >= points[high].at) return points[high].value;
  // The last point at or before the place.
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (points[middle].at <= at) low = middle;
    else high = middle;
  }
  return between(points[low], points[high], at);
}

/** Reads a curve at places that only rise, without searching: for one value a frame. */
export class CurveReader {
  private readonly points: readonly CurvePoint[];
  private next = 0;

  constructor(curve: Breakpoints) {
    this.points = curve.points;
  }

  at(place: number): number {
    const { points } = this;
    while (this.next < points.length && points[this.next].at <= place) this.next++;
    if (points.length === 0) return 0;
    if (this.next === 0) return points[0].value;
    if (this.next === points.length) return points[this.next - 1].value;
    return between(points[this.next - 1], points[this.next], place);
  }
}

function between(from: CurvePoint, to: CurvePoint, at: number): number {
  const length = to.at - from.at;
  if (length <= 0) return to.value;
  return from.value + (to.value - from.value) * bentWay((at - from.at) / length, from.bend);
}

/** The curve over shares of a clip or seconds: beats become seconds. */
export function inSeconds(curve: Breakpoints, secondsABeat: number): Breakpoints {
  if (curve.over !== 'beats') return curve;
  return { over: 'seconds', points: curve.points.map((point) => ({ ...point, at: point.at * secondsABeat })) };
}
