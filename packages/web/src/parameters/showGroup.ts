import type { AppDispatch, RootState } from '../app/store.ts';
import type { RowGroup } from './ParameterGroups.tsx';
import { groupsLeft, openGroups } from './groupsSlice.ts';

/** Opens the group that holds a parameter, where it is folded: what is changed in a picture is to be read below it. */
export function showGroup(kind: string, groups: readonly RowGroup[], key: string) {
  return (dispatch: AppDispatch, getState: () => RootState): void => {
    const open = openGroups(getState().groups, kind, groups);
    const holder = groups.find(({ rows }) => rows.some(([name]) => name === key));
    if (holder && !open.includes(holder.title)) dispatch(groupsLeft({ kind, open: [...open, holder.title] }));
  };
}
