import { readFile } from 'node:fs/promises';
import { BUILT_INS } from '../../catalogue/builtIns.ts';
import { expect, test } from 'vitest';
import { assign } from '../edit.ts';
import { parseChain, parseChainText } from '../validate.ts';

const fixture = async (name: string) =>
  parseChainText(BUILT_INS, await readFile(new URL(`fixtures/${name}.hxk.json`, import.meta.url), 'utf8'));

test('a document of version 1 is what the one of version 2 says, and written as such', async () => {
  const [first, second] = [await fixture('version1'), await fixture('version2')];
  expect(first).toEqual({ ...second, $schema: undefined });
  expect([first.version, second.version]).toEqual([2, 2]);
  const written = JSON.parse(JSON.stringify(first)) as unknown;
  expect(parseChain(BUILT_INS, written)).toEqual(first);
});

test('a document of version 2 keeps what others put into it, and what it was made on', () => {
  const chain = parseChain(BUILT_INS, {
    $schema: 'https://example.org/chain.schema.json',
    format: 'hexenkessel.chain',
    version: 2,
    name: 'Kept',
    'x-shop': { price: 3 },
    stages: [{ id: 'g', kind: 'gain', 'x-colour': 'red' }],
    notes: [{ at: 0, length: 1, key: 60 }],
    about: { sound: { sound: 'Wind harp' }, 'x-mood': 2 },
  });
  expect(chain).toMatchObject({
    $schema: 'https://example.org/chain.schema.json',
    'x-shop': { price: 3 },
    stages: [{ 'x-colour': 'red' }],
    notes: [{ at: 0, length: 1, key: 60, velocity: 1, pressure: 0 }],
    about: { sound: { sound: 'Wind harp' }, 'x-mood': 2 },
  });
  const louder = assign(BUILT_INS, chain, 'g.gain=3');
  expect(louder).toMatchObject({ 'x-shop': { price: 3 }, stages: [{ 'x-colour': 'red', settings: { gain: 3 } }] });
});

test('a route and a lane to a switch that stands still by now are taken away; all else stays', () => {
  const chain = parseChain(BUILT_INS, {
    format: 'hexenkessel.chain',
    version: 1,
    name: 'Old',
    stages: [
      {
        id: 's',
        kind: 'split',
        branches: [{ id: 'a', stages: [{ id: 'jet', kind: 'flanger', settings: { throughZero: true } }] }, { id: 'b' }],
      },
    ],
    modulators: [{ id: 'wave', kind: 'lfo' }],
    routes: [
      { id: 'r1', from: 'wave', to: 'jet.throughZero', depth: 1 },
      { id: 'r2', from: 'wave', to: 'jet.depth', depth: 0.5 },
    ],
    lanes: [
      {
        target: 'jet.throughZero',
        curve: {
          over: 'seconds',
          points: [
            { at: 0, value: 0 },
            { at: 1, value: 1 },
          ],
        },
      },
    ],
  });
  expect(chain.routes.map(({ id }) => id)).toEqual(['r2']);
  expect(chain.lanes).toEqual([]);
  expect(chain.stages[0].branches![0].stages[0].settings['throughZero']).toBe(true);
});

test('the cuts of an echo go on swinging by the wave of its time, until told otherwise', () => {
  const settingsOf = (settings: object) =>
    parseChain(BUILT_INS, {
      format: 'hexenkessel.chain',
      version: 1,
      name: 'Old',
      stages: [{ id: 'e', kind: 'echo', settings }],
    }).stages[0].settings;
  const old = { filterMovement: 1.5, movementRate: { beats: 3 }, movementShape: 'triangle' };
  expect(settingsOf(old)).toMatchObject({ ...old, filterRate: { beats: 3 }, filterShape: 'triangle' });
  expect(settingsOf({ ...old, filterRate: 2, filterShape: 'sine' })).toMatchObject({
    filterRate: 2,
    filterShape: 'sine',
  });
});
