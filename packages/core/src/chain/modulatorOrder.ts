import type { ChainDocument } from './schema.ts';
import { splitTarget } from './targets.ts';

/** Ids of modulators, each behind those that move it; undefined for a chain in which they move each other in a circle. */
export function modulatorOrder(chain: Pick<ChainDocument, 'modulators' | 'routes'>): string[] | undefined {
  const ids = chain.modulators.map(({ id }) => id);
  const before = (id: string) =>
    chain.routes.filter(({ from, to }) => ids.includes(from) && splitTarget(to).id === id).map(({ from }) => from);
  const order: string[] = [];
  let waiting = ids;
  while (waiting.length > 0) {
    const ready = waiting.filter((id) => before(id).every((mover) => order.includes(mover)));
    if (ready.length === 0) return undefined;
    order.push(...ready);
    waiting = waiting.filter((id) => !ready.includes(id));
  }
  return order;
}
