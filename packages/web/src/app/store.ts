import {
  configureStore,
  createListenerMiddleware,
  isAnyOf,
  type PayloadAction,
  type ThunkDispatch,
  type UnknownAction,
} from '@reduxjs/toolkit';
import { useDispatch, useSelector, useStore } from 'react-redux';
import type { ChainState } from '@hexenkessel/core/protocol';
import { api } from '../api/api.ts';
import { reachableReducer } from '../api/reachableSlice.ts';
import { chainReducer } from '../chain/chainSlice.ts';
import { deskReducer } from '../chain/deskSlice.ts';
import { playbackReducer } from '../chain/playbackSlice.ts';
import { serverReducer } from '../chain/serverSlice.ts';
import { viewReducer } from '../chain/viewSlice.ts';
import { groupsReducer } from '../parameters/groupsSlice.ts';

interface ApiState {
  readonly [api.reducerPath]: ReturnType<typeof api.reducer>;
}
const listeners = createListenerMiddleware<ApiState, ThunkDispatch<ApiState, unknown, UnknownAction>>();
const { createChain, saveDraft, saveVersion } = api.endpoints;
const isSaved = isAnyOf(createChain.matchFulfilled, saveDraft.matchFulfilled, saveVersion.matchFulfilled);

// Every view shows a chain as the last save left it, without asking for it anew.
listeners.startListening({
  matcher: (action): action is PayloadAction<ChainState> => isSaved(action),
  effect: ({ payload }, { dispatch }) => void dispatch(api.util.upsertQueryData('chain', payload.id, payload)),
});

export const store = configureStore({
  reducer: {
    chain: chainReducer,
    server: serverReducer,
    view: viewReducer,
    playback: playbackReducer,
    desk: deskReducer,
    groups: groupsReducer,
    reachable: reachableReducer,
    [api.reducerPath]: api.reducer,
  },
  middleware: (defaults) => defaults().prepend(listeners.middleware).concat(api.middleware),
});

export type RootState = ReturnType<typeof store.getState>;
export type AppDispatch = typeof store.dispatch;
export const useAppDispatch = useDispatch.withTypes<AppDispatch>();
/** For what is read when something happens, and shown by nobody. */
export const useAppStore = useStore.withTypes<typeof store>();
export const useAppSelector = useSelector.withTypes<RootState>();
