import { expect, test } from 'vitest';
import type { Clip } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { parseChain } from '@hexenkessel/core/chain';
import { bankOf, planStages } from '@hexenkessel/core/engine';
import { Preparing } from './preparing.ts';

const clip: Clip = { sampleRate: 48000, origin: 0, channels: [Float32Array.of(1, 0.5, 0.25)] };
const bank = bankOf([{ name: 'Bell', sha256: 'abc', clip }]);
const planOf = (length: number, inside = false) => {
  const convolve = { id: 'room', kind: 'convolve', settings: { impulse: { sound: 'Bell' }, length } };
  const split = { id: 'ways', kind: 'split', branches: [{ id: 'left', stages: [convolve] }, { id: 'right' }] };
  const stages = [inside ? split : convolve, { id: 'level', kind: 'gain' }];
  return planStages(
    BUILT_INS,
    parseChain(BUILT_INS, { format: 'hexenkessel.chain', version: 1, name: 'Test', stages }),
    48000,
    bank,
  );
};
const always = () => true;
/** Notes what is asked for. */
const counting = () => {
  const asked: unknown[] = [];
  const preparing = new Preparing((stage) => {
    asked.push(stage.values['length']);
    return Promise.resolve({ made: asked.length });
  });
  return { asked, preparing };
};

test('a stage’s needs are worked out once and stand in the plan, inside branches too', async () => {
  const { asked, preparing } = counting();
  const first = await preparing.prepare(planOf(1), 48000, always);
  const again = await preparing.prepare(planOf(1, true), 48000, always);
  expect(asked).toEqual([1]);
  expect(first.map(({ prepared }) => prepared)).toEqual([{ made: 1 }, undefined]);
  expect(again[0].branches[0].stages[0].prepared).toEqual({ made: 1 });
});

test('what is not wanted any more when its turn comes is left out', async () => {
  const { asked, preparing } = counting();
  let newest = 0;
  await Promise.all(
    [1, 2, 3, 4].map((length) => {
      newest = length;
      return preparing.prepare(planOf(length), 48000, () => newest === length);
    }),
  );
  expect(asked).toEqual([4]);
});

test('a fault leaves the work to the stage', async () => {
  const preparing = new Preparing(() => Promise.reject(new Error('no thread')));
  const [stage] = await preparing.prepare(planOf(1), 48000, always);
  expect(stage.prepared).toBeUndefined();
});

test('all that a plan needs is there, however many stages need something', async () => {
  const { asked, preparing } = counting();
  const lengths = Array.from({ length: 16 }, (_, n) => 0.2 + n / 10);
  const plan = lengths.flatMap((length) => planOf(length).slice(0, 1));
  const made = await preparing.prepare(plan, 48000, always);
  expect(made.map(({ prepared }) => prepared)).toEqual(lengths.map((_, n) => ({ made: n + 1 })));
  // Played on, nothing is worked out twice.
  await preparing.prepare(plan, 48000, always);
  expect(asked).toEqual(lengths);
});
