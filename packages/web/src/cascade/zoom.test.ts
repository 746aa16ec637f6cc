import fc from 'fast-check';
import { expect, test } from 'vitest';
import { around, inside, panned, zoomed } from './zoom.ts';

const all = { start: -2, end: 10 };
const part = { start: 1, end: 3 };

test('what is zoomed at stays where it is seen', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 0.1, max: 0.9, noNaN: true }),
      fc.double({ min: 0.2, max: 1.2, noNaN: true }),
      (share, factor) => {
        const at = part.start + share * 2;
        const next = zoomed(part, all, factor, at);
        if (!next) return;
        const there = (at - next.start) / (next.end - next.start);
        if (next.start > all.start && next.end < all.end) expect(there).toBeCloseTo(share, 9);
      },
    ),
    { endOnFailure: true },
  );
});

test('never outside of what there is, never longer, never shorter than can be drawn', () => {
  const place = fc.double({ min: -20, max: 20, noNaN: true });
  fc.assert(
    fc.property(place, place, fc.double({ min: 0.001, max: 50, noNaN: true }), (a, b, factor) => {
      for (const next of [
        inside({ start: Math.min(a, b), end: Math.max(a, b) }, all),
        zoomed(part, all, factor, a),
        panned(part, all, b),
      ]) {
        if (!next) continue;
        expect(next.start).toBeGreaterThanOrEqual(all.start);
        expect(next.end).toBeLessThanOrEqual(all.end + 1e-9);
        expect(next.end - next.start).toBeGreaterThanOrEqual(0.0005 - 1e-12);
      }
    }),
    { endOnFailure: true },
  );
});

test('zoomed out far enough, all is shown; a region is shown with room on both sides', () => {
  expect(zoomed(part, all, 100, 2)).toBeNull();
  expect(around(part, all)).toEqual({ start: 0.9, end: 3.1 });
  expect(around({ start: -2, end: -1 }, all)?.start).toBe(-2);
  expect(panned(part, all, 0.5)).toEqual({ start: 2, end: 4 });
  expect(panned(part, all, 99)).toEqual({ start: 8, end: 10 });
});
