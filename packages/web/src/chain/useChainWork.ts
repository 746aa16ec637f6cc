import { useEffect } from 'react';
import type { ChainState, Desk } from '@hexenkessel/core';
import { useChainQuery, useDeskQuery, api, problemOf } from '../api/api.ts';
import { useAppDispatch, useAppSelector, type AppDispatch, type RootState } from '../app/store.ts';
import { tellFailure } from '../app/toaster.tsx';
import { benchOpened, conflictFound, saveBegan, saveFailed, saved, shelfSet } from './benchSlice.ts';
import { chainOpened, clearHistory, slotsOpened } from './chainSlice.ts';
import { useDeskKept } from './useDeskKept.ts';

const AUTOSAVE_DELAY = 800; // milliseconds of rest before a draft is kept

/** Opens a chain for work and keeps what is done to it as a draft on the server. */
export function useChainWork(id: string): { ready: boolean; failure: string | undefined } {
  const dispatch = useAppDispatch();
  const { currentData: data, error, isFetching } = useChainQuery(id, { refetchOnMountOrArgChange: true });
  const desk = useDeskQuery(id, { refetchOnMountOrArgChange: true });
  const opened = useAppSelector((state) => state.bench.chainId === id);
  const deskHere = desk.isFetching ? undefined : desk.currentData;

  useEffect(() => {
    if (!data || isFetching || !deskHere || opened) return;
    dispatch(openChain(data, deskHere));
  }, [data, isFetching, deskHere, opened, dispatch]);
  useDeskKept(id, opened);

  const document = useAppSelector((state) => state.chain.present.document);
  const touched = useAppSelector(wasTouched);
  const { savedText, conflict } = useAppSelector((state) => state.bench);
  useEffect(() => {
    if (!opened || !touched || conflict || JSON.stringify(document) === savedText) return undefined;
    const timer = setTimeout(() => void dispatch(keepDraft()), AUTOSAVE_DELAY);
    return () => clearTimeout(timer);
  }, [document, touched, savedText, conflict, opened, dispatch]);

  // What was changed in the last moment is kept on leaving, too.
  useEffect(() => {
    const keep = () => dispatch(keepUnsaved());
    window.addEventListener('pagehide', keep);
    return () => {
      window.removeEventListener('pagehide', keep);
      keep();
    };
  }, [id, dispatch]);

  const fault = (!data && error) || (!desk.data && desk.error);
  return { ready: opened, failure: fault ? problemOf(fault).detail : undefined };
}

/** Puts a chain on the bench as the server has it, without a past. */
export function openChain(state: ChainState, desk?: Desk) {
  return (dispatch: AppDispatch): void => {
    dispatch(chainOpened(state.document));
    if (desk) dispatch(slotsOpened({ slot: desk.slot, slots: desk.slots }));
    dispatch(clearHistory());
    dispatch(benchOpened(state));
    if (desk) dispatch(shelfSet(desk.shelf));
  };
}

/** True once something was done to the chain in this window; nothing is ever saved before. */
function wasTouched({ chain }: RootState): boolean {
  return chain.past.length > 0 || chain.future.length > 0;
}

function keepUnsaved() {
  return (dispatch: AppDispatch, getState: () => RootState): void => {
    const { chain, bench } = getState();
    if (
      wasTouched(getState()) &&
      bench.chainId !== null &&
      !bench.conflict &&
      JSON.stringify(chain.present.document) !== bench.savedText
    )
      void dispatch(keepDraft());
  };
}

/** Keeps the work as a draft now. Gives false when another window was first or the server did not answer. */
export function keepDraft() {
  return async (dispatch: AppDispatch, getState: () => RootState): Promise<boolean> =>
    dispatch(
      save((chainId, revision) =>
        api.endpoints.saveDraft.initiate({ id: chainId, revision, document: getState().chain.present.document }),
      ),
    );
}

/** Keeps the work as a version for good. */
export function keepVersion(why: string) {
  return async (dispatch: AppDispatch, getState: () => RootState): Promise<boolean> =>
    dispatch(
      save((chainId, revision) =>
        api.endpoints.saveVersion.initiate({ id: chainId, revision, document: getState().chain.present.document, why }),
      ),
    );
}

type SaveRequest =
  ReturnType<typeof api.endpoints.saveDraft.initiate> | ReturnType<typeof api.endpoints.saveVersion.initiate>;

/** Saves wait for each other: the revision of one is the basis of the next. */
let last: Promise<unknown> = Promise.resolve();

function save(request: (chainId: string, revision: number) => SaveRequest) {
  return (dispatch: AppDispatch, getState: () => RootState): Promise<boolean> => {
    const attempt = last.then(async () => {
      const { chainId, revision, conflict } = getState().bench;
      if (chainId === null || conflict) return false;
      dispatch(saveBegan());
      const result = await dispatch(request(chainId, revision) as ReturnType<typeof api.endpoints.saveDraft.initiate>);
      if (getState().bench.chainId !== chainId) return true; // another chain was opened meanwhile
      if ('data' in result && result.data) {
        dispatch(saved(result.data));
        return true;
      }
      const problem = problemOf(result.error);
      if (problem.status === 409 && problem.current) dispatch(conflictFound(problem.current));
      else {
        dispatch(saveFailed());
        tellFailure('Not saved', problem.detail);
      }
      return false;
    });
    last = attempt.catch(() => undefined);
    return attempt;
  };
}
