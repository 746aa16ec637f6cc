import { expect, test } from 'vitest';
import { parseChain } from './validate.ts';

test('a route and a lane to a switch that stands still by now are taken away; all else stays', () => {
  const chain = parseChain({
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
    parseChain({
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
