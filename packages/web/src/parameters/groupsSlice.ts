/** Which groups of a stage's parameters stand open, for each kind of stage: as the person last left them. */
import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

export interface GroupsState {
  /** Titles of the open groups by kind of stage; a kind that is not there has never been touched. */
  readonly open: Readonly<Record<string, readonly string[]>>;
}

/** Rows that a stage may have and still show all of them. */
export const MOST_ROWS = 12;

/** Groups that stand open: all of a short stage, the first of a long one, or those that were left open. */
export function openGroups(
  { open }: GroupsState,
  kind: string,
  groups: readonly { readonly title: string; readonly rows: readonly unknown[] }[],
): readonly string[] {
  const left = open[kind];
  if (left) return left;
  const rows = groups.reduce((sum, group) => sum + group.rows.length, 0);
  return (rows > MOST_ROWS ? groups.slice(0, 1) : groups).map(({ title }) => title);
}

const initialState: GroupsState = { open: {} };

const slice = createSlice({
  name: 'groups',
  initialState,
  reducers: {
    groupsLeft: (state, { payload }: PayloadAction<{ kind: string; open: readonly string[] }>) => ({
      open: { ...state.open, [payload.kind]: payload.open },
    }),
  },
});

export const { groupsLeft } = slice.actions;
export const groupsReducer = slice.reducer;
