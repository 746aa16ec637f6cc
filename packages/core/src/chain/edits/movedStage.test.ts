import { expect, test } from 'vitest';
import { BUILT_INS } from '../../catalogue/builtIns.ts';
import { allStages } from '../branches.ts';
import { parseChain } from '../validate.ts';
import { moved } from './movedStage.ts';

const chain = parseChain(BUILT_INS, {
  format: 'hexenkessel.chain',
  version: 1,
  name: 'Tree',
  stages: [
    { id: 'first', kind: 'gain' },
    {
      id: 'split',
      kind: 'split',
      branches: [
        {
          id: 'a',
          stages: [
            { id: 'one', kind: 'gain' },
            { id: 'two', kind: 'hall' },
          ],
        },
        { id: 'b', stages: [{ id: 'three', kind: 'filter' }] },
      ],
    },
  ],
});
const order = (document: typeof chain) =>
  allStages(document.stages).map(({ stage, holder }) => `${holder?.branch.id ?? ''}${stage.id}`);

test('a stage moves among its neighbours, and at the end of a branch into the next one', () => {
  expect(order(moved(chain, 'first', 1))).toEqual(['split', 'aone', 'atwo', 'bthree', 'first']);
  expect(order(moved(chain, 'two', -1))).toEqual(['first', 'split', 'atwo', 'aone', 'bthree']);
  expect(order(moved(chain, 'two', 1))).toEqual(['first', 'split', 'aone', 'btwo', 'bthree']);
  expect(order(moved(chain, 'three', -1))).toEqual(['first', 'split', 'aone', 'atwo', 'athree']);
});

test('where there is nowhere to go, nothing changes', () => {
  expect(moved(chain, 'first', -1)).toBe(chain);
  expect(moved(chain, 'split', 1)).toBe(chain);
  expect(moved(chain, 'one', -1)).toBe(chain);
  expect(moved(chain, 'three', 1)).toBe(chain);
  expect(moved(chain, 'nobody', 1)).toBe(chain);
});
