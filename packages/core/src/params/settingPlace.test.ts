import { BUILT_INS } from '../catalogue/builtIns.ts';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { toCanonical, toPlace } from './types/paramScale.ts';
import { isScaled, type ScaledParam, type SettingValue } from './params.ts';
import { canonical, settingAt, stepped } from './settingPlace.ts';

const timing = { tempo: 93, meter: [4, 4] } as const;
const params = BUILT_INS.stages.flatMap((stage) => Object.values(stage.params).filter(isScaled));
const decay = BUILT_INS.stages.find(({ kind }) => kind === 'hall')?.params['decay'] as ScaledParam;

test('place and value are each other’s inverse on every row', () => {
  for (const param of params) {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 1, noNaN: true }), (place) => {
        expect(toPlace(param, toCanonical(param, place))).toBeCloseTo(place, 6);
      }),
      { numRuns: 50 },
    );
    expect([toPlace(param, param.min), toPlace(param, param.max)].map((place) => Number(place.toFixed(9)))).toEqual([
      0, 1,
    ]);
  }
});

test('whatever is pointed at is in range', () => {
  const likes: SettingValue[] = [1, { beats: 2 }, { bars: 1 }, { note: '1/8' }, { samples: 100 }];
  fc.assert(
    fc.property(
      fc.constantFrom(...params),
      fc.double({ min: -0.5, max: 1.5, noNaN: true }),
      fc.constantFrom(...likes),
      (param, place, like) => {
        if (typeof like === 'object' && param.type !== 'time') return;
        const value = settingAt(param, place, like, timing);
        // Where no musical length fits, the row keeps what it has.
        if (JSON.stringify(value) === JSON.stringify(like)) return;
        expect(canonical(param, value, timing)).toBeGreaterThanOrEqual(param.min - 1e-3);
        expect(canonical(param, value, timing)).toBeLessThanOrEqual(param.max + 1e-3);
      },
    ),
  );
});

describe('a row keeps the unit it is written in', () => {
  test('beats stay beats, in quarters', () => {
    expect(settingAt(decay, toPlace(decay, 5.2), { beats: 2 }, timing)).toEqual({ beats: 8 });
    expect(settingAt(decay, toPlace(decay, 0.34), { beats: 2 }, timing)).toEqual({ beats: 0.5 });
  });
  test('note values stay note values', () =>
    expect(settingAt(decay, toPlace(decay, 0.97), { note: '1/4' }, timing)).toEqual({ note: '1/4d' }));
  test('seconds stay seconds', () => expect(settingAt(decay, toPlace(decay, 5.2), 1, timing)).toBe(5.2));
});

test('a step always moves, up and down, and stops at the ends', () => {
  expect(canonical(decay, stepped(decay, 1, 1, timing), timing)).toBeGreaterThan(1);
  expect(canonical(decay, stepped(decay, 1, -1, timing), timing)).toBeLessThan(1);
  expect(canonical(decay, stepped(decay, { beats: 8 }, 1, timing), timing)).toBeGreaterThan(
    canonical(decay, { beats: 8 }, timing),
  );
  expect(stepped(decay, decay.max, 1, timing)).toBe(decay.max);
});
