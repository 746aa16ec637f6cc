import { expect, test } from 'vitest';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { emptyChain } from '@hexenkessel/core/chain';
import type { ChainState } from '@hexenkessel/core/protocol';
import { configureStore } from '@reduxjs/toolkit';
import type { RootState } from '../app/store.ts';
import { deskReducer, shelfSet } from './deskSlice.ts';
import { auditioned, listeningSet, loopSet, mark, markedOn, playbackReducer, soloSwitched } from './playbackSlice.ts';
import { benchOpened, conflictFound, conflictSettled, saveBegan, saved, serverReducer } from './serverSlice.ts';
import { foldSwitched, laneFolded, laneOpened, viewReducer } from './viewSlice.ts';

const lanes = ['a.mix', 'b.mix', 'c.mix', 'd.mix'].map((target) => ({
  target,
  on: true,
  curve: { over: 'clip' as const, points: [{ at: 0, value: 0, bend: 0 }] },
}));
const opened = (id: string, rest: Partial<ChainState> = {}): ChainState =>
  ({
    id,
    name: id,
    revision: 3,
    unsaved: false,
    versions: [],
    document: { ...emptyChain(BUILT_INS, id), lanes },
    ...rest,
  }) as never;
const reducer = { server: serverReducer, view: viewReducer, playback: playbackReducer, desk: deskReducer };
type Store = ReturnType<typeof fresh>;
const fresh = () => configureStore({ reducer });
/** A store in which these things were done. */
function after(...actions: Parameters<Store['dispatch']>[0][]): Store {
  const store = fresh();
  for (const action of actions) store.dispatch(action);
  return store;
}
const first = benchOpened(opened('one'));

test('another chain is opened with its own shelf, nobody alone and nothing tried out', () => {
  const trial = { title: 'variation 1', document: emptyChain(BUILT_INS, 'x') };
  const store = after(first, loopSet(true), soloSwitched('branch'), listeningSet('dry'), auditioned(trial));
  expect(store.getState().playback).toMatchObject({ solos: ['branch'], audition: trial, listening: 'dry' });
  store.dispatch(benchOpened(opened('two')));
  expect(store.getState().server.chainId).toBe('two');
  expect(store.getState().playback).toMatchObject({ loop: true, solos: [], audition: null, listening: 'work' });
});

test('the shelf stays when the chain comes anew, and is replaced by that of another', () => {
  const store = after(first, shelfSet(['drums']));
  expect(store.getState().desk.shelf).toEqual(['drums']);
  store.dispatch(first);
  expect(store.getState().desk.shelf).toEqual(['drums']);
  store.dispatch(benchOpened(opened('two')));
  expect(store.getState().desk.shelf).toEqual([]);
});

test('a region and whether it is rendered belong to a chain on a sound; they are there again when one comes back', () => {
  const region = { start: 1, end: 2 };
  const none = { region: null, whole: true };
  const store = after(first);
  const on = (soundId: string) => markedOn(store.getState(), soundId);
  const marks = (part: Parameters<typeof mark>[1]) =>
    mark('bell', part)(store.dispatch as never, () => store.getState() as RootState);
  marks({ region });
  marks({ whole: false });
  expect(on('bell')).toEqual({ region, whole: false });
  expect(on('drums')).toEqual(none);
  store.dispatch(benchOpened(opened('two')));
  expect(on('bell')).toEqual(none);
  store.dispatch(first);
  expect(on('bell')).toEqual({ region, whole: false });
});

test('a chain opens with its first lanes shown; they fold away and come back once', () => {
  expect(after(first).getState().view.openLanes).toEqual(['a.mix', 'b.mix', 'c.mix']);
  expect(after(first, laneFolded('b.mix'), laneOpened('d.mix'), laneOpened('d.mix')).getState().view.openLanes).toEqual(
    ['a.mix', 'c.mix', 'd.mix'],
  );
});

test('what is switched twice is as it was', () => {
  const { playback, view } = after(
    first,
    ...['a', 'b', 'a'].map((id) => soloSwitched(id)),
    ...['a', 'a'].map((id) => foldSwitched(id)),
  ).getState();
  expect(playback.solos).toEqual(['b']);
  expect(view.folded).toEqual([]);
});

test('keeping: under way, kept under a new revision, or another window was first', () => {
  const store = after(first, saveBegan());
  expect(store.getState().server.saving).toBe('saving');
  store.dispatch(saved(opened('one', { revision: 4, unsaved: true })));
  expect(store.getState().server).toMatchObject({ saving: 'idle', revision: 4, draft: true });
  const theirs = opened('one', { revision: 9 });
  const struck = () => after(first, saveBegan(), conflictFound(theirs));
  expect(struck().getState().server).toMatchObject({ saving: 'idle', conflict: theirs, revision: 3 });
  const mine = struck();
  mine.dispatch(conflictSettled({ revision: 9 }));
  expect(mine.getState().server).toMatchObject({ conflict: null, revision: 9, confirmed: null });
  const left = struck();
  left.dispatch(conflictSettled(null));
  expect(left.getState().server).toMatchObject({ conflict: null, revision: 3, confirmed: opened('one').document });
});
