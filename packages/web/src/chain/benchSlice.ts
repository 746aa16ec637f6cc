import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { ChainState } from '@hexenkessel/core';

/** A stretch of the ruler in seconds from the source's first frame. */
export interface Region {
  readonly start: number;
  readonly end: number;
}

export interface BenchState {
  readonly chainId: string | null;
  /** Revision on the server that the work here is based on. */
  readonly revision: number;
  readonly versions: ChainState['versions'];
  /** The document as the server last confirmed it, as text. */
  readonly savedText: string;
  /** True when what the server holds is no kept version. */
  readonly draft: boolean;
  readonly saving: 'idle' | 'saving' | 'failed';
  /** What another window has made of this chain meanwhile. */
  readonly conflict: ChainState | null;
  readonly selectedStage: string | null;
  readonly region: Region | null;
  readonly loop: boolean;
}

const initialState: BenchState = {
  chainId: null,
  revision: 0,
  versions: [],
  savedText: '',
  draft: false,
  saving: 'idle',
  conflict: null,
  selectedStage: null,
  region: null,
  loop: false,
};

const slice = createSlice({
  name: 'bench',
  initialState,
  reducers: {
    benchOpened: (state, { payload }: PayloadAction<ChainState>) => ({
      ...initialState,
      region: state.region,
      loop: state.loop,
      chainId: payload.id,
      revision: payload.revision,
      versions: payload.versions,
      savedText: JSON.stringify(payload.document),
      draft: payload.unsaved,
      selectedStage: payload.document.stages[0]?.id ?? null,
    }),
    saveBegan: (state) => ({ ...state, saving: 'saving' as const }),
    saveFailed: (state) => ({ ...state, saving: 'failed' as const }),
    saved: (state, { payload }: PayloadAction<ChainState>) => ({
      ...state,
      saving: 'idle' as const,
      revision: payload.revision,
      versions: payload.versions,
      savedText: JSON.stringify(payload.document),
      draft: payload.unsaved,
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
    }),
    stageSelected: (state, { payload }: PayloadAction<string | null>) => ({ ...state, selectedStage: payload }),
    regionSet: (state, { payload }: PayloadAction<Region | null>) => ({ ...state, region: payload }),
    loopSet: (state, { payload }: PayloadAction<boolean>) => ({ ...state, loop: payload }),
  },
});

export const {
  benchOpened,
  saveBegan,
  saveFailed,
  saved,
  conflictFound,
  conflictSettled,
  stageSelected,
  regionSet,
  loopSet,
} = slice.actions;
export const benchReducer = slice.reducer;
