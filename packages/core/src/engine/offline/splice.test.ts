/** The joints of a region that is put back into its sound, measured on what comes out. */
import { BUILT_INS } from '../../catalogue/builtIns.ts';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { BEYONDS, SPLICE_TAILS, type SpliceTail } from '../../chain/schema.ts';
import { chainOf } from '../../testing/chains.ts';
import { runs } from '../../testing/long.ts';
import { noise } from '../../testing/signals.ts';
import { decibels } from '../../testing/spectrum.ts';
import { TRIAL_BANK } from '../../testing/trialSounds.ts';
import { vowel } from '../../testing/voice.ts';
import type { Clip } from '../../model/clip.ts';
import { finishRender } from './renderer.ts';
import { renderRegion } from './region.ts';

type Sound = 'noise' | 'low tone' | 'chord' | 'voice' | 'constant';

function soundOf(name: Sound, rate: number, channels: number): Clip {
  if (name === 'noise') return noise(rate, rate, channels);
  const partials = { 'low tone': [61], chord: [220, 277.2, 329.6], constant: [0.2], voice: [] }[name];
  const mono =
    name === 'voice'
      ? vowel((t) => 110 + 8 * Math.sin(30 * t), 1, rate).channels[0]
      : Float32Array.from(
          { length: rate },
          (_, i) => partials.reduce((sum, f) => sum + Math.cos((2 * Math.PI * f * i) / rate), 0) / 2,
        );
  return {
    sampleRate: rate,
    origin: 0,
    channels: Array.from({ length: channels }, (_, c) => mono.map((x) => x * (1 - 0.4 * c))),
  };
}

const CHAINS: Readonly<Record<string, object[]>> = {
  nothing: [],
  louder: [{ kind: 'gain', settings: { gain: 5 } }],
  softer: [{ kind: 'gain', settings: { gain: -14 } }],
  equaliser: [{ kind: 'equaliser', settings: { gain1: 9, gain3: -12, gain5: 6 } }],
  'low pass': [{ kind: 'filter', settings: { cutoff: 300, resonance: 0.5 } }],
  'high pass': [{ kind: 'filter', settings: { type: 'high', cutoff: 2000 } }],
  hall: [{ kind: 'hall', mix: 1, settings: { decay: 0.8 } }],
  'half a hall': [{ kind: 'hall', mix: 0.4, settings: { decay: 2 } }],
  echo: [{ kind: 'echo', mix: 0.5, settings: { time: 0.11, feedback: 0.6 } }],
  shifter: [{ kind: 'shifter', mix: 1, settings: { shift: 331 } }],
  vibrato: [{ kind: 'vibrato' }],
  compressor: [{ kind: 'compressor', settings: { threshold: -30, ratio: 6 } }],
  reverse: [{ kind: 'reverse' }],
  'reverse, low pass': [{ kind: 'reverse' }, { kind: 'filter', settings: { cutoff: 300 } }],
  swell: [{ kind: 'reverse' }, { kind: 'hall', mix: 0.5, settings: { decay: 1 } }, { kind: 'reverse' }],
  longer: [{ kind: 'stretch', settings: { factor: 1.6 } }],
  shorter: [{ kind: 'stretch', settings: { factor: 0.6 } }],
  faster: [{ kind: 'speed', settings: { interval: 5 } }],
  'slower, hall': [
    { kind: 'speed', settings: { interval: -5 } },
    { kind: 'hall', mix: 0.3, settings: { decay: 1 } },
  ],
};

const TAILS = [{ mode: 'none' }, { mode: 'fixed', length: 0.3 }, { mode: 'auto', below: -70 }];

const settings = fc.record({
  rate: fc.constantFrom(44100, 48000, 96000),
  channels: fc.constantFrom(1, 2),
  sound: fc.constantFrom<Sound>('noise', 'low tone', 'chord', 'voice', 'constant'),
  chain: fc.constantFrom(...Object.keys(CHAINS)),
  ends: fc.constantFrom(...TAILS),
  tail: fc.constantFrom(...SPLICE_TAILS),
  beyond: fc.constantFrom(...BEYONDS),
  fade: fc.double({ min: 0.002, max: 0.06, noNaN: true }),
  start: fc.double({ min: 0.1, max: 0.3, noNaN: true }),
  length: fc.double({ min: 0.15, max: 0.4, noNaN: true }),
});
type Setting = typeof settings extends fc.Arbitrary<infer S> ? S : never;

function made({ rate, channels, sound, chain, ends, tail, beyond, fade, start, length }: Setting) {
  const region = { start: Math.round(start * rate), end: Math.round((start + length) * rate) };
  const source = soundOf(sound, rate, channels);
  const out = finishRender(
    renderRegion(BUILT_INS, {
      chain: chainOf(CHAINS[chain] as never, { render: { tail: ends } }),
      source,
      region,
      sounds: TRIAL_BANK,
      beyond,
      splice: { fade: Math.round(fade * rate), tail },
    }),
  );
  return { source, region, out, joints: [region.start, region.end].map((frame) => frame - out.origin) };
}

/** The step into a frame over the largest of those within 10 ms either side of it. */
function stepAt(samples: Float32Array, frame: number, rate: number): number {
  const reach = Math.round(0.01 * rate);
  const step = (i: number) => Math.abs(samples[i] - samples[i - 1]);
  let around = 1e-6;
  for (let i = frame - reach; i < frame + reach; i++) if (i !== frame) around = Math.max(around, step(i));
  return step(frame) / around;
}

const rms = (samples: Float32Array, from: number, to: number) =>
  Math.sqrt(samples.subarray(from, to).reduce((sum, x) => sum + x * x, 0) / (to - from));

describe('a region put back into its sound', () => {
  test('makes no step at either joint, whatever the chain does', () => {
    fc.assert(
      fc.property(settings, (setting) => {
        const { out, joints } = made(setting);
        for (const samples of out.channels)
          for (const joint of joints) expect(stepAt(samples, joint, setting.rate)).toBeLessThan(1.1);
      }),
      { numRuns: runs(30, 4000) },
    );
  });

  test('is nowhere louder at a joint than the louder side of it, by more than 1.5 dB', () => {
    const steady = settings.map((setting) => ({ ...setting, sound: 'noise' as const }));
    fc.assert(
      fc.property(steady, (setting) => {
        const { out, joints } = made(setting);
        const window = Math.round(0.01 * setting.rate);
        const over = Math.round(setting.fade * setting.rate);
        const [samples] = out.channels;
        joints.forEach((joint, n) => {
          // The fade lies behind the first joint and before the second.
          const [from, to] = n === 0 ? [joint, joint + over] : [joint - over, joint];
          const around = (side: number) =>
            side < 0 ? rms(samples, from - 4 * window, from) : rms(samples, to, to + 4 * window);
          const louder = Math.max(around(-1), around(1));
          for (let at = from - window; at <= to; at += window / 2)
            expect(decibels(rms(samples, Math.round(at), Math.round(at) + window) / louder)).toBeLessThan(1.5);
        });
      }),
      { numRuns: runs(16, 3000) },
    );
  });

  test('leaves no hole where the two sides are unlike and equally loud', () => {
    for (const chain of ['shifter', 'reverse'])
      for (const fade of [0.005, 0.02, 0.2])
        for (const tail of SPLICE_TAILS) {
          const rate = 48000;
          const { out, joints } = made({
            ...{ rate, chain, fade, tail, channels: 1, sound: 'noise', ends: TAILS[0], beyond: 'nothing' },
            ...{ start: 0.25, length: 0.5 },
          });
          const [samples] = out.channels;
          const before = rms(samples, 0, 10_000);
          for (const joint of joints)
            for (let at = joint - fade * rate - 480; at <= joint + fade * rate; at += 240)
              expect(decibels(rms(samples, Math.round(at), Math.round(at) + 480) / before)).toBeGreaterThan(-2);
        }
  });

  test('is exactly the sound where the chain changes nothing, with the tail on overlap too', () => {
    for (const tail of SPLICE_TAILS)
      for (const fade of [0, 0.003, 0.03]) {
        const setting = { chain: 'louder', sound: 'noise', ends: TAILS[1], beyond: 'nothing', start: 0.4, length: 0.5 };
        const { rate } = { rate: 44100 };
        const source = soundOf('noise', rate, 2);
        const region = { start: setting.start * rate, end: 0.9 * rate };
        const chain = chainOf([{ kind: 'gain', settings: { gain: 0 } }], { render: { tail: setting.ends } });
        const splice = { fade: Math.round(fade * rate), tail };
        const out = finishRender(renderRegion(BUILT_INS, { chain, source, region, beyond: 'nothing', splice }));
        out.channels.forEach((side, c) => {
          const furthest = source.channels[c].reduce((most, x, i) => Math.max(most, Math.abs(side[i] - x)), 0);
          expect(furthest).toBeLessThan(2e-7);
        });
      }
  });

  test('has no joint where the sound has nothing beside it', () => {
    const source = soundOf('noise', 48000, 1);
    const chain = chainOf([{ kind: 'gain', settings: { gain: 6 } }]);
    const region = { start: 0, end: 48000 };
    const out = finishRender(
      renderRegion(BUILT_INS, { chain, source, region, beyond: 'auto', splice: { fade: 480, tail: 'overlap' } }),
    );
    for (const i of [0, 10, 47990, 47999])
      expect(out.channels[0][i] / source.channels[0][i]).toBeCloseTo(10 ** (6 / 20), 5);
  });

  test('says which frames it has touched: the region, and with them what hangs over', () => {
    const of = (tail: SpliceTail) =>
      made({
        ...{ rate: 48000, chain: 'half a hall', fade: 0.005, tail, channels: 1, sound: 'noise', ends: TAILS[1] },
        ...{ beyond: 'nothing', start: 0.2, length: 0.3 },
      });
    expect(of('cut').out.touched).toEqual({ start: 9600, end: 24000 });
    const { out, source } = of('overlap');
    expect(out.touched).toEqual({ start: 9600, end: 24000 + 14400 });
    const same = (from: number, to: number) =>
      out.channels[0].subarray(from, to).every((x, i) => x === source.channels[0][from + i]);
    expect(same(0, 9600)).toBe(true);
    expect(same(38400, 48000)).toBe(true);
    expect(same(24000, 38400)).toBe(false);
  });
});
