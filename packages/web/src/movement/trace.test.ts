import { expect, test } from 'vitest';
import type { MovementTrace } from '@hexenkessel/core/engine';
import { tracePath } from './traceReading.ts';
import { tracedAt } from './traceReading.ts';

const values = Float32Array.from([0, 1, 0, -1]);
const trace: MovementTrace = { origin: -100, step: 100, sampleRate: 1000, modulators: { a: values }, targets: {} };

test('a trace is read at any time, straight between its values, still beyond its ends', () => {
  expect([-1, -0.1, -0.05, 0, 0.15, 9].map((at) => tracedAt(trace, values, at))).toEqual([
    0,
    0,
    expect.closeTo(0.5, 6),
    expect.closeTo(1, 6),
    expect.closeTo(-0.5, 6),
    -1,
  ]);
  expect(tracedAt(trace, undefined, 0)).toBeUndefined();
});

test('a path spans its width, and shows the highest and lowest of each column', () => {
  const points = tracePath(values, 3, 24, true)
    .slice(1)
    .split('L')
    .map((pair) => pair.split(',').map(Number));
  expect(points[0][0]).toBe(0);
  expect(points.at(-1)?.[0]).toBe(3);
  const heights = points.map(([, y]) => y);
  // 1 at the top, −1 at the bottom, two pixels from the edges.
  expect([Math.min(...heights), Math.max(...heights)]).toEqual([2, 22]);
});
