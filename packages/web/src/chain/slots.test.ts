import { combineReducers, configureStore } from '@reduxjs/toolkit';
import { expect, test } from 'vitest';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { emptyChain, type ChainDocument } from '@hexenkessel/core/chain';
import { chainChanged, chainOpened, chainReducer, clearHistory, redo, slotsOpened, undo } from './chainSlice.ts';
import { copyToSlot, emptyOtherSlots, filledSlots, goToSlot, nameSlot, otherSlots, slotTitle } from './slots.ts';

const open = () => {
  const store = configureStore({ reducer: combineReducers({ chain: chainReducer }) });
  store.dispatch(chainOpened(emptyChain(BUILT_INS, 'First')));
  store.dispatch(clearHistory());
  const work = () => store.getState().chain.present;
  // The thunks look at the chain alone.
  const go = (thunk: ReturnType<typeof goToSlot>) => store.dispatch(thunk as never);
  const rename = (name: string) =>
    store.dispatch(chainChanged({ document: { ...work().document, name } as ChainDocument, step: 'name' }));
  return { store, work, go, rename };
};

test('an empty slot begins as a copy; each keeps its own settings', () => {
  const { work, go, rename } = open();
  go(goToSlot('B'));
  expect([work().slot, work().document.name]).toEqual(['B', 'First']);
  rename('Second');
  go(goToSlot('A'));
  expect([work().slot, work().document.name]).toEqual(['A', 'First']);
  go(goToSlot('B'));
  expect(work().document.name).toBe('Second');
});

test('going, copying, naming and emptying are steps that are undone as a whole', () => {
  const { store, work, go, rename } = open();
  go(goToSlot('C'));
  rename('Third');
  go(copyToSlot('D'));
  go(nameSlot('darker'));
  expect(slotTitle('C', work().slots.C)).toBe('C “darker”');
  expect(work().slots.D?.document.name).toBe('Third');
  go(emptyOtherSlots());
  expect(Object.keys(work().slots)).toEqual(['C']);
  for (let steps = 0; steps < 5; steps++) store.dispatch(undo());
  expect([work().slot, work().document.name, Object.keys(work().slots)]).toEqual(['A', 'First', []]);
  for (let steps = 0; steps < 5; steps++) store.dispatch(redo());
  expect([work().slot, work().document.name]).toEqual(['C', 'Third']);
});

test('what stands in the slot being worked on is the chain itself, under its own name', () => {
  const { store, work, rename } = open();
  store.dispatch(slotsOpened({ slot: 'B', slots: { B: { name: 'old', document: emptyChain(BUILT_INS, 'Lagging') } } }));
  rename('Now');
  expect(filledSlots(work()).B).toMatchObject({ name: 'old', document: { name: 'Now' } });
  expect(otherSlots('B')).toEqual(['A', 'C', 'D']);
});
