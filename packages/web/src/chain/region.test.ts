import { expect, test } from 'vitest';
import { InputError } from '@hexenkessel/core/model';
import { regionBetween } from './region.ts';

test('a region lies between two places in any order; one of nothing is refused, and says which', () => {
  expect(regionBetween(3, 1.5)).toEqual({ start: 1.5, end: 3 });
  expect(regionBetween(1.5, 3)).toEqual({ start: 1.5, end: 3 });
  expect(() => regionBetween(2, 2.001)).toThrow(InputError);
  expect(() => regionBetween(2, 2)).toThrow('from 2 s to 2 s is empty; its end must be after its start');
});
