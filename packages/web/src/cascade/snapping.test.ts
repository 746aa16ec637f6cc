import fc from 'fast-check';
import { expect, test } from 'vitest';
import { nearest, zeroCrossing } from './snapping.ts';

test('the nearest place is that which a search through all finds', () => {
  const places = fc
    .array(fc.double({ min: 0, max: 100, noNaN: true }), { maxLength: 30 })
    .map((list) => list.sort((a, b) => a - b));
  fc.assert(
    fc.property(
      places,
      fc.double({ min: -10, max: 110, noNaN: true }),
      fc.double({ min: 0, max: 20, noNaN: true }),
      (list, at, reach) => {
        const away = Math.min(...list.map((place) => Math.abs(place - at)));
        const found = nearest(list, at, reach);
        if (away > reach) expect(found).toBeUndefined();
        else expect(Math.abs(found! - at)).toBe(away);
      },
    ),
    { endOnFailure: true },
  );
});

test.each([440, 97.3, 3001])('of a sine of %d Hz, a zero crossing is found within half a period', (frequency) => {
  const sine = Float32Array.from({ length: 9600 }, (_, i) => Math.sin((2 * Math.PI * frequency * i) / 48000));
  const period = 48000 / frequency;
  for (let at = 400; at < 9000; at += 61) {
    const found = zeroCrossing([sine], at, Math.ceil(period / 2));
    expect(Math.abs(found - at)).toBeLessThanOrEqual(period / 2 + 1);
    const [before, behind] = [sine[found - 1], sine[found]];
    expect(before <= 0).not.toBe(behind <= 0);
  }
});

test('where nothing crosses zero, it stays where it was', () => {
  expect(zeroCrossing([new Float32Array(1000).fill(0.5)], 500, 200)).toBe(500);
  expect(zeroCrossing([], 5, 10)).toBe(5);
});
