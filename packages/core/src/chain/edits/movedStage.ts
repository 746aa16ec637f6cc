import { allStages, changeList, placeOf } from '../branches.ts';
import type { ChainDocument } from '../schema.ts';

/** The chain with a stage moved by one place; the chain itself when it cannot be. */
export function moved(chain: ChainDocument, id: string, by: -1 | 1): ChainDocument {
  const place = placeOf(chain, id);
  const placed = allStages(chain.stages).find(({ stage }) => stage.id === id);
  if (!place || !placed) return chain;
  const { stage, holder } = placed;
  const to = place.index + by;
  const without = () => changeList(chain, place.branchId, (stages) => stages.filter((other) => other.id !== id));
  if (to >= 0 && to < place.count)
    return changeList(without(), place.branchId, (stages) => stages.toSpliced(to, 0, stage));
  const branches = holder?.stage.branches ?? [];
  const next = branches[branches.findIndex((branch) => branch.id === place.branchId) + by];
  if (!holder || !next) return chain;
  return changeList(without(), next.id, (stages) => (by > 0 ? [stage, ...stages] : [...stages, stage]));
}
