import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import undoable, { ActionCreators, type StateWithHistory } from 'redux-undo';
import { emptyChain, type ChainDocument } from '@hexenkessel/core';

export interface ChainWork {
  readonly document: ChainDocument;
  /** What the last change was, in words; names the step in undo and redo. */
  readonly step: string;
}

interface Change extends ChainWork {
  /** Changes with the same gesture are one step: a drag, a run of key presses on one row. */
  readonly gesture?: string | undefined;
}

const slice = createSlice({
  name: 'chain',
  initialState: { document: emptyChain('New chain'), step: '' } as ChainWork,
  reducers: {
    chainOpened: (_state, action: PayloadAction<ChainDocument>) => ({ document: action.payload, step: '' }),
    chainChanged: (_state, { payload }: PayloadAction<Change>) => ({ document: payload.document, step: payload.step }),
  },
});

export const { chainOpened, chainChanged } = slice.actions;
export const { undo, redo, clearHistory } = ActionCreators;

let gestures = 0;

/** The document being worked on, with its past and future. */
export const chainReducer = undoable(slice.reducer, {
  limit: 200,
  filter: (action) => chainChanged.match(action),
  groupBy: (action) => (chainChanged.match(action) ? (action.payload.gesture ?? `single ${++gestures}`) : null),
  neverSkipReducer: true,
});

export type ChainHistory = StateWithHistory<ChainWork>;
