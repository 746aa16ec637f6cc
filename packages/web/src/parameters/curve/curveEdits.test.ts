import { expect, test } from 'vitest';
import type { Breakpoints } from '@hexenkessel/core/stages';
import { inUnit, span, withPoint, withoutPoint } from './curveEdits.ts';

const curve: Breakpoints = {
  over: 'clip',
  points: [0, 0.5, 1].map((at) => ({ at, value: 12 * at, bend: 0 })),
};

test('a point goes where its place is, and leaves; the last one stays', () => {
  const more = withPoint(curve, { at: 0.7, value: 1, bend: 0 });
  expect(more.points.map(({ at }) => at)).toEqual([0, 0.5, 0.7, 1]);
  expect(withoutPoint(more, 2)).toEqual(curve);
  const one = { ...curve, points: [curve.points[0]] };
  expect(withoutPoint(one, 0)).toBe(one);
});

test('counted in something else it lies at the same moments', () => {
  // Eight seconds at two beats a second.
  const beats = inUnit(curve, 'beats', 8, 0.5);
  expect(beats.points.map(({ at }) => at)).toEqual([0, 8, 16]);
  expect(inUnit(beats, 'seconds', 8, 0.5).points.map(({ at }) => at)).toEqual([0, 4, 8]);
  expect(inUnit(beats, 'clip', 8, 0.5)).toEqual(curve);
  // On a shorter clip what lies behind its end comes to its end.
  expect(inUnit(beats, 'clip', 4, 0.5).points.map(({ at }) => at)).toEqual([0, 1, 1]);
  expect(span('beats', 8, 0.5)).toBe(16);
});
