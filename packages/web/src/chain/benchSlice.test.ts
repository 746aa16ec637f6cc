import { expect, test } from 'vitest';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { emptyChain } from '@hexenkessel/core/chain';
import type { ChainState } from '@hexenkessel/core/protocol';
import {
  auditioned,
  benchOpened,
  benchReducer,
  conflictFound,
  conflictSettled,
  foldSwitched,
  laneFolded,
  laneOpened,
  listeningSet,
  loopSet,
  markedOn,
  markedSet,
  saveBegan,
  saved,
  shelfSet,
  soloSwitched,
} from './benchSlice.ts';

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
const after = (...actions: Parameters<typeof benchReducer>[1][]) => actions.reduce(benchReducer, undefined as never)!;
const first = benchOpened(opened('one'));

test('another chain is opened with its own shelf, nobody alone and nothing tried out', () => {
  const trial = { title: 'variation 1', document: emptyChain(BUILT_INS, 'x') };
  const before = after(
    first,
    loopSet(true),
    shelfSet(['drums']),
    soloSwitched('branch'),
    listeningSet('dry'),
    auditioned(trial),
  );
  expect(before).toMatchObject({ solos: ['branch'], audition: trial, shelf: ['drums'] });
  const now = benchReducer(before, benchOpened(opened('two')));
  expect(now).toMatchObject({
    chainId: 'two',
    loop: true,
    shelf: [],
    solos: [],
    audition: null,
    listening: 'work',
  });
  expect(benchReducer(before, benchOpened(opened('one'))).shelf).toEqual(['drums']);
});

test('a region and whether it is rendered belong to a chain on a sound; they are there again when one comes back', () => {
  const region = { start: 1, end: 2 };
  const none = { region: null, whole: true };
  const marked = after(first, markedSet({ soundId: 'bell', region }), markedSet({ soundId: 'bell', whole: false }));
  expect(markedOn(marked, 'bell')).toEqual({ region, whole: false });
  expect(markedOn(marked, 'drums')).toEqual(none);
  const other = benchReducer(marked, benchOpened(opened('two')));
  expect(markedOn(other, 'bell')).toEqual(none);
  expect(markedOn(benchReducer(other, first), 'bell')).toEqual({ region, whole: false });
});

test('a chain opens with its first lanes shown; they fold away and come back once', () => {
  expect(after(first).openLanes).toEqual(['a.mix', 'b.mix', 'c.mix']);
  expect(after(first, laneFolded('b.mix'), laneOpened('d.mix'), laneOpened('d.mix')).openLanes).toEqual([
    'a.mix',
    'c.mix',
    'd.mix',
  ]);
});

test('what is switched twice is as it was', () => {
  expect(after(first, soloSwitched('a'), soloSwitched('b'), soloSwitched('a')).solos).toEqual(['b']);
  expect(after(first, foldSwitched('a'), foldSwitched('a')).folded).toEqual([]);
});

test('keeping: under way, kept under a new revision, or another window was first', () => {
  expect(after(first, saveBegan()).saving).toBe('saving');
  const kept = after(first, saveBegan(), saved(opened('one', { revision: 4, unsaved: true })));
  expect(kept).toMatchObject({ saving: 'idle', revision: 4, draft: true });
  const theirs = opened('one', { revision: 9 });
  const struck = after(first, saveBegan(), conflictFound(theirs));
  expect(struck).toMatchObject({ saving: 'idle', conflict: theirs, revision: 3 });
  expect(benchReducer(struck, conflictSettled({ revision: 9 }))).toMatchObject({
    conflict: null,
    revision: 9,
    savedText: '',
  });
  expect(benchReducer(struck, conflictSettled(null))).toMatchObject({ conflict: null, revision: 3 });
});
