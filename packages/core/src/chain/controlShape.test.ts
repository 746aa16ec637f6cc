import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { BUILT_INS } from '../catalogue/builtIns.ts';
import { chainOf } from '../testing/chains.ts';
import { changeDriven, movedByControl, reshapeControl, sameNamed } from './controlShape.ts';
import { pinSetting, turnControl } from './panel.ts';
import { findTarget } from './targets.ts';

const valueOf = (chain: ReturnType<typeof chainOf>, target: string) =>
  findTarget(BUILT_INS, chain, target)?.value as number;
const gain = (value: number) =>
  pinSetting(BUILT_INS, chainOf([{ kind: 'gain', settings: { gain: value } }]), 'gain.gain');
const id = 'control';

describe('a range that is narrowed', () => {
  test('leaves the setting where it is, as long as it reaches it', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -60, max: 20 }),
        fc.integer({ min: -96, max: -61 }),
        fc.integer({ min: 21, max: 36 }),
        (value, from, to) => {
          const before = gain(value);
          const after = changeDriven(
            BUILT_INS,
            changeDriven(BUILT_INS, before, id, 'gain.gain', { from }),
            id,
            'gain.gain',
            { to },
          );
          expect(valueOf(after, 'gain.gain')).toBeCloseTo(value, 3);
          expect(after.panel[0].drives[0]).toMatchObject({ from, to });
        },
      ),
      { numRuns: 100, endOnFailure: true },
    );
  });

  test('takes the setting to its nearer end where it does not, and says so', () => {
    const before = gain(12);
    const low = changeDriven(BUILT_INS, before, id, 'gain.gain', { from: -30, to: 0 });
    expect(valueOf(low, 'gain.gain')).toBe(0);
    expect(movedByControl(BUILT_INS, before, low, id)).toEqual(['Gain, gain: 0 dB, was 12 dB']);
    const high = changeDriven(BUILT_INS, before, id, 'gain.gain', { from: 20, to: 30 });
    expect(valueOf(high, 'gain.gain')).toBe(20);
    expect(movedByControl(BUILT_INS, before, gain(12), id)).toEqual([]);
  });

  test('of a control that drives several keeps its place, and what had to move is named', () => {
    const two = pinSetting(
      BUILT_INS,
      pinSetting(BUILT_INS, chainOf([{ kind: 'filter' }, { kind: 'gain' }]), 'gain.gain'),
      'filter.cutoff',
      id,
    );
    const after = changeDriven(BUILT_INS, two, id, 'gain.gain', { from: -10, to: 0 });
    expect(after.panel[0].value).toBe(two.panel[0].value);
    expect(valueOf(after, 'filter.cutoff')).toBe(valueOf(two, 'filter.cutoff'));
    expect(movedByControl(BUILT_INS, two, after, id)).toHaveLength(1);
  });
});

test('other numbers on the scale, another curve: the number changes, what is driven stays', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 0, max: 100, noNaN: true }),
      fc.record({
        min: fc.integer({ min: -50, max: 0 }),
        max: fc.integer({ min: 1, max: 500 }),
        bend: fc.double({ min: -1, max: 1, noNaN: true }),
      }),
      (at, shape) => {
        const before = turnControl(BUILT_INS, gain(0), id, at);
        const after = reshapeControl(BUILT_INS, before, id, shape);
        expect(valueOf(after, 'gain.gain')).toBeCloseTo(valueOf(before, 'gain.gain'), 2);
        expect(after.panel[0]).toMatchObject(shape);
        expect(after.panel[0].value).toBeGreaterThanOrEqual(shape.min);
        expect(after.panel[0].value).toBeLessThanOrEqual(shape.max);
      },
    ),
    { numRuns: 100, endOnFailure: true },
  );
});

test('a second control for a parameter of the same name gets a name of its own; one named alike is seen', () => {
  const chain = chainOf([{ kind: 'gain' }, { kind: 'gain', id: 'second' }]);
  const both = pinSetting(BUILT_INS, pinSetting(BUILT_INS, chain, 'gain.gain'), 'second.gain');
  expect(both.panel.map(({ name }) => name)).toEqual(['Gain', 'Gain 2']);
  expect(sameNamed(both.panel, both.panel[1])).toBe(false);
  expect(sameNamed(both.panel, { ...both.panel[1], name: ' gain ' })).toBe(true);
});
