import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { Desk } from '@hexenkessel/core/protocol';
import { benchOpened } from './serverSlice.ts';

/** What lies beside the chain that is open. */
export interface DeskState {
  readonly chainId: string | null;
  /** Sounds at hand, in order; empty: all there are. */
  readonly shelf: Desk['shelf'];
}

const slice = createSlice({
  name: 'desk',
  initialState: { chainId: null, shelf: [] } as DeskState,
  reducers: {
    shelfSet: (state, { payload }: PayloadAction<Desk['shelf']>) => ({ ...state, shelf: payload }),
  },
  extraReducers: (builder) =>
    builder.addCase(benchOpened, (state, { payload: { id } }) => ({
      chainId: id,
      shelf: id === state.chainId ? state.shelf : [],
    })),
});

export const { shelfSet } = slice.actions;
export const deskReducer = slice.reducer;
