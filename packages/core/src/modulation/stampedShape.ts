import { TAU, cos } from '../dsp/portableMath.ts';
import { createRandom } from '../dsp/random.ts';
import { remembered } from '../model/sharing.ts';
import type { Breakpoints, Curve, CurvePoint } from './curve.ts';
import type { Stamp } from './stamp.ts';

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
      const inner = Math.max(stamp.start, Math.min(stamp.end, written(stamp.start + (n + t) * length)));
      const at = n + t === 0 ? stamp.start : n + t === stamp.cycles ? stamp.end : inner;
      const value = written(stamp.from + height * (stamp.to - stamp.from));
      const last = points.at(-1);
      // Where two periods meet in one point it is kept once.
      if (last && last.at === at && last.value === value) continue;
      points.push({ at, value, bend: 0 });
    }
  }
  return points;
}

/** A number that can be read where the points are written down one by one. */
const written = (value: number) => Number(value.toPrecision(9));

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

/** The whole curve as breakpoints; the same ones each time for the same curve. */
export const breakpointsOf = remembered((curve: Curve): Breakpoints => {
  const { over, points, shapes = [] } = curve;
  if (shapes.length === 0) return { over, points };
  let all = [...points];
  for (const stamp of shapes) all = between(all, stamp);
  return { over, points: all };
});

/** A curve in which what lay between the stamp's places has given way to it. Other shapes that it cuts become points. */
export function stampOnto(curve: Curve, stamp: Stamp): Curve {
  const { shapes = [] } = curve;
  const stays = ({ start, end }: Stamp) => end <= stamp.start || start >= stamp.end;
  const cut = breakpointsOf({ ...curve, shapes: shapes.filter((shape) => !stays(shape)) });
  return {
    over: curve.over,
    points: cut.points.filter(({ at }) => at < stamp.start || at > stamp.end),
    shapes: [...shapes.filter(stays), stamp].sort((a, b) => a.start - b.start),
  };
}

/** Breakpoints that were edited, with those shapes of before of which every point is as it was. */
export function withShapesOf(before: Curve, edited: Breakpoints): Curve {
  let { points } = edited;
  const shapes = (edited.over === before.over ? (before.shapes ?? []) : []).filter((stamp) => {
    const own = stampedPoints(stamp);
    const first = points.findIndex((_, n) => own.every((point, m) => samePoint(point, points[n + m])));
    if (first < 0) return false;
    points = points.toSpliced(first, own.length);
    return true;
  });
  return shapes.length > 0 ? { over: edited.over, points, shapes } : edited;
}

function between(points: readonly CurvePoint[], stamp: Stamp): CurvePoint[] {
  const behind = points.findIndex(({ at }) => at >= stamp.end);
  const before = points.filter(({ at }, n) => at <= stamp.start && (behind < 0 || n < behind));
  const inside = points.filter(({ at }) => at > stamp.start && at < stamp.end);
  const after = behind < 0 ? [] : points.slice(behind);
  const drawn = [...stampedPoints(stamp), ...inside].sort((a, b) => a.at - b.at);
  return [...before, ...drawn, ...after];
}

function samePoint(a: CurvePoint, b: CurvePoint | undefined): boolean {
  return b !== undefined && a.at === b.at && a.value === b.value && a.bend === b.bend;
}
