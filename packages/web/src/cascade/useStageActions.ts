import { useMemo } from 'react';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { edits } from '@hexenkessel/core/chain';
import { useAppDispatch } from '../app/store.ts';
import { stageSelected } from '../chain/viewSlice.ts';
import { edit } from '../chain/edit.ts';

/** What can be done with a stage from its row, wherever it stands. */
export interface StageActions {
  readonly select: (id: string) => void;
  /** One place up or down; at the end of a branch into the next one. */
  readonly move: (id: string, by: -1 | 1) => void;
  readonly switchOn: (id: string) => void;
  readonly remove: (id: string) => void;
}

export function useStageActions(): StageActions {
  const dispatch = useAppDispatch();
  return useMemo(
    () => ({
      select: (id) => void dispatch(stageSelected(id)),
      move: (id, by) => void dispatch(edit(edits.moveStage(BUILT_INS, id, by))),
      switchOn: (id) => void dispatch(edit(edits.switchStage(BUILT_INS, id))),
      remove: (id) => void dispatch(edit(edits.removeStage(BUILT_INS, id))),
    }),
    [dispatch],
  );
}
