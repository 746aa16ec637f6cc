import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { ChainDocument } from '@hexenkessel/core/chain';
import type { ChainState } from '@hexenkessel/core/protocol';

/** What the server holds of the chain that is open, and how saving goes. */
export interface ServerState {
  readonly chainId: string | null;
  /** Revision on the server that the work here is based on. */
  readonly revision: number;
  readonly versions: ChainState['versions'];
  /** The document as the server last confirmed it; null when what it holds is not what was confirmed here. */
  readonly confirmed: ChainDocument | null;
  /** True when what the server holds is no kept version. */
  readonly draft: boolean;
  readonly saving: 'idle' | 'saving' | 'failed';
  /** True from a save that failed until one that did not. */
  readonly failedBefore: boolean;
  /** What another window has made of this chain meanwhile. */
  readonly conflict: ChainState | null;
}

const initialState: ServerState = {
  chainId: null,
  revision: 0,
  versions: [],
  confirmed: null,
  draft: false,
  saving: 'idle',
  failedBefore: false,
  conflict: null,
};

const held = ({ revision, versions, document, unsaved }: ChainState) => ({
  revision,
  versions,
  confirmed: document,
  draft: unsaved,
});

const slice = createSlice({
  name: 'server',
  initialState,
  reducers: {
    benchOpened: (_, { payload }: PayloadAction<ChainState>) => ({
      ...initialState,
      chainId: payload.id,
      ...held(payload),
    }),
    saveBegan: (state) => ({ ...state, saving: 'saving' as const }),
    saveFailed: (state) => ({ ...state, saving: 'failed' as const, failedBefore: true }),
    saved: (state, { payload }: PayloadAction<ChainState>) => ({
      ...state,
      saving: 'idle' as const,
      failedBefore: false,
      ...held(payload),
    }),
    conflictFound: (state, { payload }: PayloadAction<ChainState>) => ({
      ...state,
      saving: 'idle' as const,
      conflict: payload,
    }),
    /** Goes on from the other window's revision, with the work here on top. */
    conflictSettled: (state, { payload }: PayloadAction<{ revision: number } | null>) => ({
      ...state,
      conflict: null,
      revision: payload?.revision ?? state.revision,
      confirmed: payload ? null : state.confirmed,
    }),
  },
});

export const { benchOpened, saveBegan, saveFailed, saved, conflictFound, conflictSettled } = slice.actions;
export const serverReducer = slice.reducer;
