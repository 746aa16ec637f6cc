/** What is done to a drawn curve as a whole: moved, stretched, brought to a grid. */
import type { Breakpoints, CurvePoint } from './curve.ts';

export interface CurveFrame {
  readonly min: number;
  readonly max: number;
  /** Where it ends, in its own unit. */
  readonly length: number;
}

const inOrder = (points: readonly CurvePoint[]): CurvePoint[] => [...points].sort((a, b) => a.at - b.at);

/** The curve with every place times `time`, counted from its first point, and moved by `later`; cut at the frame's ends. */
export function scaledInTime(curve: Breakpoints, time: number, later: number, { length }: CurveFrame): Breakpoints {
  const first = curve.points[0]?.at ?? 0;
  const points = curve.points.map((point) => ({ ...point, at: first + (point.at - first) * time + later }));
  return { ...curve, points: inOrder(points.map((point) => ({ ...point, at: within(point.at, 0, length) }))) };
}

/** The curve with every value times `factor`, counted from the middle of its range, and moved by `higher`; kept in range. */
export function scaledInValue(
  curve: Breakpoints,
  factor: number,
  higher: number,
  { min, max }: CurveFrame,
): Breakpoints {
  const values = curve.points.map(({ value }) => value);
  const middle = (Math.min(...values) + Math.max(...values)) / 2;
  const points = curve.points.map((point) => ({
    ...point,
    value: within(middle + (point.value - middle) * factor + higher, min, max),
  }));
  return { ...curve, points };
}

/** The curve with each place on the nearest line of a grid. */
export function snapped(curve: Breakpoints, grid: number): Breakpoints {
  if (!(grid > 0)) return curve;
  return { ...curve, points: curve.points.map((point) => ({ ...point, at: Math.round(point.at / grid) * grid })) };
}

/** A curve drawn for one range, for another: its values keep their place between least and most. */
export function carriedOver(
  curve: Breakpoints,
  place: (value: number) => number,
  value: (place: number) => number,
): Breakpoints {
  return { ...curve, points: curve.points.map((point) => ({ ...point, value: value(place(point.value)) })) };
}

function within(value: number, min: number, max: number): number {
  return Math.max(min, Math.min(max, value));
}
