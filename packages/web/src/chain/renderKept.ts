import type { RegionRender } from '@hexenkessel/core/engine';
import { api, problemOf } from '../api/api.ts';
import type { AppDispatch, RootState } from '../app/store.ts';
import { tellDone, tellFailure } from '../app/toaster.tsx';
import { conflictFound } from './serverSlice.ts';
import { behindSaves, isNotThere, isUnsaved, keepDraft, knownRevision, openChain, wasTouched } from './useChainWork.ts';

/**
 * Renders the chain on the bench as it is: what was done last is kept first, and the render names the revision that the
 * server has acknowledged. When another window was first, its state is shown and nothing is rendered.
 */
export function renderKept(sourceId: string, region: RegionRender | undefined) {
  return (dispatch: AppDispatch, getState: () => RootState): Promise<void> => {
    const { chainId } = getState().server;
    const kept = isUnsaved(getState()) || isNotThere(getState()) ? dispatch(keepDraft()) : Promise.resolve(true);
    // Asked for right behind: no later save can come between and make it another revision.
    return behindSaves(async () => {
      if (chainId === null || !(await kept)) return;
      const here = () => getState().server.chainId === chainId;
      const revision = knownRevision(getState(), chainId);
      if (revision === undefined || (here() && getState().server.conflict)) return;
      const order = { sourceId, chainId, revision, region };
      const result = await dispatch(api.endpoints.startRender.initiate(order));
      if (!('error' in result)) return;
      const { current, detail } = problemOf(result.error);
      if (!current || !here()) tellFailure('Not rendered', detail);
      else if (wasTouched(getState())) dispatch(conflictFound(current));
      else {
        dispatch(openChain(current));
        tellDone('Changed in another window', 'The chain is shown as it is now; nothing was rendered. Render again.');
      }
    });
  };
}
