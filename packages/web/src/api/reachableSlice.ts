import { createSlice } from '@reduxjs/toolkit';
import { api } from './api.ts';

/** Whether the server answered when it was last asked. */
export interface ReachableState {
  readonly away: boolean;
}

/** What stands for the server where a proxy is before it. */
const GATEWAY = new Set<unknown>([502, 503, 504]);

interface Answered {
  readonly type: string;
  readonly payload?: { readonly status?: unknown };
}

const ofApi = ({ type }: Answered, ending: string) =>
  type.startsWith(`${api.reducerPath}/execute`) && type.endsWith(ending);
const isAway = (action: Answered) =>
  ofApi(action, '/rejected') && (action.payload?.status === 'FETCH_ERROR' || GATEWAY.has(action.payload?.status));

const slice = createSlice({
  name: 'reachable',
  initialState: { away: false } as ReachableState,
  reducers: {
    wentAway: () => ({ away: true }),
    cameBack: () => ({ away: false }),
  },
  extraReducers: (builder) =>
    builder
      .addMatcher(isAway, () => ({ away: true }))
      .addMatcher(
        (action: Answered) => ofApi(action, '/fulfilled'),
        (state) => (state.away ? { away: false } : state),
      ),
});

export const { wentAway, cameBack } = slice.actions;
export const reachableReducer = slice.reducer;
