import { useEffect, useState } from 'react';
import type { ChainDocument } from '@hexenkessel/core/chain';
import { sameValue } from '@hexenkessel/core/model';
import type { ChainState, Desk } from '@hexenkessel/core/protocol';
import { useChainQuery, useChainIsThereQuery, useDeskQuery, api, problemOf } from '../api/api.ts';
import { useAppDispatch, useAppSelector, type AppDispatch, type RootState } from '../app/store.ts';
import { tellFailure } from '../app/toaster.tsx';
import { newDocument } from './newChain.ts';
import { shelfSet } from './deskSlice.ts';
import { benchOpened, conflictFound, saveBegan, saveFailed, saved } from './serverSlice.ts';
import { chainOpened, clearHistory, slotsOpened } from './chainSlice.ts';
import { useDeskKept } from './useDeskKept.ts';

const RETRY_DELAY = 4000; // milliseconds until what could not be saved is tried again
const AUTOSAVE_DELAY = 800; // milliseconds of rest before a draft is kept

/**
 * Opens a chain for work. `begun`: it may be one that this page has
 * begun; then the server gets it with the first thing that is done to it.
 */
export function useChainWork(id: string, begun: boolean): { ready: boolean; failure: string | undefined } {
  const dispatch = useAppDispatch();
  const settled = useSavesSettled(id);
  const there = useChainIsThereQuery(id, { skip: !begun });
  const isThere = !begun || there.currentData;
  const skip = !settled || isThere !== true;
  const { currentData: data, error, isFetching } = useChainQuery(id, { refetchOnMountOrArgChange: true, skip });
  const desk = useDeskQuery(id, { refetchOnMountOrArgChange: true, skip: isThere !== true });
  const opened = useAppSelector((state) => state.server.chainId === id);
  const deskHere = desk.isFetching ? undefined : desk.currentData;

  useEffect(() => {
    if (!data || isFetching || !deskHere || opened) return;
    dispatch(openChain(data, deskHere));
  }, [data, isFetching, deskHere, opened, dispatch]);
  useEffect(() => {
    if (settled && isThere === false && !opened) dispatch(openChain(notYetThere(id)));
  }, [settled, isThere, opened, id, dispatch]);
  const revision = useAppSelector((state) => state.server.revision);
  useDeskKept(id, opened, revision === NOT_THERE);

  const fault = isThere ? (!data && error) || (!desk.data && desk.error) : there.error;
  return { ready: opened, failure: fault ? problemOf(fault).detail : undefined };
}

/** Keeps what is done to the chain that is open as a draft on the server. For a part of the view that shows nothing. */
export function useKeptWork(): void {
  const dispatch = useAppDispatch();
  const document = useAppSelector((state) => state.chain.present.document);
  const touched = useAppSelector(wasTouched);
  const confirmed = useAppSelector(isConfirmed);
  const conflict = useAppSelector((state) => state.server.conflict);
  useEffect(() => {
    if (!touched || conflict || confirmed) return undefined;
    const timer = setTimeout(() => void dispatch(keepDraft()), AUTOSAVE_DELAY);
    return () => clearTimeout(timer);
  }, [document, touched, confirmed, conflict, dispatch]);

  // The server may be back any moment; what is done meanwhile goes along.
  const failed = useAppSelector((state) => state.server.saving === 'failed');
  useEffect(() => {
    if (!failed) return undefined;
    const again = () => dispatch(keepUnsaved());
    const timer = setInterval(again, RETRY_DELAY);
    window.addEventListener('online', again);
    return () => {
      clearInterval(timer);
      window.removeEventListener('online', again);
    };
  }, [failed, dispatch]);

  // What was changed in the last moment is kept on leaving, too.
  useEffect(() => {
    const keep = () => dispatch(keepUnsaved());
    // Asked before it is lost: a window that is closed now may be gone before the server has answered.
    const ask = (event: BeforeUnloadEvent) => {
      if (!dispatch((_, getState) => isUnsaved(getState()))) return;
      keep();
      event.preventDefault();
    };
    window.addEventListener('pagehide', keep);
    window.addEventListener('beforeunload', ask);
    return () => {
      window.removeEventListener('pagehide', keep);
      window.removeEventListener('beforeunload', ask);
      keep();
    };
  }, [dispatch]);
}

/** Revision of a chain that the server has not got yet. */
const NOT_THERE = 0;

/** An empty chain that only this page knows of. */
const notYetThere = (id: string): ChainState => ({
  id,
  revision: NOT_THERE,
  document: newDocument(),
  unsaved: false,
  versions: [],
});

/** True for a chain that was begun here and to which nothing has been done. */
export function isNotThere({ server }: RootState): boolean {
  return server.chainId !== null && server.revision === NOT_THERE;
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
export function wasTouched({ chain }: RootState): boolean {
  return chain.past.length > 0 || chain.future.length > 0;
}

/** True when the server has confirmed the work as it is. */
export function isConfirmed({ chain, server }: RootState): boolean {
  return server.confirmed !== null && sameValue(chain.present.document, server.confirmed);
}

/** True when there is work that the server has not acknowledged. */
export function isUnsaved(state: RootState): boolean {
  const { chainId, conflict } = state.server;
  return wasTouched(state) && chainId !== null && !conflict && !isConfirmed(state);
}

function keepUnsaved() {
  return (dispatch: AppDispatch, getState: () => RootState): void => {
    if (isUnsaved(getState())) void dispatch(keepDraft());
  };
}

/** Keeps the work as a draft now. Gives false when another window was first or the server did not answer. */
export const keepDraft = () => save();

/** Keeps the work as a version for good, with a note on why. */
export const keepVersion = (why: string) => save(why);

interface Save {
  readonly id: string;
  readonly revision: number;
  readonly document: ChainDocument;
}

/** What is asked of the server: a chain that it has not got yet begins there with the work as its draft. */
function askFor({ id, revision, document }: Save, why: string | undefined) {
  const { createChain, saveDraft, saveVersion } = api.endpoints;
  return async (dispatch: AppDispatch) => {
    if (revision !== NOT_THERE && why === undefined) return dispatch(saveDraft.initiate({ id, revision, document }));
    if (revision !== NOT_THERE) return dispatch(saveVersion.initiate({ id, revision, document, why: why ?? '' }));
    const begun = await dispatch(createChain.initiate({ id, document }));
    if (!begun.data || why === undefined) return begun;
    return dispatch(saveVersion.initiate({ id, revision: begun.data.revision, document, why }));
  };
}

/** Saves wait for each other: the revision of one is the basis of the next. */
let last: Promise<unknown> = Promise.resolve();

/** Does something when all that was asked to be saved before is answered; what is asked for later waits for it. */
export function behindSaves<T>(work: () => Promise<T>): Promise<T> {
  const attempt = last.then(work);
  last = attempt.catch(() => undefined);
  return attempt;
}

/** The newest revision of a chain that the server has told of, whether or not it is still on the bench. */
export function knownRevision(state: RootState, id: string): number | undefined {
  return state.server.chainId === id ? state.server.revision : api.endpoints.chain.select(id)(state).data?.revision;
}

/** Resolves when everything that is being saved has been answered. */
export async function savesSettled(): Promise<void> {
  for (let before; before !== last;) {
    before = last;
    await before;
  }
}

/**
 * True once what was being saved when a view of `key` was opened has been answered: asked for before, a chain could come as
 * it was before the last change to it.
 */
export function useSavesSettled(key: string): boolean {
  const [settled, setSettled] = useState<string>();
  useEffect(() => {
    let wanted = true;
    void savesSettled().then(() => {
      if (wanted) setSettled(key);
    });
    return () => void (wanted = false);
  }, [key]);
  return settled === key;
}

/**
 * What is saved is the work as it is when it is asked for, also when another chain is opened before its turn comes: as a
 * draft, or, with a note, as a version.
 */
function save(why?: string) {
  return (dispatch: AppDispatch, getState: () => RootState): Promise<boolean> => {
    const { chainId: id } = getState().server;
    const { document } = getState().chain.present;
    const begun = isNotThere(getState());
    return behindSaves(async () => {
      if (id === null) return false;
      const here = () => getState().server.chainId === id;
      if (here() && getState().server.conflict) return false;
      // Saved once more, the same draft would only be another revision, and look like somebody else's.
      const isHeld = !isNotThere(getState()) && sameValue(document, getState().server.confirmed);
      if (why === undefined && here() && isHeld) return true;
      const revision = knownRevision(getState(), id) ?? (begun ? NOT_THERE : undefined);
      if (revision === undefined) return false;
      // Said once; that it is tried again and again is nobody's news.
      const known = here() && getState().server.failedBefore;
      if (here()) dispatch(saveBegan());
      const result = await dispatch(askFor({ id, revision, document }, why));
      if ('data' in result && result.data) {
        // What is confirmed is the work itself, so that comparing them costs what has changed since.
        const same = sameValue(result.data.document, document);
        if (here()) dispatch(saved(same ? { ...result.data, document } : result.data));
        return true;
      }
      const problem = problemOf(result.error);
      if (here() && problem.status === 409 && problem.current) dispatch(conflictFound(problem.current));
      else {
        if (here()) dispatch(saveFailed());
        if (!known)
          tellFailure(here() ? 'Not saved' : `The last change to “${document.name}” is not saved`, problem.detail);
      }
      return false;
    });
  };
}
