import { BUILT_INS } from '../../catalogue/builtIns.ts';
import { describe, expect, test } from 'vitest';
import { chainOf } from '../../testing/chains.ts';
import { contentKey, planStages, shapeOf } from './plan.ts';
import type { Planned } from './planned.ts';

const planned = (kind: string, rest: object = {}): Planned =>
  planStages(BUILT_INS, chainOf([{ kind, ...rest }]), 48000)[0];

describe('what a stage’s output depends on', () => {
  test('every value of it counts, whatever it is called', () => {
    const stage = planned('gain');
    for (const name of ['index', 'id', 'runs', 'sounds', 'prepared', 'gain'])
      expect(contentKey({ ...stage, values: { ...stage.values, [name]: 1 } }), name).not.toBe(
        contentKey({ ...stage, values: { ...stage.values, [name]: 2 } }),
      );
  });

  test('its name and its place do not', () => {
    const stage = planned('gain');
    expect(contentKey({ ...stage, id: 'other', index: 7 })).toBe(contentKey(stage));
    // Through the seed a name does count for a stage that draws by chance: that is kept apart.
    expect(contentKey({ ...stage, seed: stage.seed + 1 })).not.toBe(contentKey(stage));
  });

  test('what stands inside it does, and which branch is which', () => {
    const split = (id: string, gain: number) =>
      contentKey(planned('split', { branches: [{ id, stages: [{ id: 'g', kind: 'gain', settings: { gain } }] }] }));
    expect(split('a', -3)).toBe(split('a', -3));
    expect(split('a', -3)).not.toBe(split('a', -4));
    expect(split('a', -3)).not.toBe(split('b', -3));
  });
});

test('a list or a curve needs a new processor when it changes, as a word does; a number does not', () => {
  const stage = planned('gain');
  const shape = (values: object) => shapeOf(BUILT_INS, [{ ...stage, values: { ...stage.values, ...values } }]);
  expect(shape({ row: [1, 2] })).not.toBe(shape({ row: [1, 3] }));
  expect(shape({ curve: { over: 'clip', points: [] } })).not.toBe(shape({ curve: { over: 'seconds', points: [] } }));
  expect(shape({ word: 'a' })).not.toBe(shape({ word: 'b' }));
  expect(shape({ gain: -3 })).toBe(shape({ gain: -4 }));
});
