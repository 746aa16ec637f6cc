import { InputError } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import {
  changeStage,
  idsOf,
  parseChain,
  withBranches,
  withoutDangling,
  type ChainDocument,
  type StageDocument,
} from '@hexenkessel/core/chain';
import { refuse } from '../app/refusals.ts';
import type { AppDispatch, RootState } from '../app/store.ts';
import { chainChanged } from './chainSlice.ts';

/**
 * Changes the chain as one named step. The result is checked first: what is not allowed is told and leaves the chain as
 * it was. Gives true when it was done.
 */
export function edit(step: string, change: (document: ChainDocument) => ChainDocument, gesture?: string) {
  return (dispatch: AppDispatch, getState: () => RootState): boolean => {
    try {
      const before = getState().chain.present.document;
      const document = parseChain(BUILT_INS, withoutDangling(BUILT_INS, change(before)));
      if (JSON.stringify(document) !== JSON.stringify(before)) dispatch(chainChanged({ document, step, gesture }));
      return true;
    } catch (error) {
      if (!(error instanceof InputError)) throw error;
      refuse(`Could not apply: ${step}`, error);
      return false;
    }
  };
}

/** Changes one stage, wherever it stands. */
export function editStage(id: string, step: string, change: (stage: StageDocument) => StageDocument, gesture?: string) {
  return edit(
    step,
    // Settings may ask for another number of branches.
    (document) =>
      changeStage(document, id, (stage) => withBranches(BUILT_INS.for(document), change(stage), idsOf(document))),
    gesture,
  );
}
