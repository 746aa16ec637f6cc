import { createRandom } from '@hexenkessel/core/model';

/** Trials spread over all of them, the same ones everywhere; all with LONG in the environment. */
export function someOf<T>(all: readonly T[], count: number): readonly T[] {
  if (process.env['LONG']) return all;
  const random = createRandom(20261128);
  return all
    .map((entry) => ({ entry, order: random() }))
    .sort((a, b) => a.order - b.order)
    .slice(0, count)
    .map(({ entry }) => entry);
}
