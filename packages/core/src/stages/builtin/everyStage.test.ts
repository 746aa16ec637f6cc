/** What holds for every live stage, whatever it does: tried on the processors themselves. */
import { BUILT_INS } from '../../catalogue/builtIns.ts';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { createRandom } from '../../dsp/random.ts';
import { UNWATCHED } from '../../engine/run/watch.ts';
import { makeBranch } from '../../engine/run/section.ts';
import { ModulationBus } from '../../engine/modulation/modulationBus.ts';
import { noise } from '../../testing/signals.ts';
import { runs } from '../../testing/long.ts';
import { decibels } from '../../testing/spectrum.ts';
import { trialClips } from '../../testing/trialSounds.ts';
import { exemptionOf, type LiveProcessor, type LiveStage, type ResolvedValues } from '../contract.ts';
import { isScaled, resolveSetting, type Param, type Params } from '../../params/params.ts';

const RATE = 48000;
const TIMING = { tempo: 120, meter: [4, 4] } as const;
const LIVE = BUILT_INS.stages.filter((stage): stage is LiveStage => stage.runs === 'live');
/** How many settings of each stage are tried; more by asking for them. */
const SETTINGS = runs(120, 2000);

const EMPTY_BRANCH = { level: 0, pan: 0, muted: false, inverted: false, stages: [], moves: [] };

/** A stage at work by itself, its branches empty. */
function create(stage: LiveStage, values: ResolvedValues<Params>, sampleRate = RATE): LiveProcessor<Params> {
  const count = stage.holds?.count(values).min ?? 0;
  const branches = Array.from({ length: count }, (_, n) => {
    const inputChannels = stage.holds!.inputChannels(values, 2);
    const placement = stage.holds!.placement(values, n);
    return makeBranch(
      BUILT_INS,
      { id: `b${n}`, ...EMPTY_BRANCH },
      {
        movement: new ModulationBus([], sampleRate, { start: 0, end: 1 }),
        inputChannels,
        placement,
        latency: 0,
        watch: UNWATCHED,
        earlier: [],
      },
    );
  });
  const sounds = trialClips(stage.params, 'Rattle');
  return stage.create(
    {
      sampleRate,
      inputChannels: 2,
      outputChannels: 2,
      random: createRandom(7),
      sounds,
      kernels: BUILT_INS.kernels,
      beats: [],
      prepared: stage.prepare?.({ sampleRate, sounds, kernels: BUILT_INS.kernels }, values),
      side: () => undefined,
      branches,
    },
    values,
  );
}

const defaults = (stage: LiveStage): Record<string, number | string | boolean> =>
  Object.fromEntries(
    Object.entries(stage.params).map(([key, param]) => [
      key,
      param.type === 'sound'
        ? 'Rattle'
        : (resolveSetting(param, param.default, TIMING, RATE) as number | string | boolean),
    ]),
  );

type Ramps = Record<string, unknown>;
const still = (values: ResolvedValues<Params>): Ramps =>
  Object.fromEntries(
    Object.entries(values).map(([key, value]) => [
      key,
      typeof value === 'number' ? { start: value, end: value } : value,
    ]),
  );

/** Runs what `input` says, frame by frame, in blocks of a size; then `silence` frames of nothing. */
function run(
  processor: LiveProcessor<Params>,
  values: ResolvedValues<Params>,
  input: readonly Float32Array[],
  silence = 0,
  size = 128,
): Float32Array[] {
  const ramps = still(values) as never;
  const frames = input[0].length + silence;
  const out = [new Float32Array(frames), new Float32Array(frames)];
  const block = [new Float32Array(size), new Float32Array(size)];
  const result = [new Float32Array(size), new Float32Array(size)];
  for (let at = 0; at < frames; at += size) {
    const count = Math.min(size, frames - at);
    block.forEach((samples, c) => {
      samples.fill(0);
      const from = input[c].subarray(at, at + count);
      samples.set(from);
    });
    processor.process(block, result, count, ramps, at);
    result.forEach((samples, c) => out[c].set(samples.subarray(0, count), at));
  }
  return out;
}

function anyValue(param: Param): fc.Arbitrary<number | string | boolean> {
  if (param.type === 'toggle') return fc.boolean();
  if (param.type === 'choice') return fc.constantFrom(...param.options);
  if (!isScaled(param)) return fc.constant('Rattle');
  return fc.oneof(
    { arbitrary: fc.constantFrom(param.min, param.max), weight: 1 },
    { arbitrary: fc.double({ min: param.min, max: param.max, noNaN: true }), weight: 3 },
  );
}
const anyValues = (stage: LiveStage) =>
  fc
    .record(Object.fromEntries(Object.entries(stage.params).map(([key, param]) => [key, anyValue(param)])))
    // A bed that runs by itself sounds over silence and has no end: it is tried by its own tests.
    .map((values) => (stage.kind === 'bed' ? { ...values, goes: 'with the signal' } : values));

/** Every parameter at each of its ends, the others at rest; and all at their ends at once. */
function corners(stage: LiveStage): Record<string, number | string | boolean>[] {
  const base = defaults(stage);
  const ends = (param: Param): (number | string | boolean)[] => {
    if (param.type === 'toggle') return [false, true];
    if (param.type === 'choice') return [...param.options];
    return isScaled(param) ? [param.min, param.max] : ['Rattle'];
  };
  const single = Object.entries(stage.params).flatMap(([key, param]) =>
    ends(param).map((end) => ({ ...base, [key]: end })),
  );
  const all = [0, -1].map((which) =>
    Object.fromEntries(Object.entries(stage.params).map(([key, param]) => [key, ends(param).at(which)!])),
  );
  return [...single, ...all];
}

const SIGNALS = {
  noise: (frames: number) => noise(frames, RATE, 2).channels,
  silence: (frames: number) => [new Float32Array(frames), new Float32Array(frames)],
  impulse: (frames: number) => [0, 1].map(() => Float32Array.from({ length: frames }, (_, i) => (i === 3 ? 1 : 0))),
  square: (frames: number) =>
    [0, 1].map(() =>
      Float32Array.from({ length: frames }, (_, i) => (Math.sin((2 * Math.PI * 437.3 * i) / RATE) >= 0 ? 1 : -1)),
    ),
  DC: (frames: number) => [0, 1].map(() => new Float32Array(frames).fill(1)),
} as const;
const NAMES = Object.keys(SIGNALS) as (keyof typeof SIGNALS)[];
const peak = (samples: Float32Array, from = 0) => {
  let most = 0;
  for (let i = from; i < samples.length; i++) most = Math.max(most, Math.abs(samples[i]));
  return most;
};

describe.each(LIVE.map((stage) => [stage.kind, stage] as const))('%s', (_, stage) => {
  const settle = (chosen: Record<string, number | string | boolean>) => chosen as ResolvedValues<Params>;

  test('is finite and bounded at any setting, at any rate, on any signal; silence stays silence', () => {
    fc.assert(
      fc.property(
        anyValues(stage),
        fc.constantFrom(...NAMES),
        fc.constantFrom(48000, 44100, 8000, 192000),
        (chosen, name, rate) => {
          const values = settle(chosen);
          const out = run(create(stage, values, rate), values, SIGNALS[name](1500), 300);
          for (const side of out) {
            expect(side.every(Number.isFinite)).toBe(true);
            // 48 dB over full scale: nothing is louder than what was asked for.
            expect(peak(side)).toBeLessThan(256);
            if (name === 'silence') expect(peak(side)).toBeLessThan(1e-9);
          }
        },
      ),
      { numRuns: SETTINGS, endOnFailure: true },
    );
    for (const values of corners(stage)) {
      for (const side of run(create(stage, settle(values)), settle(values), SIGNALS.square(1000), 100))
        expect(side.every((x) => Number.isFinite(x) && Math.abs(x) < 256)).toBe(true);
    }
  });

  test('leaves no direct current that did not come in', () => {
    const window = (i: number, n: number) => 1 - Math.cos((2 * Math.PI * i) / n);
    fc.assert(
      fc.property(anyValues(stage), (chosen) => {
        const values = settle(chosen);
        const frames = 60000;
        const samples = exemptionOf(stage, 'direct current');
        const input = (samples ? SIGNALS.noise : SIGNALS.square)(frames);
        for (const side of run(create(stage, values), values, input)) {
          const end = side.subarray(frames / 5);
          const mean = end.reduce((sum, x, i) => sum + x * window(i, end.length), 0) / end.length;
          expect(Math.abs(mean) / Math.max(1, peak(end))).toBeLessThan(samples ? 0.1 : 1e-3);
        }
      }),
      { numRuns: 8, endOnFailure: true },
    );
  });

  test('has fallen by 60 dB after the tail it declares, and is silent a second later', () => {
    const short = anyValues(stage).filter((chosen) => stage.tailSeconds(settle(chosen), []) < 2.5);
    fc.assert(
      fc.property(short, (chosen) => {
        const values = settle(chosen);
        const frames = 9600;
        const tail = Math.ceil(stage.tailSeconds(values, []) * RATE) + (stage.latencyFrames?.(values, RATE) ?? 0);
        const out = run(create(stage, values), values, SIGNALS.noise(frames), tail + 2 * RATE);
        for (const side of out) {
          const loudest = Math.max(1, peak(side.subarray(0, frames)));
          expect(decibels(peak(side, frames + tail) / loudest + 1e-12)).toBeLessThan(-60);
          expect(decibels(peak(side, frames + tail + RATE) + 1e-12)).toBeLessThan(-70);
        }
      }),
      { numRuns: 6, endOnFailure: true },
    );
  });

  test('gives the same, however long the blocks are', () => {
    fc.assert(
      fc.property(anyValues(stage), (chosen) => {
        const values = settle(chosen);
        const input = SIGNALS.noise(3000);
        const whole = run(create(stage, values), values, input);
        for (const size of [1, 7, 64]) {
          const pieces = run(create(stage, values), values, input, 0, size);
          pieces.forEach((side, c) => {
            const worst = side.reduce((most, x, i) => Math.max(most, Math.abs(x - whole[c][i])), 0);
            expect(worst, `blocks of ${size}`).toBeLessThanOrEqual(exemptionOf(stage, 'block length')?.within ?? 1e-6);
          });
        }
      }),
      { numRuns: 3, endOnFailure: true },
    );
  });
});
