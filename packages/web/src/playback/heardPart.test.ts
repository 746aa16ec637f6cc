import { describe, expect, test } from 'vitest';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { parseChain } from '@hexenkessel/core/chain';
import type { Sound } from '@hexenkessel/core/protocol';
import { alongShelf, shelfOf } from '../bench/shelfOf.ts';
import type { CascadeState } from '../cascade/chainRenderer.ts';
import { chainUpTo, heardPart, heardText } from './heardPart.ts';
import { heardStretch } from './heardStretch.ts';
import { barShare } from './levels.ts';
import { boardPlaces, liveStageIds } from './liveRows.ts';

const chain = parseChain(BUILT_INS, {
  format: 'hexenkessel.chain',
  version: 1,
  name: 'Mixed',
  render: { anchor: 'end' },
  stages: [
    { id: 'dull', kind: 'filter' },
    { id: 'flip', kind: 'reverse' },
    { id: 'quiet', kind: 'gain', on: false },
    { id: 'parts', kind: 'split', branches: [{ id: 'b', stages: [{ id: 'room', kind: 'hall' }] }] },
    { id: 'loud', kind: 'gain' },
  ],
});

test('what is heard is cut behind the last whole-clip stage: before it rendered, behind it live', () => {
  const whole = heardPart(chain, 'result');
  expect(whole.prefix).toBe('stage:flip');
  expect(whole.chain.stages.map(({ id }) => id)).toEqual(['quiet', 'parts', 'loud']);
  expect(heardPart(chain, 'stage:dull')).toMatchObject({ prefix: 'source', chain: { stages: [{ id: 'dull' }] } });
  expect(heardPart(chain, 'source').chain.stages).toEqual([]);
  expect([...liveStageIds(chain)]).toEqual(['quiet', 'parts', 'room', 'loud']);
});

test('a row in the middle lies where it falls, only the whole is placed', () => {
  expect(chainUpTo(chain, 'stage:flip').render.anchor).toBe('source');
  const one = { ...chain, render: { ...chain.render, channels: 'mono' as const } };
  expect(heardPart(one, 'result').chain.render.channels).toBe('mono');
  expect(heardPart(one, 'stage:flip').chain.render.channels).toBe('as they come');
  expect(chainUpTo(chain, 'result')).toBe(chain);
});

test('names and notes change nothing that is heard', () => {
  const renamed = { ...chain, name: 'Other', about: { ...chain.about, notes: 'x' } };
  expect(heardText(renamed)).toBe(heardText(chain));
  expect(heardText({ ...chain, timing: { ...chain.timing, tempo: 61 } })).not.toBe(heardText(chain));
});

test('meters stand in the order of the stages that run; those that are off have none', () => {
  expect([...boardPlaces(chain, 'result')]).toEqual([
    ['parts', 0],
    ['room', 1],
    ['loud', 2],
  ]);
  expect([...boardPlaces(chain, 'stage:dull')]).toEqual([['dull', 0]]);
});

describe('the stretch that is heard', () => {
  const rows = (source?: [number, number], result?: [number, number]) =>
    ({
      sampleRate: 1000,
      rows: {
        ...(source && { source: { start: source[0], end: source[1] } }),
        ...(result && { result: { start: result[0], end: result[1] } }),
      },
    }) as unknown as CascadeState;

  test('the region, or all there is, or nothing while the sound is not there', () => {
    expect(heardStretch(rows([0, 4000], [-2000, 5000]), null)).toEqual({ start: -2, end: 5 });
    expect(heardStretch(rows([0, 4000], [-9000, 0]), null)).toEqual({ start: -9, end: 4 });
    expect(heardStretch(rows(), { start: 1, end: 2 })).toEqual({ start: 1, end: 2 });
    expect(heardStretch(rows(), null)).toBeUndefined();
    // Round and round it is the sound, however long its tail.
    expect(heardStretch(rows([0, 4000], [-2000, 5000]), null, true)).toEqual({ start: 0, end: 4 });
    // Drawn out to twice its length, it is twice as long to go round.
    const drawnOut = { ...rows([0, 4000], [0, 9500]), span: { start: 0, end: 8000 } };
    expect(heardStretch(drawnOut, null, true)).toEqual({ start: 0, end: 8 });
    expect(heardStretch(rows([0, 4000], [-2000, 5000]), { start: 1, end: 2 }, true)).toEqual({ start: 1, end: 2 });
  });
});

describe('the shelf', () => {
  const sounds = [
    ['s1', 'source'],
    ['r1', 'render'],
    ['s2', 'source'],
    ['t1', 'signal'],
  ].map(([id, kind]) => ({ id, kind, name: id })) as unknown as Sound[];

  test('holds the sources and the test signals until one is chosen for the chain', () => {
    expect(shelfOf(sounds, []).map(({ id }) => id)).toEqual(['s1', 's2', 't1']);
    expect(shelfOf(sounds, ['r1', 'gone', 's1']).map(({ id }) => id)).toEqual(['r1', 's1']);
    expect(shelfOf(sounds, ['gone']).map(({ id }) => id)).toEqual(['s1', 's2', 't1']);
  });

  test('goes round at its ends', () => {
    const shelf = shelfOf(sounds, []);
    expect(alongShelf(shelf, 't1', 1)?.id).toBe('s1');
    expect(alongShelf(shelf, 's1', -1)?.id).toBe('t1');
  });
});

test('bars are empty at −60 dBFS and full at 0', () => {
  expect([0, 0.001, 10 ** (-30 / 20), 1, 4].map((x) => Number(barShare(x).toFixed(6)))).toEqual([0, 0, 0.5, 1, 1]);
});
