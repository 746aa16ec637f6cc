import { expect, test } from 'vitest';
import type { Render } from '@hexenkessel/core/protocol';
import { knownRenders, withNews } from './knownRenders.ts';

const render = (id: string, status: Render['status'], progress = 0) => ({ id, status, progress }) as Render;

test('a list that was read before the news came does not take it back', () => {
  const known = [render('b', 'done', 1), render('a', 'cancelled')];
  expect(knownRenders(known, [render('b', 'running', 0.5), render('a', 'queued')])).toEqual(known);
});

test('what still runs is as the list says, and what the list leaves out is gone', () => {
  const known = [render('b', 'running', 0.2), render('a', 'done', 1)];
  expect(knownRenders(known, [render('c', 'queued'), render('b', 'failed')])).toEqual([
    render('c', 'queued'),
    render('b', 'failed'),
  ]);
});

test('news of a render stands in its place, of a new one first', () => {
  const known = [render('b', 'running', 0.2), render('a', 'done', 1)];
  expect(withNews(known, render('b', 'done', 1))).toEqual([render('b', 'done', 1), render('a', 'done', 1)]);
  expect(withNews(known, render('c', 'queued')).map(({ id }) => id)).toEqual(['c', 'b', 'a']);
});
