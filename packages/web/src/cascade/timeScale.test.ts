import { expect, test } from 'vitest';
import { markStep, marks, toPixel, toSeconds } from './timeScale.ts';

const scale = { start: -2, end: 6, width: 800 };

test('pixels and seconds', () => {
  expect(toPixel(scale, 0)).toBe(200);
  expect(toSeconds(scale, 200)).toBe(0);
  expect(toSeconds(scale, toPixel(scale, 3.21))).toBeCloseTo(3.21, 9);
});

test('marks are far enough apart and lie on multiples', () => {
  expect(markStep(scale, [0.1, 0.5, 1, 2], 60)).toBe(1);
  expect(markStep(scale, [0.1, 0.5], 600)).toBe(0.5);
  expect(marks(scale, 2).map((seconds) => seconds + 0)).toEqual([-2, 0, 2, 4, 6]);
});
