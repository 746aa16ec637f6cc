import { expect, test } from 'vitest';
import type { Sound } from '@hexenkessel/core/protocol';
import { branchesOf, type FamilyNode } from './familyTree.ts';
import { showBytes } from './showBytes.ts';

const sound = (id: string, sourceId?: string) =>
  ({ id, lineage: sourceId === undefined ? null : { sourceId }, mixed: null }) as unknown as Sound;
const mix = (id: string, ...parts: string[]) =>
  ({ id, lineage: null, mixed: { parts: parts.map((soundId) => ({ soundId })) } }) as unknown as Sound;
const shape = (nodes: readonly FamilyNode[]): unknown => nodes.map((node) => [node.sound.id, shape(node.children)]);

test('each sound stands under the one it was made of; one whose source is not shown stands at the top', () => {
  const all = [sound('c', 'b'), sound('b', 'a'), sound('a'), sound('d', 'a'), sound('lost', 'gone')];
  expect(shape(branchesOf(all))).toEqual([
    [
      'a',
      [
        ['b', [['c', []]]],
        ['d', []],
      ],
    ],
    ['lost', []],
  ]);
});

test('a mix stands under the first of its sounds that is shown', () => {
  const all = [mix('m', 'gone', 'b', 'a'), sound('a'), sound('b', 'a')];
  expect(shape(branchesOf(all))).toEqual([['a', [['b', [['m', []]]]]]]);
});

test('bytes are shown with three digits', () => {
  expect([0, 999, 1000, 183_204_000, 4_294_967_296].map(showBytes)).toEqual([
    '0 bytes',
    '999 bytes',
    '1 kB',
    '183 MB',
    '4.29 GB',
  ]);
});
