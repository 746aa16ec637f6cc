import { expect, test } from 'vitest';
import { BUILT_INS } from '../catalogue/builtIns.ts';
import { finishRender, renderChain } from '../engine/offline/renderer.ts';
import { soundUses } from '../engine/plan/soundBank.ts';
import { chainOf } from '../testing/chains.ts';
import { noise } from '../testing/signals.ts';
import { takenIds } from './panel.ts';
import { stageAsChain, withSoundFor, withStagesOf } from './stagePart.ts';
import type { ChainDocument } from './schema.ts';
import { withoutDangling } from './targets.ts';
import { parseChain } from './validate.ts';

/** A filter that an LFO moves, whose rate another one moves; a lane and a control that drives both stages. */
const MOVED = chainOf(
  [
    { id: 'filter', kind: 'filter', name: 'Fog', settings: { cutoff: 900 } },
    { id: 'split', kind: 'split', branches: [{ id: 'a', stages: [{ id: 'shaker', kind: 'tremolo' }] }, { id: 'b' }] },
    { id: 'gain', kind: 'gain' },
  ],
  {
    timing: { tempo: 97 },
    modulators: [
      { id: 'lfo', kind: 'lfo', settings: { rate: 3 } },
      { id: 'slow', kind: 'lfo', settings: { rate: 0.7 } },
      { id: 'other', kind: 'lfo' },
    ],
    routes: [
      { id: 'r1', from: 'lfo', to: 'filter.cutoff', depth: 0.3 },
      { id: 'r2', from: 'slow', to: 'lfo.rate', depth: 0.2 },
      { id: 'r3', from: 'other', to: 'gain.gain', depth: 0.2 },
      { id: 'r4', from: 'near', to: 'filter.resonance', depth: 0.1 },
    ],
    lanes: [
      {
        target: 'filter.mix',
        curve: {
          over: 'clip',
          points: [
            { at: 0, value: 1 },
            { at: 1, value: 0.4 },
          ],
        },
      },
      { target: 'gain.gain', curve: { over: 'clip', points: [{ at: 0, value: -6 }] } },
    ],
    panel: [
      {
        id: 'near',
        name: 'Near',
        default: 50,
        value: 50,
        drives: [
          { target: 'gain.level', from: -12, to: 0 },
          { target: 'filter.level', from: -12, to: 0 },
        ],
      },
    ],
  },
);
const SOURCE = noise(9000);
const rendered = (chain: ChainDocument) => finishRender(renderChain(BUILT_INS, { chain, source: SOURCE })).channels;
const checked = (chain: ChainDocument) => parseChain(BUILT_INS, withoutDangling(BUILT_INS, chain));
const END = { branchId: undefined, index: Infinity };

test('a stage alone has its settings and nothing that moves it', () => {
  const alone = stageAsChain(BUILT_INS, MOVED, 'filter', false)!;
  expect(alone).toMatchObject({ name: 'Fog', timing: { tempo: 97 }, lanes: [], routes: [], modulators: [], panel: [] });
  expect(alone.stages).toEqual([MOVED.stages[0]]);
  expect(stageAsChain(BUILT_INS, MOVED, 'nobody', false)).toBeUndefined();
});

test('with what moves it: lanes, routes, the modulators behind them at any depth, and its part of the controls', () => {
  const part = stageAsChain(BUILT_INS, MOVED, 'filter', true)!;
  expect(part.modulators.map(({ id }) => id)).toEqual(['lfo', 'slow']);
  expect(part.routes.map(({ id }) => id)).toEqual(['r1', 'r2', 'r4']);
  expect(part.lanes.map(({ target }) => target)).toEqual(['filter.mix']);
  expect(part.panel.map(({ id, drives }) => [id, drives.map(({ target }) => target)])).toEqual([
    ['near', ['filter.level']],
  ]);
});

test('put into a chain that has the same ids, it sounds as it did, and what was there is as it was', () => {
  const part = { ...stageAsChain(BUILT_INS, MOVED, 'filter', true)!, render: MOVED.render };
  const empty = chainOf([], { timing: { tempo: 97 } });
  const fresh = checked(withStagesOf(empty, part, END));
  expect(rendered(fresh)).toEqual(rendered(part));
  const off = { ...MOVED, stages: MOVED.stages.map((stage) => ({ ...stage, on: false })) };
  const both = checked(withStagesOf(off, part, END));
  expect(both.stages.map(({ id }) => id)).toEqual(['filter', 'split', 'gain', 'filter2']);
  expect(both.stages.slice(0, 3)).toEqual(off.stages);
  for (const list of ['modulators', 'routes', 'lanes', 'panel'] as const)
    expect(both[list].slice(0, off[list].length)).toEqual(off[list]);
  expect(rendered(both)).toEqual(rendered(part));
  const ids = [...both.modulators, ...both.routes, ...both.panel, ...both.stages].map(({ id }) => id);
  expect(new Set(ids).size).toBe(ids.length);
  // Once more: again with ids of its own.
  expect(checked(withStagesOf(both, part, END)).stages.at(-1)!.id).toBe('filter3');
});

test('a stage with branches goes along whole, into a branch too', () => {
  const part = stageAsChain(BUILT_INS, MOVED, 'split', true)!;
  const twice = checked(withStagesOf(MOVED, part, { branchId: 'b', index: 0 }));
  const [inner] = twice.stages[1].branches![1].stages;
  expect(inner.branches!.map(({ id }) => id)).toEqual(['a2', 'b2']);
  expect(inner.branches![0].stages.map(({ id }) => id)).toEqual(['shaker2']);
  expect(takenIds(twice).size).toBe(takenIds(MOVED).size + 4);
});

test('what names a branch outside of it names nothing; inside, the branch under its new id', () => {
  const chain = chainOf([
    {
      id: 'split',
      kind: 'split',
      branches: [
        { id: 'a' },
        { id: 'b', stages: [{ id: 'duck', kind: 'compressor', settings: { side: { sound: '', branch: 'a' } } }] },
      ],
    },
  ]);
  const duck = stageAsChain(BUILT_INS, chain, 'duck', true)!;
  expect(duck.stages[0].settings['side']).toEqual({ sound: '' });
  const whole = checked(withStagesOf(chain, stageAsChain(BUILT_INS, chain, 'split', true)!, END));
  expect(whole.stages[1].branches![1].stages[0].settings['side']).toMatchObject({ branch: 'a2' });
});

test('a sound that is not here is replaced wherever it is named, and no other', () => {
  const chain = chainOf([
    { id: 'hall', kind: 'convolve', settings: { impulse: { sound: 'A bell', sha256: 'a'.repeat(64) } } },
    {
      id: 'split',
      kind: 'split',
      branches: [
        {
          id: 'a',
          stages: [{ id: 'in', kind: 'convolve', settings: { impulse: { sound: 'A bell', sha256: 'a'.repeat(64) } } }],
        },
        { id: 'b' },
      ],
    },
    { id: 'other', kind: 'convolve', settings: { impulse: { sound: 'A horn' } } },
  ]);
  const [{ ref }] = soundUses(BUILT_INS, chain);
  const here = { sound: 'Tram bell', sha256: 'b'.repeat(64) };
  const named = soundUses(BUILT_INS, checked(withSoundFor(chain, ref, here))).map((use) => use.ref.sound);
  expect(named).toEqual(['Tram bell', 'Tram bell', 'A horn']);
});
