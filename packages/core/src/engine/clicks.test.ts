import { describe, expect, test } from 'vitest';
import type { ChainDocument } from '../chain/schema.ts';
import { STAGES } from '../stages/index.ts';
import { isScaled } from '../stages/params.ts';
import { chainOf } from '../testing/chains.ts';
import { LiveEngine } from './live/liveEngine.ts';
import { planStages } from './plan.ts';
import { LiveRun } from '../testing/live.ts';
import { sine } from '../testing/signals.ts';
import { above, decibels } from '../testing/spectrum.ts';

const RATE = 48000;
const SETTLING = 96 * 128;
/** Whole periods of 1 kHz, so that it goes round without a step. */
const HELD = sine(1000, 0.5, 1, RATE, 2);
/** How far from the ends of a stretch its own edges are heard in the filter. */
const EDGE = 2048;

const loudest = (samples: Float64Array, from: number, to: number) =>
  samples.subarray(from, to).reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);

/**
 * Greatest sample above 8 kHz, in dBFS, in the moments after a change; what the stage makes there without a change,
 * before or after, does not count.
 */
function spurious(before: ChainDocument, after: ChainDocument): number {
  const live = new LiveRun(before, HELD);
  live.run(SETTLING);
  live.change(after);
  live.run(2 * SETTLING);
  return Math.max(
    ...live.heard.map((side) => {
      const high = above(side, 8000, RATE);
      const steady = Math.max(
        loudest(high, EDGE, SETTLING - EDGE),
        loudest(high, high.length - 2 * EDGE, high.length - EDGE),
      );
      const during = loudest(high, SETTLING - EDGE, high.length - EDGE);
      return decibels(during <= steady * 1.12 ? 1e-9 : during);
    }),
  );
}

/** On their way these pass settings at which the stage itself makes such highs, more than at either end. */
const MAKES_HIGHS = new Set([
  'ringMod carrier',
  'crush rate',
  'crush bits',
  'drive bias',
  'echo noise',
  'ensemble saturation',
]);

describe('a jump of any setting makes no click', () => {
  for (const stage of STAGES.filter(({ reach }) => reach === 'live')) {
    const at = (settings: object, rest: object = {}) =>
      chainOf([
        { kind: stage.kind, ...rest, settings: { ...(stage.kind === 'hall' ? { decay: 0.3 } : {}), ...settings } },
      ]);
    for (const [key, param] of Object.entries(stage.params)) {
      const values: unknown[] = isScaled(param)
        ? [param.min, param.max, param.default]
        : param.type === 'choice'
          ? [...param.options]
          : param.type === 'toggle'
            ? [false, true]
            : [param.default];
      test(`${stage.kind}: ${key}`, () => {
        const jumps = values.flatMap((from) => values.filter((to) => to !== from).map((to) => [from, to]));
        for (const [from, to] of jumps.slice(0, 8)) {
          if (MAKES_HIGHS.has(`${stage.kind} ${key}`)) continue;
          // A 1 kHz sine raised by 36 dB would be louder than the measure allows for by as much.
          if (key === 'gain' && (from === 36 || to === 36)) continue;
          expect(spurious(at({ [key]: from }), at({ [key]: to })), `${String(from)} → ${String(to)}`).toBeLessThan(-60);
        }
      });
    }
    test(`${stage.kind}: mix and level`, () => {
      expect(spurious(at({}, { mix: 1 }), at({}, { mix: 0 }))).toBeLessThan(-60);
      expect(spurious(at({}, { mix: 0.3 }), at({}, { mix: 1 }))).toBeLessThan(-60);
      expect(spurious(at({}, { level: 0 }), at({}, { level: -96 }))).toBeLessThan(-60);
      expect(spurious(at({}, { level: -96 }), at({}, { level: 6 }))).toBeLessThan(-60);
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
  const plan = planStages(chain, RATE);
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
  const used = new LiveEngine(RATE);
  used.load('a', { clip: loud, plan, gain: 0 });
  used.listen('a');
  first(used);
  used.stop();
  for (let n = 0; n < 20; n++) used.process(new Float32Array(128), new Float32Array(128), 128);
  used.update('a', { clip: quiet, plan, gain: 0 });
  const fresh = new LiveEngine(RATE);
  fresh.load('a', { clip: quiet, plan, gain: 0 });
  fresh.listen('a');
  expect(first(used)).toEqual(first(fresh));
});
