import { headOfClip } from '../heads/clip/clip.ts';
import { BUILT_INS } from '../catalogue/builtIns.ts';
import { describe, expect, test } from 'vitest';
import type { ChainDocument } from '../chain/schema.ts';
import { toCanonical } from '../params/types/paramScale.ts';
import { isScaled } from '../params/params.ts';
import { chainOf } from '../testing/chains.ts';
import { exemptionOf } from '../stages/contract.ts';
import { LiveEngine } from './live/liveEngine.ts';
import { planStages } from './plan/plan.ts';
import { LiveRun } from '../testing/live.ts';
import { LONG } from '../testing/long.ts';
import { sine } from '../testing/signals.ts';
import { aboveBoth, decibels } from '../testing/spectrum.ts';
import { soundSettings } from '../testing/trialSounds.ts';

const RATE = 48000;
const SETTLING = 96 * 128;
/** Whole periods of 1 kHz, so that it goes round without a step. */
const TONE = 0.5;
const HELD = sine(1000, TONE, 1, RATE, 2);
/** How far from the ends of a stretch its own edges are heard in the filter. */
const EDGE = 2048;

const loudest = (samples: Float64Array, from: number, to: number) =>
  samples.subarray(from, to).reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);

/**
 * Greatest sample above 8 kHz, in dBFS, in the moments after each of a row of changes; what the stage makes there without
 * a change, before or after, does not count; nor what is no louder than `own`.
 */
function spuriousOf(chains: readonly ChainDocument[], own = 0): number[] {
  const live = new LiveRun(chains[0], HELD);
  live.run(SETTLING);
  for (const chain of chains.slice(1)) {
    live.change(chain);
    live.run(2 * SETTLING);
  }
  const heard = live.heard.map((side) => Float64Array.from(side));
  const sides = aboveBoth([live.heard[0], live.heard[1]], 8000, RATE);
  return chains.slice(1).map((_, n) => {
    const at = SETTLING * (1 + 2 * n);
    return Math.max(
      ...sides.map((high, c) => {
        const steady = Math.max(
          loudest(high, Math.max(0, at - SETTLING) + EDGE, at - EDGE),
          loudest(high, at + SETTLING, at + 2 * SETTLING - EDGE),
        );
        const during = loudest(high, at - EDGE, at + 2 * SETTLING - EDGE);
        // A tone that comes out louder than it went in leaves as much more of itself in the measuring filter.
        const sounding = loudest(heard[c], at - SETTLING + EDGE, at + 2 * SETTLING - EDGE);
        return decibels((during <= Math.max(own, steady) * 1.12 ? 1e-9 : during) / Math.max(1, sounding / TONE));
      }),
    );
  });
}

/** The loudest sample above 8 kHz that a stage makes while nothing changes, at any of these settings. */
function ownHighs(chains: readonly ChainDocument[]): number {
  const of = (chain: ChainDocument) => {
    const live = new LiveRun(chain, HELD);
    live.run(2 * SETTLING);
    return Math.max(
      ...aboveBoth([live.heard[0], live.heard[1]], 8000, RATE).map((high) =>
        loudest(high, SETTLING, 2 * SETTLING - EDGE),
      ),
    );
  };
  return Math.max(...chains.map(of));
}

const spurious = (before: ChainDocument, after: ChainDocument) => spuriousOf([before, after])[0];

/** Of parameters that are numbered and alike the first is tried; all when it may take long. */
const ALIKE = LONG ? /$^/ : /\D([2-9]|[1-3]\d)$/;

/** Settings at which a stage by itself keeps a tone of 1 kHz below 8 kHz, and is done with it soon. */
const BASES: Readonly<Record<string, object>> = {
  hall: { decay: 0.3 },
  // Each pass raises the pitch again.
  echo: { feedback: 0 },
  pitchEcho: { interval: -5 },
  grains: { feedback: 0 },
};

describe('a jump of any setting makes no click', () => {
  for (const stage of BUILT_INS.stages.filter((one) => one.runs === 'live' && !exemptionOf(one, 'jump'))) {
    const at = (settings: object, rest: object = {}) =>
      chainOf([
        {
          kind: stage.kind,
          ...rest,
          settings: { ...soundSettings(stage.params, 'Hum'), ...BASES[stage.kind], ...settings },
        },
      ]);
    for (const [key, param] of Object.entries(stage.params).filter(([name]) => !ALIKE.test(name))) {
      const values: unknown[] = isScaled(param)
        ? [param.min, param.max, param.default]
        : param.type === 'choice'
          ? [...param.options]
          : param.type === 'toggle'
            ? [false, true]
            : param.type === 'sound'
              ? [{ sound: 'Hum' }, { sound: 'Deeper hum' }, { sound: '' }]
              : [param.default];
      test(`${stage.kind}: ${key}`, () => {
        const onTheWay =
          exemptionOf(stage, 'jump', key) && isScaled(param)
            ? Array.from({ length: 17 }, (_, n) => at({ [key]: toCanonical(param, n / 16) }))
            : [];
        const found = spuriousOf(
          [...values, ...values.slice(0, 1)].map((value) => at({ [key]: value })),
          // Chance and side bands may add 3 dB to what was found.
          onTheWay.length > 0 ? 1.41 * ownHighs(onTheWay) : 0,
        );
        found.forEach((level, n) =>
          expect(
            level,
            `${JSON.stringify(values[n])} → ${JSON.stringify(values[(n + 1) % values.length])}`,
          ).toBeLessThan(-60),
        );
      });
    }
    test(`${stage.kind}: mix and level`, () => {
      const steps = [{ mix: 1 }, { mix: 0 }, { mix: 0.3 }, { mix: 1 }, { level: -96 }, { level: 6 }];
      for (const level of spuriousOf(steps.map((rest) => at({}, rest)))) expect(level).toBeLessThan(-60);
    });
  }
});

describe('a change of the arrangement makes no click', () => {
  const filter = { id: 'dull', kind: 'filter', settings: { cutoff: 400 } };
  const hall = { id: 'room', kind: 'hall', settings: { decay: 0.3 } };
  const loud = { id: 'loud', kind: 'gain', settings: { gain: 6 } };
  const branches = (muted: boolean, stages: object[] = []) => ({
    id: 'split',
    kind: 'split',
    branches: [
      { id: 'a', muted, stages },
      { id: 'b', inverted: muted, pan: muted ? 1 : 0, stages: [filter] },
    ],
  });
  test.each<[string, object[], object[]]>([
    ['switched on', [filter], [filter, hall]],
    ['switched off', [filter, hall, loud], [filter, loud]],
    ['moved', [filter, hall, loud], [loud, filter, hall]],
    ['all replaced', [filter, hall], [loud]],
    ['all gone', [filter, loud], []],
    ['another word', [filter], [{ ...filter, settings: { ...filter.settings, type: 'high', slope: '24 dB/oct' } }]],
    ['a branch muted, turned and panned', [branches(false)], [branches(true)]],
    ['a stage more inside a branch', [branches(false)], [branches(false, [loud])]],
    ['a split in the way', [loud], [branches(false, [hall]), loud]],
  ])('%s', (_, before, after) => {
    expect(spurious(chainOf(before as never), chainOf(after as never))).toBeLessThan(-60);
  });

  test('what stays is not started afresh: a hall rings on when a stage is added behind or before it', () => {
    const silence = { sampleRate: RATE, origin: 0, channels: [new Float32Array(128), new Float32Array(128)] };
    const long = { ...hall, settings: { decay: 4 } };
    for (const after of [
      [long, loud],
      [loud, long],
    ]) {
      const live = new LiveRun(chainOf([long]), HELD);
      live.run(RATE / 2);
      Object.assign(live, { source: silence });
      live.change(chainOf(after));
      live.run(RATE / 2);
      const rest = live.heard[0].slice(-4800).reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);
      expect(rest).toBeGreaterThan(0.02);
    }
  });
});

test('a clip that is exchanged while nothing plays leaves no trace of the old one', () => {
  const chain = chainOf([{ kind: 'hall', settings: { decay: 0.5 } }]);
  const plan = planStages(BUILT_INS, chain, RATE);
  const loud = sine(300, 0.9, 1, RATE, 2);
  const quiet = sine(1000, 0.1, 1, RATE, 2);
  const first = (engine: LiveEngine) => {
    const block = [new Float32Array(128), new Float32Array(128)];
    engine.play(0, undefined, Infinity);
    return Array.from({ length: 60 }, () => {
      engine.process(block[0], block[1], 128);
      return [...block[0]];
    }).flat();
  };
  const used = new LiveEngine(BUILT_INS, RATE);
  used.load('a', { head: headOfClip(loud), plan, gain: 0 });
  used.listen('a');
  first(used);
  used.stop();
  for (let n = 0; n < 20; n++) used.process(new Float32Array(128), new Float32Array(128), 128);
  used.update('a', { head: headOfClip(quiet), plan, gain: 0 });
  const fresh = new LiveEngine(BUILT_INS, RATE);
  fresh.load('a', { head: headOfClip(quiet), plan, gain: 0 });
  fresh.listen('a');
  expect(first(used)).toEqual(first(fresh));
});
