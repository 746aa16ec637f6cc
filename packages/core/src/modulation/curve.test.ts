import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { CurveReader, bentWay, curveAt, inSeconds, type Breakpoints, type Curve } from './curve.ts';
import { breakpointsOf, stampOnto, stampedPoints, withShapesOf } from './stampedShape.ts';
import { SHAPES, type Stamp } from './stamp.ts';
import * as z from 'zod';
import { curveSchemaOf } from '../params/types/curve.ts';
import { parseCurve, printCurve } from './writtenCurve.ts';

const curve = (...points: [number, number, number?][]): Breakpoints => ({
  over: 'clip',
  points: points.map(([at, value, bend = 0]) => ({ at, value, bend })),
});
/** Any number of a range; there is no −0 in writing. */
const number = (min: number, max: number) => fc.double({ min, max, noNaN: true }).map((x) => x + 0);
const anyCurve = fc
  .array(fc.record({ at: number(0, 1), value: number(-48, 48), bend: number(-1, 1) }), { minLength: 1, maxLength: 12 })
  .map((points): Breakpoints => ({ over: 'clip', points: points.sort((a, b) => a.at - b.at) }));

describe('a curve', () => {
  test('is straight between its points, stands outside them, and steps where two share a place', () => {
    const line = curve([0.2, 10], [0.6, -10], [0.6, 5], [1, 5]);
    expect([0, 0.2, 0.4, 0.5999999, 0.6, 0.8, 1, 2].map((at) => Math.round(curveAt(line, at)) + 0)).toEqual([
      10, 10, 0, -10, 5, 5, 5, 5,
    ]);
  });

  test('at a breakpoint it is the breakpoint’s value, whatever the bend', () => {
    fc.assert(
      fc.property(anyCurve, (any) => {
        for (const { at } of any.points) {
          const last = any.points.findLast((point) => point.at === at)!;
          expect(Math.abs(curveAt(any, at) - last.value)).toBeLessThan(1e-6);
        }
      }),
    );
  });

  test('read frame by frame it is the same as looked up', () => {
    fc.assert(
      fc.property(anyCurve, (any) => {
        const reader = new CurveReader(any);
        for (let n = 0; n <= 50; n++) expect(reader.at(n / 50)).toBe(curveAt(any, n / 50));
      }),
    );
  });

  test('a bend keeps the ends, hurries late above zero, early below', () => {
    for (const bend of [-1, -0.3, 0, 0.3, 1]) {
      expect(Math.abs(bentWay(0, bend))).toBe(0);
      expect(bentWay(1, bend)).toBeCloseTo(1, 12);
      expect(Math.sign(0.5 - bentWay(0.5, bend))).toBe(Math.sign(bend));
    }
  });

  test('beats become seconds', () => {
    const beats: Breakpoints = { ...curve([0, 1], [4, 2]), over: 'beats' };
    expect(inSeconds(beats, 0.5)).toEqual({ ...curve([0, 1], [2, 2]), over: 'seconds' });
  });
});

describe('stamped shapes', () => {
  const stamp = (rest: Partial<Stamp>): Stamp => ({
    shape: 'line',
    start: 1,
    end: 3,
    from: 0,
    to: 12,
    cycles: 1,
    seed: 1,
    ...rest,
  });
  const at = (shape: Stamp, share: number) => curveAt({ over: 'seconds', points: stampedPoints(shape) }, 1 + 2 * share);

  test.each(SHAPES)('%s lies between its places and its values, as often as it is asked for', (shape) => {
    for (const cycles of [1, 3]) {
      const points = stampedPoints(stamp({ shape, cycles }));
      expect([points[0].at, points.at(-1)!.at]).toEqual([1, 3]);
      expect(points.every(({ value }) => value >= 0 && value <= 12)).toBe(true);
      expect(points.every((point, n) => n === 0 || point.at >= points[n - 1].at)).toBe(true);
    }
  });

  test('each is what it is called', () => {
    expect(at(stamp({ shape: 'line' }), 0.25)).toBeCloseTo(3, 9);
    expect(at(stamp({ shape: 'triangle' }), 0.25)).toBeCloseTo(6, 9);
    expect(at(stamp({ shape: 'triangle' }), 0.75)).toBeCloseTo(6, 9);
    expect([at(stamp({ shape: 'square' }), 0.3), at(stamp({ shape: 'square' }), 0.7)]).toEqual([0, 12]);
    expect(at(stamp({ shape: 'saw', cycles: 2 }), 0.49)).toBeGreaterThan(11.5);
    expect(at(stamp({ shape: 'saw', cycles: 2 }), 0.51)).toBeLessThan(0.5);
    for (let n = 0; n <= 20; n++) {
      expect(at(stamp({ shape: 'sine' }), n / 20)).toBeCloseTo(6 - 6 * Math.cos((2 * Math.PI * n) / 20), 1);
      expect(at(stamp({ shape: 'parabola' }), n / 20)).toBeCloseTo(48 * (n / 20) * (1 - n / 20), 1);
    }
    expect(stampedPoints(stamp({ shape: 'random', seed: 1 }))).not.toEqual(
      stampedPoints(stamp({ shape: 'random', seed: 2 })),
    );
    expect(stampedPoints(stamp({ shape: 'random', seed: 5 }))).toEqual(
      stampedPoints(stamp({ shape: 'random', seed: 5 })),
    );
  });

  test('onto a curve: what lay between its places gives way, the rest stays', () => {
    const before = curve([0, 1], [0.4, 2], [0.5, 3], [0.9, 4]);
    const after = stampOnto(before, stamp({ start: 0.3, end: 0.6 }));
    expect(breakpointsOf(after).points.map((point) => point.at)).toEqual([0, 0.3, 0.6, 0.9]);
    expect(after.points.map((point) => point.at)).toEqual([0, 0.9]);
    expect(after.shapes).toEqual([stamp({ start: 0.3, end: 0.6 })]);
  });

  const shape = fc.record({
    shape: fc.constantFrom(...SHAPES),
    start: number(0, 0.7),
    length: number(0.01, 0.3),
    from: number(-48, 48),
    to: number(-48, 48),
    cycles: fc.integer({ min: 1, max: 5 }),
    seed: fc.integer({ min: 0, max: 9 }),
  });
  const stamped = fc
    .tuple(anyCurve, fc.array(shape, { minLength: 1, maxLength: 4 }))
    .map(([before, shapes]) =>
      shapes.reduce<Curve>(
        (all, { start, length, ...rest }) => stampOnto(all, { ...rest, start, end: start + length }),
        before,
      ),
    );

  test('one after the other they lie beside each other, the newest whole, and outside of it nothing has changed', () => {
    fc.assert(
      fc.property(stamped, shape, (before, { start, length, ...rest }) => {
        const newest = { ...rest, start, end: start + length };
        const after = stampOnto(before, newest);
        const drawn = breakpointsOf(after);
        expect(drawn.points.every(({ at }, n) => n === 0 || at >= drawn.points[n - 1].at)).toBe(true);
        const shapes = after.shapes ?? [];
        expect(shapes.every((one, n) => n === 0 || one.start >= shapes[n - 1].end)).toBe(true);
        const own = stampedPoints(newest);
        const first = drawn.points.findIndex(({ at }, n) => at === own[0].at && drawn.points[n + 1].at === own[1].at);
        expect(drawn.points.slice(first, first + own.length)).toEqual(own);
        const outside = ({ points }: Breakpoints) => points.filter(({ at }) => at < start || at > newest.end);
        expect(outside(drawn)).toEqual(outside(breakpointsOf(before)));
      }),
    );
  });

  test('they stay shapes until one of their points is another one; the others stay', () => {
    fc.assert(
      fc.property(stamped, fc.nat(), (before, drawn) => {
        const whole = breakpointsOf(before);
        expect(withShapesOf(before, whole)).toEqual(before);
        const n = drawn % whole.points.length;
        const moved = {
          ...whole,
          points: whole.points.map((point, m) => (m === n ? { ...point, value: point.value + 1 } : point)),
        };
        const after = withShapesOf(before, moved);
        expect(breakpointsOf(after)).toEqual(moved);
        expect((before.shapes ?? []).length - (after.shapes ?? []).length).toBeLessThanOrEqual(1);
      }),
    );
  });

  test('a shape is written by its name, and read again', () => {
    fc.assert(
      fc.property(stamped, (any) => {
        expect(parseCurve(printCurve(any))).toEqual(any);
      }),
    );
    expect(parseCurve('seconds 0:1 Sine(1,3,0,12,4) 5:2')).toEqual({
      over: 'seconds',
      points: curve([0, 1], [5, 2]).points,
      shapes: [stamp({ shape: 'sine', cycles: 4 })],
    });
    expect(printCurve({ over: 'clip', points: [], shapes: [stamp({ shape: 'saw' })] })).toBe('clip saw(1,3,0,12,1,1)');
    expect(() => parseCurve('sine(1,3,0)')).toThrow(/a shape such as sine/);
    expect(() => parseCurve('sine(0.5,0.2,0,7)')).toThrow(/^sine\(0\.5,0\.2,0,7,1,1\) ends before it begins/);
    expect(() => parseCurve('saw(0.5,0.9,0,7) sine(0,0.7,0,7)')).toThrow(/^saw.* begins before the sine ends, at 0\.7/);
    expect(() => parseCurve('sine(0,1,0,7,2.5)')).toThrow(/goes 2\.5 times; write a whole number from 1 to 200/);
  });

  test('no point of it has more than nine digits', () => {
    for (const name of SHAPES)
      for (const { at: place, value } of stampedPoints(stamp({ shape: name, start: 0.3, end: 0.7, cycles: 7 })))
        for (const written of [place, value])
          expect(String(Math.abs(written)).replace(/^0\.0*|\./g, '').length <= 9, `${written}`).toBe(true);
  });

  test('what a document cannot hold is refused with a reason', () => {
    const schema = curveSchemaOf(z, -48, 48);
    const faults = (value: object) => schema.safeParse(value).error?.issues.map(({ message }) => message) ?? [];
    const one = stamp({ start: 0.1, end: 0.4 });
    expect(faults({ points: [], shapes: [one, stamp({ start: 0.4, end: 0.5 })] })).toEqual([]);
    expect(faults({ points: [], shapes: [one, stamp({ start: 0.3, end: 0.5 })] })).toEqual([
      expect.stringContaining('lie over each other'),
    ]);
    expect(faults({ points: [] })).toEqual([expect.stringContaining('neither breakpoints nor shapes')]);
    expect(faults({ points: [], shapes: [stamp({ start: 0.5, end: 1.5 })] })).toEqual([
      expect.stringContaining('end at 1'),
    ]);
    expect(faults({ points: [], shapes: [{ ...one, to: 90 }] })).toHaveLength(1);
  });
});

describe('a curve in writing', () => {
  test('is read again as it was', () => {
    fc.assert(
      fc.property(anyCurve, (any) => {
        expect(parseCurve(printCurve(any))).toEqual(any);
      }),
    );
  });

  test('typed out of order and without a unit it is put in order', () => {
    expect(parseCurve('1:−12 0:0~0.5')).toEqual(curve([0, 0, 0.5], [1, -12]));
    expect(parseCurve('beats 2:7').over).toBe('beats');
  });

  test.each(['', 'clip', '1', '0:x', '0:1~', 'weeks 0:1'])('"%s" is refused with an example', (text) => {
    expect(() => parseCurve(text)).toThrow(/such as "clip 0:24 1:-24"/);
  });
});
