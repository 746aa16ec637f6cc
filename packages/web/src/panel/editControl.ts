import { BUILT_INS } from '@hexenkessel/core/stages';
import { movedByControl, type ChainEdit } from '@hexenkessel/core/chain';
import type { AppDispatch, RootState } from '../app/store.ts';
import { tellWarning } from '../app/toaster.tsx';
import { edit } from '../chain/edit.ts';

/** Changes how a control is made; says what it drives and had to move by that. */
export function editControl(id: string, step: ChainEdit) {
  return (dispatch: AppDispatch, getState: () => RootState): boolean => {
    const before = getState().chain.present.document;
    if (!dispatch(edit(step))) return false;
    const moved = movedByControl(BUILT_INS, before, getState().chain.present.document, id);
    if (moved.length > 0) tellWarning('The new range moves what is driven', `${moved.join('; ')}. Undo leads back.`);
    return true;
  };
}
