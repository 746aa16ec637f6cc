import { BUILT_INS } from '@hexenkessel/core/stages';
import { allStages, edits, type ChainDocument } from '@hexenkessel/core/chain';
import { useAppDispatch, useAppStore } from '../app/store.ts';
import { tellDone, tellFailure } from '../app/toaster.tsx';
import { edit } from '../chain/edit.ts';
import { stageSelected } from '../chain/viewSlice.ts';
import { branchToAddTo, placeIn } from '../bench/placeToAdd.ts';

/** Puts the stages of a chain behind the selected one, with what moves them. */
export function useTakeStages(): (part: ChainDocument) => void {
  const dispatch = useAppDispatch();
  const store = useAppStore();
  return (part) => {
    if (part.stages.length === 0) {
      tellFailure('Nothing to paste', `“${part.name}” has no stages.`);
      return;
    }
    const state = store.getState();
    const branchId = branchToAddTo(state);
    const { document } = state.chain.present;
    const selected = placeIn(document, state.view.selectedStage);
    const index = selected && selected.branchId === branchId ? selected.index + 1 : document.stages.length;
    if (!dispatch(edit(edits.pasteStages(BUILT_INS, part, { branchId, index })))) return;
    const there = store.getState().chain.present;
    const known = new Set(allStages(document.stages).map(({ stage }) => stage.id));
    const first = allStages(there.document.stages).find(({ stage }) => !known.has(stage.id));
    if (first) dispatch(stageSelected(first.stage.id));
    tellDone('Pasted', `${there.step.replace(/^paste /, '')} came in; undo takes it out again.`);
  };
}
