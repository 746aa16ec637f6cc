import { useMemo } from 'react';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { allStages, changeList, placeOf, stageTitle, type ChainDocument } from '@hexenkessel/core/chain';
import { useAppDispatch } from '../app/store.ts';
import { stageSelected } from '../chain/benchSlice.ts';
import { edit, editStage } from '../chain/edit.ts';
import { moved } from './moved.ts';

/** What can be done with a stage from its row, wherever it stands. */
export interface StageActions {
  readonly select: (id: string) => void;
  /** One place up or down; at the end of a branch into the next one. */
  readonly move: (id: string, by: -1 | 1) => void;
  readonly canMove: (id: string, by: -1 | 1) => boolean;
  readonly switchOn: (id: string) => void;
  readonly remove: (id: string) => void;
}

export function useStageActions(document: ChainDocument): StageActions {
  const dispatch = useAppDispatch();
  return useMemo(() => {
    const find = (id: string) => allStages(document.stages).find(({ stage }) => stage.id === id);
    const titleOf = (id: string) => {
      const placed = find(id);
      return placed ? stageTitle(BUILT_INS.for(document), placed.stage) : id;
    };
    return {
      select: (id) => void dispatch(stageSelected(id)),
      move: (id, by) => void dispatch(edit(`move ${titleOf(id)}`, (before) => moved(before, id, by))),
      canMove: (id, by) => moved(document, id, by) !== document,
      switchOn: (id) => {
        const on = find(id)?.stage.on ?? false;
        dispatch(editStage(id, `${titleOf(id)} ${on ? 'off' : 'on'}`, (stage) => ({ ...stage, on: !on })));
      },
      remove: (id) => {
        const place = placeOf(document, id);
        dispatch(
          edit(`remove ${titleOf(id)}`, (before) =>
            changeList(before, place?.branchId, (stages) => stages.filter((stage) => stage.id !== id)),
          ),
        );
      },
    };
  }, [document, dispatch]);
}
