import { TAU, cos } from '../dsp/portableMath.ts';
import { createRandom } from '../dsp/random.ts';
import type { Curve, CurvePoint } from './curve.ts';

export const SHAPES = ['line', 'sine', 'triangle', 'square', 'saw', 'parabola', 'random'] as const;
export type Shape = (typeof SHAPES)[number];

export interface Stamp {
  readonly shape: Shape;
  /** The two places it is fitted between. */
  readonly start: number;
  readonly end: number;
  /** The value it begins with and the one it goes to. */
  readonly from: number;
  readonly to: number;
  /** How often it is repeated; a line and a parabola go once unless more is said. */
  readonly cycles: number;
  readonly seed: number;
}

/** Points that a period of a sine is drawn with; straight lines between them are within 0.2 % of it. */
const SINE_POINTS = 48;
const PARABOLA_POINTS = 24;
const RANDOM_POINTS = 8;

/**
 * A shape as breakpoints, `cycles` times between two places. A line goes from one value to the other; the rest begin at
 * `from`, reach `to` and come back, as a saw at once.
 */
export function stampedPoints(stamp: Stamp): CurvePoint[] {
  const period = periodOf(stamp);
  const length = (stamp.end - stamp.start) / stamp.cycles;
  const points: CurvePoint[] = [];
  for (let n = 0; n < stamp.cycles; n++) {
    for (const [t, height] of period(n)) {
      const at = stamp.start + (n + t) * length;
      const value = stamp.from + height * (stamp.to - stamp.from);
      const last = points.at(-1);
      // Where two periods meet in one point it is kept once.
      if (last && last.at === at && last.value === value) continue;
      points.push({ at, value, bend: 0 });
    }
  }
  return points;
}

/** Places 0…1 and heights 0…1 of one period. */
function periodOf({ shape, seed }: Stamp): (cycle: number) => [number, number][] {
  const along = (count: number, height: (t: number) => number) =>
    Array.from({ length: count + 1 }, (_, i): [number, number] => [i / count, height(i / count)]);
  switch (shape) {
    case 'line':
    case 'saw':
      return () => [
        [0, 0],
        [1, 1],
      ];
    case 'triangle':
      return () => [
        [0, 0],
        [0.5, 1],
        [1, 0],
      ];
    case 'square':
      return () => [
        [0, 0],
        [0.5, 0],
        [0.5, 1],
        [1, 1],
      ];
    case 'sine':
      return () => along(SINE_POINTS, (t) => 0.5 - 0.5 * cos(TAU * t));
    case 'parabola':
      return () => along(PARABOLA_POINTS, (t) => 4 * t * (1 - t));
    case 'random': {
      const random = createRandom(seed);
      return () => along(RANDOM_POINTS, () => random());
    }
  }
}

/** A curve in which what lay between the stamp's places has given way to it. */
export function stampOnto(curve: Curve, stamp: Stamp): Curve {
  const before = curve.points.filter(({ at }) => at < stamp.start);
  const after = curve.points.filter(({ at }) => at > stamp.end);
  return { ...curve, points: [...before, ...stampedPoints(stamp), ...after] };
}
