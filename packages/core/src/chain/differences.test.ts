import fc from 'fast-check';
import { expect, test } from 'vitest';
import { BUILT_INS } from '../catalogue/builtIns.ts';
import { chainOf } from '../testing/chains.ts';
import { differences } from './differences.ts';
import { assign } from './edit.ts';
import { pinSetting } from './panel.ts';

const one = chainOf([{ kind: 'hall', name: 'Bay' }, { kind: 'gain' }]);
const told = (first: typeof one, second: typeof one) =>
  differences(BUILT_INS, first, second).map(({ what, first: here, second: there }) => [what, here, there]);

test('a setting, the tempo, the name: what it is here and there', () => {
  const other = { ...assign(BUILT_INS, one, 'hall.decay=4 beats'), name: 'Other' };
  expect(told(one, other)).toEqual([
    ['name', 'Test', 'Other'],
    ['Bay, decay time', '2.5 s', '4 beats'],
  ]);
  expect(told({ ...one, timing: { ...one.timing, tempo: 93 } }, one)[0]).toEqual([
    'tempo',
    '93 bpm, 4/4, of the chain',
    '120 bpm, 4/4, of the chain',
  ]);
});

test('a stage that is not there is said once, and the order', () => {
  const more = chainOf([{ kind: 'hall', name: 'Bay' }, { kind: 'gain' }, { kind: 'echo' }]);
  expect(told(one, more)).toEqual([
    ['order of the stages', 'Bay → Gain', 'Bay → Gain → Delay'],
    ['Delay', undefined, 'there'],
  ]);
  expect(told(more, one).at(-1)).toEqual(['Delay', 'there', undefined]);
  const turned = chainOf([{ kind: 'gain' }, { kind: 'hall', name: 'Bay' }]);
  expect(told(one, turned)).toEqual([['order of the stages', 'Bay → Gain', 'Gain → Bay']]);
});

test('a panel that was made otherwise, and one that has more controls', () => {
  const pinned = pinSetting(BUILT_INS, one, 'gain.gain');
  expect(told(one, pinned)).toEqual([['panel', '0 controls', '1 control']]);
  const renamed = { ...pinned, panel: [{ ...pinned.panel[0], name: 'Loud' }] };
  expect(told(pinned, renamed)).toEqual([['panel', '1 control', 'otherwise']]);
});

test('a chain differs from itself in nothing', () => {
  fc.assert(
    fc.property(
      fc.subarray(
        BUILT_INS.stages.map(({ kind }) => kind),
        { maxLength: 5 },
      ),
      (kinds) => {
        const chain = chainOf(kinds.map((kind) => ({ kind })));
        expect(differences(BUILT_INS, chain, JSON.parse(JSON.stringify(chain)) as typeof chain)).toEqual([]);
      },
    ),
    { numRuns: 20, endOnFailure: true },
  );
});
