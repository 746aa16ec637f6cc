import { BUILT_INS } from '@hexenkessel/core/stages';
import { allStages, edits } from '@hexenkessel/core/chain';
import type { AppDispatch, RootState } from '../app/store.ts';
import { edit } from '../chain/edit.ts';

/** Does, or undoes, what the chosen stage has to do while it plays: stop, freeze, capture. */
export function turnAct() {
  return (dispatch: AppDispatch, getState: () => RootState): void => {
    const { chain, view } = getState();
    const { document } = chain.present;
    const stage = allStages(document.stages).find((one) => one.stage.id === view.selectedStage)?.stage;
    if (!stage) return;
    const { params } = BUILT_INS.for(document).of(stage);
    for (const [key, param] of Object.entries(params)) {
      if (param.type !== 'toggle' || !param.act) continue;
      const on = stage.settings[key] !== true;
      dispatch(edit(edits.turnSwitch(BUILT_INS, `${stage.id}.${key}`, on)));
      return;
    }
  };
}
