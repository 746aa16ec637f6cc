import { expect, test } from 'vitest';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { parseChain } from '@hexenkessel/core/chain';
import { inputRow } from './rowsBefore.ts';

const gain = (id: string, on = true) => ({ id, kind: 'gain', on });
const chainOf = (mode: string) =>
  parseChain(BUILT_INS, {
    format: 'hexenkessel.chain',
    version: 2,
    name: 'Tree',
    stages: [
      gain('first'),
      {
        id: 'split',
        kind: 'split',
        settings: { mode },
        branches: [
          { id: 'a', stages: [gain('off', false), gain('one'), gain('two')] },
          {
            id: 'b',
            stages: [
              gain('three'),
              { id: 'loop', kind: 'echo', branches: [{ id: 'c', stages: [gain('four'), gain('five')] }] },
            ],
          },
        ],
      },
      gain('last'),
    ],
  }).stages;

test('what goes into a stage: the row before it, in its branch or before what holds it', () => {
  const stages = chainOf('copies');
  const found = (id: string) => inputRow(stages, id);
  expect(found('first')).toEqual({ row: 'source', top: 'first' });
  expect(found('split')).toEqual({ row: 'stage:first', top: 'split' });
  expect(found('one')).toEqual({ row: 'stage:first', top: 'split' });
  expect(found('two')).toEqual({ row: 'stage:one', top: 'split' });
  expect(found('loop')).toEqual({ row: 'stage:three', top: 'split' });
  expect(found('five')).toEqual({ row: 'stage:four', top: 'split' });
  expect(found('last')).toEqual({ row: 'stage:split', top: 'last' });
  expect(found('nobody')).toBeUndefined();
});

test('of what a loop or a band gets nothing is shown', () => {
  expect(inputRow(chainOf('copies'), 'four')).toBeUndefined();
  const bands = chainOf('2 bands');
  for (const id of ['off', 'one', 'three']) expect(inputRow(bands, id), id).toBeUndefined();
  expect(inputRow(bands, 'two')).toEqual({ row: 'stage:one', top: 'split' });
});
