import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import undoable, { ActionCreators, type StateWithHistory } from 'redux-undo';
import type { ChainDocument } from '@hexenkessel/core/chain';
import type { Slot, SlotLetter } from '@hexenkessel/core/protocol';

export interface ChainWork {
  readonly document: ChainDocument;
  /** What the last change was, in words; names the step in undo and redo. */
  readonly step: string;
  /** The slot being worked on. */
  readonly slot: SlotLetter;
  /** Settings put aside; the slot being worked on may lag behind the document. */
  readonly slots: Readonly<Partial<Record<SlotLetter, Slot>>>;
}

interface Change extends Pick<ChainWork, 'document' | 'step'>, Partial<Pick<ChainWork, 'slot' | 'slots'>> {
  /** Changes with the same gesture are one step: a drag, a run of key presses on one row. */
  readonly gesture?: string | undefined;
}

/** Stands until a chain is opened; nobody reads of it, and the pages that open none do without the stages. */
const NONE = {} as ChainDocument;

const slice = createSlice({
  name: 'chain',
  initialState: { document: NONE, step: '', slot: 'A', slots: {} } as ChainWork,
  reducers: {
    chainOpened: (state, action: PayloadAction<ChainDocument>) => ({ ...state, document: action.payload, step: '' }),
    /** The slots as they were left; no step of work. */
    slotsOpened: (state, { payload }: PayloadAction<Pick<ChainWork, 'slot' | 'slots'>>) => ({ ...state, ...payload }),
    chainChanged: (state, { payload }: PayloadAction<Change>) => ({
      document: payload.document,
      step: payload.step,
      slot: payload.slot ?? state.slot,
      slots: payload.slots ?? state.slots,
    }),
  },
});

export const { chainOpened, slotsOpened, chainChanged } = slice.actions;
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
