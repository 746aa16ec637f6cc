import { BUILT_INS } from '@hexenkessel/core/stages';
import { branchTitle, placeOf, type ChainDocument } from '@hexenkessel/core/chain';
import type { RootState } from '../app/store.ts';

export const placeIn = (document: ChainDocument, id: string | null) =>
  id === null ? undefined : placeOf(document, id);

/** The branch that a stage is added to: the one asked for, else that of the selected stage; undefined at the top. */
export function branchToAddTo({ chain, view }: RootState): string | undefined {
  return view.addTo ?? placeIn(chain.present.document, view.selectedStage)?.branchId;
}

/** The same in words. */
export function whereToAdd(state: RootState): string | undefined {
  const branchId = branchToAddTo(state);
  return branchId === undefined ? undefined : branchTitle(BUILT_INS, state.chain.present.document, branchId);
}
