import type { Breakpoints, Curve, CurvePoint } from '@hexenkessel/core/stages';

/** How far a clip reaches in what a curve counts. */
export function span(over: Curve['over'], seconds: number, secondsABeat: number): number {
  if (over === 'clip') return 1;
  return Math.max(1e-3, over === 'seconds' ? seconds : seconds / secondsABeat);
}

/** The same curve over a clip of this length, counted in something else. */
export function inUnit(curve: Curve, over: Curve['over'], seconds: number, secondsABeat: number): Curve {
  const factor = span(over, seconds, secondsABeat) / span(curve.over, seconds, secondsABeat);
  const most = over === 'clip' ? 1 : Infinity;
  const moved = (at: number) => Number(Math.min(most, at * factor).toPrecision(9));
  const points = curve.points.map((point) => ({ ...point, at: moved(point.at) }));
  const shapes = curve.shapes
    ?.map((shape) => ({ ...shape, start: moved(shape.start), end: moved(shape.end) }))
    .filter(({ start, end }) => end > start);
  return shapes ? { over, points, shapes } : { over, points };
}

/** With another point, where its place is. */
export function withPoint(curve: Breakpoints, point: CurvePoint): Breakpoints {
  const index = curve.points.findIndex(({ at }) => at > point.at);
  const before = index < 0 ? curve.points.length : index;
  return { ...curve, points: curve.points.toSpliced(before, 0, point) };
}

/** Without a point; the last one stays. */
export function withoutPoint(curve: Breakpoints, index: number): Breakpoints {
  return curve.points.length === 1 ? curve : { ...curve, points: curve.points.toSpliced(index, 1) };
}
