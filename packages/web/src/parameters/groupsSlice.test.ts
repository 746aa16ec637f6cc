import { BUILT_INS, groupsOf } from '@hexenkessel/core/stages';
import { expect, test } from 'vitest';
import { MOST_ROWS, groupsLeft, groupsReducer, openGroups } from './groupsSlice.ts';

const untouched = groupsReducer(undefined, { type: 'begin' });
const groupsFor = (kind: string) =>
  groupsOf(BUILT_INS.of({ kind })).map(({ title, params }) => ({ title, rows: params }));

test('every stage shows at most twelve rows to begin with, or the first group', () => {
  for (const { kind, params } of BUILT_INS.stages) {
    if (Object.keys(params).length === 0) continue;
    const groups = groupsFor(kind);
    const open = openGroups(untouched, kind, groups);
    const shown = groups.filter(({ title }) => open.includes(title)).flatMap(({ rows }) => rows);
    expect(shown.length, kind).toBeGreaterThan(0);
    expect(shown.length <= MOST_ROWS || groups.length === 1, `${kind}: ${shown.length}`).toBe(true);
    expect(open[0], kind).toBe(groups[0].title);
  }
});

test('what a person opens and folds stays so for all stages of the kind, and for no other', () => {
  const left = groupsReducer(untouched, groupsLeft({ kind: 'echo', open: ['noise'] }));
  expect(openGroups(left, 'echo', groupsFor('echo'))).toEqual(['noise']);
  expect(openGroups(left, 'hall', groupsFor('hall'))).toEqual(openGroups(untouched, 'hall', groupsFor('hall')));
});
