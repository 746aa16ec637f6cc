import { expect, test } from 'vitest';
import { beginTrial, behind, chanceOf, isOver, pick, resultOf } from './blindTrial.ts';

test('the chance of guessing is that of coins', () => {
  expect(chanceOf(8, 8)).toBeCloseTo(2 / 256, 12);
  expect(chanceOf(7, 8)).toBeCloseTo(18 / 256, 12);
  expect(chanceOf(5, 10)).toBe(1);
  expect(chanceOf(10, 12)).toBeCloseTo((2 * (1 + 12 + 66)) / 4096, 12);
});

test('what is preferred is counted by what it was, not by its button', () => {
  const draws = [0.1, 0.9, 0.1, 0.9];
  let trial = beginTrial(4, () => draws.shift() ?? 0);
  expect(trial.swapped).toEqual([true, false, true, false]);
  // Someone who always prefers the second thing.
  while (!isOver(trial)) trial = pick(trial, behind(trial, 'X') === 1 ? 'X' : 'Y');
  expect(resultOf(trial)).toEqual({ counts: [0, 4], chance: 0.125 });
});

test('someone who always takes the same button is no judge', () => {
  const trial = { swapped: [true, false], picks: [] };
  expect(resultOf(pick(pick(trial, 'X'), 'X'))).toEqual({ counts: [1, 1], chance: 1 });
});
