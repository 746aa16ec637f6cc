import { expect, test } from 'vitest';
import { clipOf, sine } from '../testing/signals.ts';
import { bestLoopEnd, nearestZero, seamDifference } from './loopSeam.ts';

test('the next rise through zero is found, within reach', () => {
  // 480 Hz at 48 kHz rises through zero every 100 frames; a little late, so that no sample is 0 itself.
  const clip = clipOf([Float32Array.from({ length: 4800 }, (_, i) => Math.sin((2 * Math.PI * (i - 0.5)) / 100))]);
  expect(nearestZero(clip, 1000, 60)).toBe(1001);
  expect(nearestZero(clip, 1049, 60)).toBe(1001);
  expect(nearestZero(clip, 1055, 60)).toBe(1101);
  expect(nearestZero(clip, 1049, 20)).toBe(1049);
  expect(nearestZero(clipOf([new Float32Array(500)]), 200, 100)).toBe(200);
});

test('a loop of whole periods has no seam; one that is half a period off has the worst', () => {
  const clip = sine(480, 0.5, 1);
  expect(seamDifference(clip, 1000, 9000)).toBeLessThan(1e-6);
  expect(seamDifference(clip, 1000, 9050)).toBeGreaterThan(1);
  expect(seamDifference(clip, 1000, 9002)).toBeGreaterThan(0.05);
  expect(seamDifference(clipOf([new Float32Array(500)]), 10, 400)).toBe(0);
});

test('the best end is where the sound is as at the start: a whole number of rounds later', () => {
  // Two tones that come round together every 2400 frames.
  const clip = clipOf([
    Float32Array.from(
      { length: 24_000 },
      (_, i) => Math.sin((2 * Math.PI * i) / 480 + 0.1) + Math.sin((2 * Math.PI * i) / 800),
    ),
  ]);
  const start = nearestZero(clip, 3000, 300);
  const end = bestLoopEnd(clip, start, 12_000, 1500);
  expect(Math.abs((end - start) % 2400)).toBeLessThanOrEqual(1);
  expect(seamDifference(clip, start, end)).toBeLessThan(0.02);
  expect(bestLoopEnd(clipOf([new Float32Array(900)]), 10, 500, 200)).toBe(500);
});
