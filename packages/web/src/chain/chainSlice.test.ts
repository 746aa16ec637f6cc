import { combineReducers, configureStore } from '@reduxjs/toolkit';
import { expect, test } from 'vitest';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { emptyChain } from '@hexenkessel/core/chain';
import { chainChanged, chainOpened, chainReducer, clearHistory, redo, undo } from './chainSlice.ts';

const open = () => {
  const store = configureStore({ reducer: combineReducers({ chain: chainReducer }) });
  store.dispatch(chainOpened(emptyChain(BUILT_INS, 'Tide')));
  store.dispatch(clearHistory());
  return store;
};
const named = (name: string, step: string, gesture?: string) =>
  chainChanged({ document: emptyChain(BUILT_INS, name), step, gesture });

test('opening a chain shows it and leaves nothing to undo', () => {
  const { chain } = open().getState();
  expect(chain.present.document.name).toBe('Tide');
  expect([chain.past.length, chain.future.length]).toEqual([0, 0]);
});

test('steps are undone and redone in order, by their names', () => {
  const store = open();
  store.dispatch(named('A', 'first'));
  store.dispatch(named('B', 'second'));
  expect(store.getState().chain.present.step).toBe('second');
  store.dispatch(undo());
  expect(store.getState().chain).toMatchObject({
    present: { document: { name: 'A' }, step: 'first' },
    future: [{ step: 'second' }],
  });
  store.dispatch(undo());
  expect(store.getState().chain.present.document.name).toBe('Tide');
  store.dispatch(redo());
  store.dispatch(redo());
  expect(store.getState().chain.present.document.name).toBe('B');
});

test('a drag is one step, two drags are two', () => {
  const store = open();
  for (const [name, gesture] of [
    ['1', 'drag 1'],
    ['2', 'drag 1'],
    ['3', 'drag 1'],
    ['4', 'drag 2'],
  ]) {
    store.dispatch(named(name, 'decay', gesture));
  }
  store.dispatch(undo());
  expect(store.getState().chain.present.document.name).toBe('3');
  store.dispatch(undo());
  expect(store.getState().chain.present.document.name).toBe('Tide');
});
