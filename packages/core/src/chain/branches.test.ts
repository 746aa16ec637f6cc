import { BUILT_INS } from '../catalogue/builtIns.ts';
import { describe, expect, test } from 'vitest';
import { chainOf } from '../testing/chains.ts';
import {
  addBranch,
  allStages,
  branchesBefore,
  changeList,
  mapStages,
  numberedStages,
  placeOf,
  removeBranch,
  takesClipStages,
  withBranches,
  withSolos,
} from './branches.ts';
import { editedText } from '../testing/chains.ts';
import { assign, newStage } from './edit.ts';
import { parseChain } from './validate.ts';

const nested = () =>
  chainOf([
    { kind: 'gain' },
    {
      kind: 'split',
      branches: [
        { id: 'a', stages: [{ id: 'dull', kind: 'filter' }] },
        {
          id: 'b',
          name: 'Air',
          stages: [{ id: 'inner', kind: 'split', branches: [{ id: 'c', stages: [{ id: 'deep', kind: 'hall' }] }] }],
        },
      ],
    },
  ]);

test('stages are found, numbered and changed wherever they stand', () => {
  const chain = nested();
  expect(allStages(chain.stages).map(({ stage, depth }) => [stage.id, depth])).toEqual([
    ['gain', 1],
    ['split', 1],
    ['dull', 2],
    ['inner', 2],
    ['deep', 3],
  ]);
  expect(numberedStages(BUILT_INS, chain).map(({ number, branch }) => [number, branch])).toEqual([
    ['1', undefined],
    ['2', undefined],
    ['2a1', 'Branch 1'],
    ['2b1', 'Air'],
    ['2b1a1', 'Branch 1'],
  ]);
  expect(placeOf(chain, 'deep')).toEqual({ branchId: 'c', index: 0, count: 1 });
  expect(placeOf(chain, 'nobody')).toBeUndefined();
  expect(assign(BUILT_INS, chain, 'deep.decay=5s')).toEqual(
    parseChain(BUILT_INS, editedText(chain, '"decay":2.5', '"decay":5')),
  );
  expect(allStages(changeList(chain, 'c', () => []).stages)).toHaveLength(4);
  expect(allStages(mapStages(chain, (stages, branch) => (branch === 'a' ? [] : stages)).stages)).toHaveLength(4);
});

test('branches come and go with what the settings ask for, and keep what is in them', () => {
  const chain = nested();
  const bands = withBranches(
    BUILT_INS,
    { ...chain.stages[1], settings: { ...chain.stages[1].settings, mode: '4 bands' } },
    new Set(),
  );
  expect(bands.branches?.map(({ stages }) => stages.length)).toEqual([1, 1, 0, 0]);
  const sides = withBranches(BUILT_INS, { ...bands, settings: { ...bands.settings, mode: 'mid/side' } }, new Set());
  expect(sides.branches).toHaveLength(2);
  expect(newStage(BUILT_INS, chain, { kind: 'split' }).branches).toHaveLength(2);
  expect(newStage(BUILT_INS, chain, { kind: 'split' }).id).toBe('split2');
});

test('a branch alone mutes those beside it and no others', () => {
  const muted = (solos: string[]) =>
    allStages(withSolos(nested(), solos).stages).flatMap(({ stage }) =>
      (stage.branches ?? []).map(({ id, muted: off }) => `${id}${off ? ' muted' : ''}`),
    );
  expect(muted([])).toEqual(['a', 'b', 'c']);
  expect(muted(['b'])).toEqual(['a muted', 'b', 'c']);
  expect(muted(['c'])).toEqual(['a', 'b', 'c']);
});

describe('past the limits a chain is refused with the limit named', () => {
  const fault = (stages: object[]) => () => chainOf(stages as never);
  const inside = (stage: object, depth: number): object =>
    depth === 0
      ? stage
      : { id: `s${depth}`, kind: 'split', branches: [{ id: `b${depth}`, stages: [inside(stage, depth - 1)] }] };
  test('64 stages in all, those inside others counted', () => {
    const many = (count: number) => Array.from({ length: count }, (_, n) => ({ id: `g${n}`, kind: 'gain' }));
    expect(fault(many(64))).not.toThrow();
    expect(fault(many(65))).toThrow('at most 64');
    const split = { kind: 'split', branches: [{ id: 'b', stages: many(40) }] };
    expect(fault([split, ...many(23).map((stage) => ({ ...stage, id: `x${stage.id}` }))])).not.toThrow();
    expect(fault([split, ...many(24).map((stage) => ({ ...stage, id: `x${stage.id}` }))])).toThrow('at most 64');
  });
  test('depth 4', () => {
    expect(fault([inside({ id: 'g', kind: 'gain' }, 3)] as never)).not.toThrow();
    expect(fault([inside({ id: 'g', kind: 'gain' }, 4)] as never)).toThrow('5 deep inside each other; at most 4');
  });
  test('what needs the whole clip cannot stand in a loop, but in a split and in what works on pieces', () => {
    const loop = (stages: unknown[]) => ({ id: 'loop', kind: 'echo', branches: [{ id: 'l', stages }] });
    expect(fault([loop([{ id: 'r', kind: 'reverse' }])] as never)).toThrow('needs the whole sound');
    expect(fault([inside({ id: 'r', kind: 'reverse' }, 1)] as never)).not.toThrow();
    const pieces = (stages: unknown[]) => ({ kind: 'slices', branches: [{ id: 'p', stages }] });
    expect(fault([pieces([{ id: 'r', kind: 'reverse' }])] as never)).not.toThrow();
    const chain = chainOf([pieces([inside({ id: 'g', kind: 'gain' }, 1), loop([])]) as never]);
    const split = allStages(chain.stages)[1].stage.branches![0].id;
    const takes = [undefined, 'p', split, 'l'].map((id) => takesClipStages(BUILT_INS, chain, id));
    expect(takes).toEqual([true, true, true, false]);
  });
  test('a branch is added and removed, with an id of its own', () => {
    const one = chainOf([{ kind: 'slices', branches: [{ id: 'p', stages: [] }] } as never]);
    const two = addBranch(BUILT_INS, one, 'slices');
    expect(two.stages[0].branches!.map(({ id }) => id)).toEqual(['p', expect.not.stringMatching(/^p$/)]);
    expect(removeBranch(two, two.stages[0].branches![1].id)).toEqual(one);
  });
  test('ids twice, branches too many, a kind that is not', () => {
    expect(fault([{ id: 'x', kind: 'split', branches: [{ id: 'x' }] }])).toThrow('used twice');
    const nine = Array.from({ length: 3 }, (_, n) => ({ id: `b${n}` }));
    expect(fault([{ kind: 'split', settings: { mode: '2 bands' }, branches: nine }])).toThrow(
      '3 branches; 2 are allowed',
    );
    expect(fault([inside({ id: 'w', kind: 'wobble' }, 1)])).toThrow('no stage of kind "wobble"');
  });
});

test('the branches before a stage are those that may lead it, at every depth', () => {
  const inner = {
    id: 'inner',
    kind: 'split',
    branches: [
      { id: 'c', name: 'See' },
      { id: 'd', stages: [{ id: 'deep', kind: 'gain' }] },
    ],
  };
  const chain = chainOf([
    {
      kind: 'split',
      branches: [{ id: 'a', stages: [{ id: 'first', kind: 'gain' }] }, { id: 'b', stages: [inner] }, { id: 'z' }],
    },
  ]);
  expect(branchesBefore(BUILT_INS, chain, 'deep')).toEqual([
    { id: 'a', name: 'Branch 1' },
    { id: 'c', name: 'See' },
  ]);
  expect(branchesBefore(BUILT_INS, chain, 'first')).toEqual([]);
  expect(branchesBefore(BUILT_INS, chain, 'split')).toEqual([]);
});
