import { headOfClip } from '../heads/clip/clip.ts';
import { BUILT_INS } from '../catalogue/builtIns.ts';
import { expect, test } from 'vitest';
import type { ChainDocument } from '../chain/schema.ts';
import { MODULATORS } from '../modulation/modulators/index.ts';
import { isScaled, resolveSetting } from '../params/params.ts';
import { chainOf } from '../testing/chains.ts';
import { forbidAllocation } from '../testing/forbidAllocation.ts';
import { noise } from '../testing/signals.ts';
import { TRIAL_BANK } from '../testing/trialSounds.ts';
import { LiveEngine } from './live/liveEngine.ts';
import { LiveMeters } from './live/liveMeters.ts';
import { createMeterBoard } from './live/meterBoard.ts';
import { SettingsReader, SettingsWriter, createSharedSettings } from './live/sharedSettings.ts';
import { planStages } from './plan/plan.ts';
import { flatValues } from './plan/valueLayout.ts';

const RATE = 48000;
const BLOCKS = 400;

/** The engine as the audio thread runs it: settings from shared memory, a loop, meters. */
function running(kind: string) {
  const chain = (towardsMax: number) => {
    const stage = BUILT_INS.stages.find((candidate) => candidate.kind === kind)!;
    const settings = Object.entries(stage.params).map(([key, param]) => {
      if (param.type === 'sound') return [key, { sound: 'Rattle' }];
      if (!isScaled(param)) return [key, param.default];
      const from = resolveSetting(param, param.default, { tempo: 93, meter: [4, 4] }, RATE) as number;
      return [key, from + towardsMax * (param.max - from)];
    });
    return chainOf([{ kind, mix: 0.3 + towardsMax, level: -6, settings: Object.fromEntries(settings) }]);
  };
  return runningChains([chain(0.07), chain(0.43)]);
}

/** The same for a chain whose settings become those of another half-way. */
function runningChains(chains: readonly ChainDocument[]) {
  const plans = chains.map((chain) => planStages(BUILT_INS, chain, RATE, TRIAL_BANK));
  const engine = new LiveEngine(BUILT_INS, RATE);
  engine.load('work', { head: headOfClip(noise(RATE, RATE, 2)), plan: plans[0], gain: -3 });
  engine.listen('work');
  engine.play(0, { start: 0, end: RATE }, Infinity);
  const meters = new LiveMeters(new Float64Array(createMeterBoard()), RATE);
  const memory = createSharedSettings();
  const writer = new SettingsWriter(memory);
  const reader = new SettingsReader(memory);
  const numbers = plans.map(flatValues);
  const output = [new Float32Array(128), new Float32Array(128)];
  return (blocks: number) => {
    for (let n = 0; n < blocks; n++) {
      if (n === BLOCKS / 2) writer.write(0, numbers[1]);
      if (reader.read(0)) engine.deck('work')!.section.setValues(reader.numbers, 0);
      engine.process(output[0], output[1], 128);
      meters.stages(engine.heard!.section);
      meters.process(output, 128, 100);
    }
  };
}

for (const { kind } of BUILT_INS.stages.filter(({ runs }) => runs === 'live')) {
  test(`${kind}: a block takes no memory, while nothing moves and while everything does`, () => {
    const run = running(kind);
    forbidAllocation(() => run(BLOCKS));
  });
}

test('modulators, routes and lanes: a block takes no memory', () => {
  const depths = [0.1, 0.3].map((depth) =>
    chainOf([{ kind: 'filter' }, { kind: 'split', branches: [{ id: 'a' }, { id: 'b' }] }], {
      modulators: MODULATORS.map(({ kind }) => ({ id: kind, kind })),
      routes: MODULATORS.flatMap(({ kind }, n) =>
        ['filter.cutoff', 'filter.mix', 'a.pan'].map((to, m) => ({ id: `r${n}-${m}`, from: kind, to, depth })),
      ),
      lanes: [
        {
          target: 'b.level',
          curve: {
            over: 'seconds',
            points: [
              { at: 0.1, value: 0 },
              { at: 0.4, value: -20, bend: 1 },
            ],
          },
        },
        {
          target: 'lfo.once',
          curve: {
            over: 'seconds',
            points: [
              { at: 0.1, value: 0 },
              { at: 0.2, value: 1 },
            ],
          },
        },
      ],
    }),
  );
  const run = runningChains(depths);
  forbidAllocation(() => run(BLOCKS));
});

test('what is forbidden is noticed', () => {
  expect(() => forbidAllocation(() => void [1].map((x) => x))).toThrow('Array.map is called in the audio thread');
  expect(() => forbidAllocation(() => void new Float32Array(1))).toThrow('new Float32Array');
  expect([1].map((x) => x)).toEqual([1]);
});
