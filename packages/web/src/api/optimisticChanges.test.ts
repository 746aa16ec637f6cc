import { expect, test } from 'vitest';
import { OptimisticChanges } from './optimisticChanges.ts';

interface Entry {
  readonly id: string;
  readonly name: string;
  readonly tags: readonly string[];
}

const before: Entry = { id: 'a', name: 'harp', tags: [] };

test('a list that was asked for before a change was answered does not take it away', () => {
  const kept = new OptimisticChanges<Entry, Partial<Entry>>();
  const come = kept.asked(['a']);
  const answered = kept.begin('a', { tags: ['wind'] });
  answered(true);
  // The old list comes late.
  expect(kept.over([before])).toEqual([{ ...before, tags: ['wind'] }]);
  come();
  // One that was asked for afterwards is believed.
  // One of others says nothing of it.
  kept.asked(['b'])();
  const comeAgain = kept.asked(['b', 'a']);
  expect(kept.over([before])[0].tags).toEqual(['wind']);
  comeAgain();
  expect(kept.over([before])).toEqual([before]);
});

test('changes add up in their order; what the server refuses is dropped; others are left alone', () => {
  const kept = new OptimisticChanges<Entry, Partial<Entry>>();
  kept.begin('a', { name: 'first' });
  const refused = kept.begin('a', { name: 'refused', tags: ['x'] });
  kept.begin('a', { name: 'last' });
  refused(false);
  const other = { ...before, id: 'b' };
  expect(kept.over([before, other])).toEqual([{ ...before, name: 'last' }, other]);
});
