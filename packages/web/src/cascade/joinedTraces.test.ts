import { expect, test } from 'vitest';
import type { MovementTrace } from '@hexenkessel/core/engine';
import { joinedTraces } from './joinedTraces.ts';

const trace = (origin: number, values: number[], id: string): MovementTrace => ({
  origin,
  step: 100,
  sampleRate: 1000,
  modulators: { [id]: Float32Array.from(values) },
  targets: { [`${id}.to`]: Float32Array.from(values) },
});

test('two traces lie on the ruler of the first; what only the second has is brought to it', () => {
  const both = joinedTraces(trace(0, [1, 2, 3], 'a'), trace(-100, [4, 5, 6, 7], 'b'));
  expect([...both.modulators['a']]).toEqual([1, 2, 3]);
  expect([...both.modulators['b']]).toEqual([5, 6, 7]);
  expect([...both.targets['b.to']]).toEqual([5, 6, 7]);
  expect(both.origin).toBe(0);
});

test('of one that both have the first counts', () => {
  const both = joinedTraces(trace(0, [1, 2], 'a'), trace(0, [8, 9], 'a'));
  expect([...both.modulators['a']]).toEqual([1, 2]);
});
