import { configureStore } from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import { api } from '../api/api.ts';
import { benchReducer } from '../chain/benchSlice.ts';
import { chainReducer } from '../chain/chainSlice.ts';

export const store = configureStore({
  reducer: { chain: chainReducer, bench: benchReducer, [api.reducerPath]: api.reducer },
  middleware: (defaults) => defaults().concat(api.middleware),
});

export type RootState = ReturnType<typeof store.getState>;
export type AppDispatch = typeof store.dispatch;
export const useAppDispatch = useDispatch.withTypes<AppDispatch>();
export const useAppSelector = useSelector.withTypes<RootState>();
