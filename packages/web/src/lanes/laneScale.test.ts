import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { BUILT_INS, isScaled, type Curve, type Param, type ScaledParam } from '@hexenkessel/core/stages';
import { laneScale } from './laneScale.ts';
import { gridSeconds, unitSeconds } from './laneTime.ts';

const timing = { tempo: 120, meter: [3, 4] } as const;
const params = BUILT_INS.stages.flatMap((stage) => Object.values(stage.params));
const scaled = params.filter((param): param is ScaledParam => isScaled(param));
const cutoff = BUILT_INS.stages.find(({ kind }) => kind === 'filter')!.params['cutoff'];
const curve = (...values: number[]): Curve => ({
  over: 'seconds',
  points: values.map((value, at) => ({ at, value, bend: 0 })),
});

describe('a lane between its values and their places', () => {
  test('there and back it says the same, to six digits, within the range, on every kind of scale', () => {
    fc.assert(
      fc.property(fc.constantFrom(...scaled), fc.double({ min: 0, max: 1, noNaN: true }), (param, share) => {
        const value = param.min + share * (param.max - param.min);
        const drawing = laneScale(param, timing);
        const [back] = drawing.toValues(drawing.toPlaces(curve(value))).points;
        expect(back.value).toBeGreaterThanOrEqual(param.min);
        expect(back.value).toBeLessThanOrEqual(param.max);
        expect(Math.abs(back.value - value)).toBeLessThan(1e-5 * Math.max(1, Math.abs(param.max), Math.abs(param.min)));
      }),
    );
  });

  test('is read and typed in the unit of the row; a note value too', () => {
    const drawing = laneScale(cutoff, timing);
    expect(drawing.text(drawing.parse('1.2 kHz'))).toBe('1.2 kHz');
    expect(() => drawing.parse('5 Hz')).toThrow('5 Hz is out of range; allowed is 20 Hz to 20 kHz.');
    const decay = BUILT_INS.stages.find(({ kind }) => kind === 'hall')!.params['decay'];
    const time = laneScale(decay, timing);
    expect(time.text(time.parse('2 beats'))).toBe('1 s');
  });

  test('a shape stays one where the scale is straight; on another it is drawn as it looks, point by point', () => {
    const sine = { shape: 'sine', start: 0, end: 2, from: 0.25, to: 0.75, cycles: 1, seed: 1 } as const;
    const drawn: Curve = { over: 'seconds', points: [], shapes: [sine] };
    const gain = BUILT_INS.stages.find(({ kind }) => kind === 'gain')!.params['gain'] as ScaledParam;
    const straight = laneScale(gain, timing).toValues(drawn);
    const at = (share: number) => gain.min + share * (gain.max - gain.min);
    expect(straight).toEqual({ ...drawn, shapes: [{ ...sine, from: at(0.25), to: at(0.75) }] });
    expect(laneScale(gain, timing).toPlaces(straight)).toEqual(drawn);
    const bent = laneScale(cutoff, timing);
    const points = bent.toValues(drawn);
    expect(points.shapes).toBeUndefined();
    const middle = points.points.find((point) => Math.abs(point.at - 1) < 1e-9)!;
    expect(middle.value).toBeCloseTo(20 * 1000 ** 0.75, 0);
    for (const { value } of points.points) expect(String(value).replace('.', '').length).toBeLessThanOrEqual(7);
  });

  test('a switch is on or off and stands', () => {
    const hold = params.find((param): param is Param & { type: 'toggle' } => param.type === 'toggle')!;
    const drawing = laneScale(hold, timing);
    expect(drawing.stands).toBe(true);
    expect([drawing.rounded(0.4), drawing.rounded(0.6), drawing.parse('on')]).toEqual([0, 1, 1]);
    expect([drawing.text(0), drawing.text(1)]).toEqual(['off', 'on']);
  });
});

test('what a lane counts, and its grid, in seconds', () => {
  expect([unitSeconds('seconds', timing, 8), unitSeconds('beats', timing, 8), unitSeconds('clip', timing, 8)]).toEqual([
    1, 0.5, 8,
  ]);
  expect((['free', '1/16', '1/8', 'beat', 'bar'] as const).map((grid) => gridSeconds(grid, timing))).toEqual([
    0, 0.125, 0.25, 0.5, 1.5,
  ]);
});
