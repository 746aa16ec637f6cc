import { expect, test } from 'vitest';
import { drive, driveWhile } from './breathing.ts';

/** Work of some milliseconds a step. */
function* work(steps: number): Generator<void, number, void> {
  for (let n = 0; n < steps; n++) {
    const until = performance.now() + 8;
    while (performance.now() < until);
    yield;
  }
  return steps;
}

test('several computations at once all come to their end', async () => {
  const late = new Promise((resolve) => setTimeout(resolve, 20)).then(() => drive(work(9)));
  expect(await Promise.all([drive(work(12)), drive(work(7)), late])).toEqual([12, 7, 9]);
});

test('what nobody wants any more is given up', async () => {
  let asked = 0;
  expect(await driveWhile(work(1000), () => ++asked < 3)).toBeUndefined();
  expect(asked).toBe(3);
});
