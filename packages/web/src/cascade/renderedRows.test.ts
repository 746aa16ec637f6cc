import { expect, test } from 'vitest';
import { outlineOf } from '@hexenkessel/core/analysis';
import { parseChain } from '@hexenkessel/core/chain';
import { ClipCache, finishRender, renderChain, type Output } from '@hexenkessel/core/engine';
import type { Clip } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { RenderedRows } from './renderedRows.ts';

const FRAMES = 20_000;
const SIZE = 8 * FRAMES;
const source: Clip = {
  sampleRate: 48_000,
  origin: 0,
  channels: [0, 1].map((side) => Float32Array.from({ length: FRAMES }, (_, i) => Math.sin(i * (0.01 + 0.003 * side)))),
};
const chainAt = (last: number) =>
  parseChain(BUILT_INS, {
    format: 'hexenkessel.chain',
    version: 2,
    name: 'Rows',
    stages: [-3, 4, last].map((gain, n) => ({ id: `g${n}`, kind: 'gain', settings: { gain } })),
    render: { tail: { mode: 'none' } },
  });

/** Renders as the worker does, and gives the rows that it would tell. */
function rendered(rows: RenderedRows, cache: ClipCache, last: number) {
  rows.clear();
  const told: { readonly id: string; readonly cached: boolean; readonly output: Output }[] = [];
  const { known, watch } = rows;
  const request = { chain: chainAt(last), source, sourceKey: 's', cache, known, watch };
  finishRender(renderChain(BUILT_INS, request), (step) => {
    if (step.type === 'stage') told.push({ id: step.id, cached: step.cached, output: step });
  });
  return told.map(({ id, cached, output }, index) => ({ id, cached, row: rows.row(output, index) }));
}

test('rows are drawn of all stages, held or not, and of what is known nothing is run again', () => {
  const cache = new ClipCache(1.5 * SIZE);
  const rows = new RenderedRows(cache);
  const first = rendered(rows, cache, 1);
  expect(first.map(({ cached }) => cached)).toEqual([false, false, false]);
  // Only the last fits; of the others there are outlines.
  expect(first.map(({ id }) => rows.clip(`stage:${id}` as const) !== undefined)).toEqual([false, false, true]);
  const peaks = [-3, 1, 2].map((gain) => outlineOf(source).peak + gain);
  first.forEach(({ row }, n) => expect(row.peak).toBeCloseTo(peaks[n], 3));

  const again = rendered(rows, cache, 1);
  expect(again.map(({ cached }) => cached)).toEqual([true, true, true]);
  expect(again.map(({ row }) => row.clipId)).toEqual(first.map(({ row }) => row.clipId));

  const changed = rendered(rows, cache, -6);
  expect(changed.map(({ row }) => row.clipId === first[0].row.clipId)).toEqual([true, false, false]);
  expect(changed[1].row.clipId).toBe(first[1].row.clipId);
  expect(changed[2].row.peak).toBeCloseTo(peaks[1] - 6, 3);
});

test('what is held for playing is there whatever fits, and the same clip is the same', () => {
  const rows = new RenderedRows(new ClipCache(0));
  const row = rows.hold('source', source);
  expect(rows.clip('source')).toBe(source);
  expect(rows.hold('result', source).clipId).toBe(row.clipId);
  rows.clear();
  expect(rows.clip('source')).toBeUndefined();
});
