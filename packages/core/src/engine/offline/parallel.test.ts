import { describe, expect, test } from 'vitest';
import { BUILT_INS } from '../../catalogue/builtIns.ts';
import { parseChain } from '../../chain/validate.ts';
import { takesClipStages } from '../../chain/branches.ts';
import { chainOf, renderOf } from '../../testing/chains.ts';
import { clipOf, noise } from '../../testing/signals.ts';
import { clipEnd, cropClip, frameCount, type Clip } from '../../model/clip.ts';
import { ClipCache } from './cache.ts';
import { estimateRender } from './estimate.ts';
import { renderRegion } from './region.ts';
import { finishRender, renderChain, type RenderStep } from './renderer.ts';

type Json = Record<string, unknown>;
const FIXED = { tail: { mode: 'fixed', length: 0.6 } };
const SWELL = [
  { id: 'flip', kind: 'reverse' },
  { id: 'space', kind: 'hall', settings: { decay: 0.5 } },
  { id: 'back', kind: 'reverse' },
];
let ids = 0;
/** A split with branches b0, b1 …, unless they say otherwise; stages without an id get one. */
const splitOf = (branches: Json[], settings: Json = {}, rest: Json = {}): { kind: string } & Json => ({
  id: `split${++ids}`,
  kind: 'split',
  settings,
  branches: branches.map(({ stages = [], ...branch }, b) => ({
    id: `b${b}`,
    stages: (stages as Json[]).map((stage) => ({ id: `s${++ids}`, ...stage })),
    ...branch,
  })),
  ...rest,
});

/** Left and right of noise that are not alike. */
function stereo(frames: number, sampleRate: number): Clip {
  const channels = [1, 2].map((seed) => noise(frames, sampleRate, 1, seed).channels[0]);
  return { ...clipOf(channels), sampleRate };
}

/** The greatest difference between two clips over all that either spans, as an amplitude. */
function difference(a: Clip, b: Clip): number {
  const [start, end] = [Math.min(a.origin, b.origin), Math.max(clipEnd(a), clipEnd(b))];
  const [one, other] = [a, b].map((clip) => cropClip(clip, start, end).channels);
  expect(one.length).toBe(other.length);
  let most = 0;
  one.forEach((samples, c) => samples.forEach((x, i) => (most = Math.max(most, Math.abs(x - other[c][i])))));
  return most;
}

/** Clips over each other, in stereo. */
function sum(...clips: readonly Clip[]): Clip {
  const start = Math.min(...clips.map(({ origin }) => origin));
  const end = Math.max(...clips.map(clipEnd));
  const parts = clips.map((clip) => cropClip(clip, start, end));
  const channels = [0, 1].map((side) =>
    Float32Array.from({ length: end - start }, (_, i) =>
      parts.reduce((all, part) => all + part.channels[side % part.channels.length][i], 0),
    ),
  );
  return { ...clips[0], origin: start, channels };
}

const gained = (clip: Clip, left: number, right: number): Clip => ({
  ...clip,
  channels: [left, right].map((gain, side) => clip.channels[side % clip.channels.length].map((x) => gain * x)),
});

describe('whole-clip stages in the branches of a split', () => {
  test.each([44100, 48000, 96000])(
    'a reversed hall lies beside the dry voice, from before its start, at %d Hz',
    (rate) => {
      const source = stereo(20_000, rate);
      const alone = renderOf(chainOf(SWELL, { render: FIXED }), source);
      const both = renderOf(chainOf([splitOf([{}, { stages: SWELL }])], { render: FIXED }), source);
      expect(both.origin).toBe(-Math.round(0.6 * rate));
      expect(difference(both, sum(source, alone))).toBeLessThan(2e-6);
    },
  );

  test('branches of different lengths are padded to the longest', () => {
    const source = stereo(12_000, 48000);
    const stretch = [{ kind: 'stretch', settings: { factor: 2 } }];
    const render = { tail: { mode: 'none' } };
    const alone = renderOf(chainOf(stretch, { render }), source);
    const both = renderOf(chainOf([splitOf([{}, { stages: stretch }])], { render }), source);
    expect(frameCount(both)).toBe(frameCount(alone));
    expect(difference(both, sum(source, alone))).toBeLessThan(2e-6);
  });

  test.each(['copies', 'left/right', 'mid/side', '2 bands', '4 bands'])(
    'each branch gets what the split gives it: turned twice, %s are what they are without',
    (mode) => {
      const source = stereo(9_000, 48000);
      const count = { copies: 2, '4 bands': 4 }[mode] ?? 2;
      const twice = [{ kind: 'reverse' }, { kind: 'reverse' }];
      const of = (stages: Json[]) =>
        chainOf(
          [
            splitOf(
              Array.from({ length: count }, (_, b) => (b === 0 ? { stages } : { level: -6, pan: 0.3 })),
              { mode },
            ),
          ],
          {
            render: { tail: { mode: 'none' } },
          },
        );
      expect(difference(renderOf(of(twice), source), renderOf(of([]), source))).toBeLessThan(1e-6);
    },
  );

  test('level, pan, polarity and mute of a branch, and the mix and level of the split, hold for what was rendered before', () => {
    const source = stereo(8_000, 48000);
    const flip = [{ kind: 'reverse' }];
    const turned = renderOf(chainOf(flip, { render: FIXED }), source);
    const both = renderOf(
      chainOf(
        [splitOf([{ muted: true }, { stages: flip, level: -6, pan: 1, inverted: true }], {}, { mix: 0.5, level: -3 })],
        { render: FIXED },
      ),
      source,
    );
    const level = 10 ** (-3 / 20);
    const wanted = sum(gained(source, level * 0.5, level * 0.5), gained(turned, 0, -level * 0.5 * 10 ** (-6 / 20)));
    // The law of the mix says how much of each.
    const dry = both.channels[0][4000] / source.channels[0][4000];
    const law = dry / (level * 0.5);
    expect(difference(both, gained(wanted, law, law))).toBeLessThan(2e-6);
  });

  test('what is late beside it is not heard twice: a limiter that looks ahead in the other branch', () => {
    const source = stereo(8_000, 48000);
    const limiter = [{ kind: 'limiter', settings: { ceiling: -6 } }];
    const of = (stages: Json[]) =>
      renderOf(chainOf([splitOf([{ stages: limiter }, { stages }])], { render: { tail: { mode: 'none' } } }), source);
    expect(difference(of([{ kind: 'reverse' }, { kind: 'reverse' }]), of([]))).toBeLessThan(1e-6);
  });

  test('stages behind it in its branch, and a split inside a split, run as they would', () => {
    const source = stereo(8_000, 48000);
    const filter = { kind: 'filter', settings: { cutoff: 900 } };
    const inner = splitOf(
      [
        { id: 'in0', stages: [{ kind: 'reverse' }, filter] },
        { id: 'in1', muted: true },
      ],
      {},
      { id: 'inner' },
    );
    const render = { tail: { mode: 'none' } };
    const wanted = renderOf(chainOf([{ kind: 'reverse' }, filter], { render }), source);
    const both = renderOf(chainOf([splitOf([{ stages: [inner] }, { muted: true }])], { render }), source);
    expect(difference(both, gained(wanted, 1, 1))).toBeLessThan(2e-6);
  });

  test('a lane moves the level of its branch where it stands on the timeline', () => {
    const source = { ...clipOf([new Float32Array(48_000).fill(0.5)]) };
    const chain = chainOf([splitOf([{ muted: true }, { stages: [{ kind: 'reverse' }] }])], {
      render: { tail: { mode: 'none' } },
      lanes: [
        {
          target: 'b1.level',
          curve: {
            over: 'seconds',
            points: [
              { at: 0, value: 0 },
              { at: 0.5, value: 0 },
              { at: 0.501, value: -20 },
            ],
          },
        },
      ],
    });
    const [left] = renderOf(chain, source).channels;
    expect(left[20_000]).toBeCloseTo(0.5, 4);
    expect(left[30_000]).toBeCloseTo(0.05, 4);
  });

  test('in the time of the sound, a region is read where it lies', () => {
    const source = stereo(48_000, 48000);
    const chain = chainOf([splitOf([{ muted: true }, { stages: [{ kind: 'reverse' }] }])], {
      render: { tail: { mode: 'none' } },
    });
    const region = { start: 12_345, end: 30_000 };
    const of = (time: 'region' | 'sound') =>
      finishRender(renderRegion(BUILT_INS, { chain, source, region, beyond: 'nothing', time }));
    expect(difference(of('sound'), of('region'))).toBe(0);
    expect(of('region').channels[1][0]).toBeCloseTo(source.channels[1][29_999], 6);
  });

  test('with a cache: the same bytes, every row is told of, and the level of a branch runs nothing before it again', () => {
    const source = stereo(20_000, 48000);
    const of = (level: number) =>
      chainOf([splitOf([{}, { stages: SWELL, level }], {}, { id: 'wide' }), { kind: 'gain' }], { render: FIXED });
    const cache = new ClipCache(64 * 1024 * 1024);
    const run = (level: number) => {
      const told = new Map<string, { readonly key: string; readonly cached: boolean; readonly heard: boolean }>();
      const clip = finishRender(
        renderChain(BUILT_INS, { chain: of(level), source, cache, sourceKey: 's' }),
        (step: RenderStep) => {
          if (step.type !== 'stage') return;
          for (const { id, key, clip: heard } of [step, ...step.inside])
            told.set(id, { key, cached: step.cached, heard: heard !== undefined });
        },
      );
      return { clip, told };
    };
    const first = run(-3);
    expect(difference(first.clip, renderOf(of(-3), source))).toBe(0);
    expect([...first.told.keys()].sort()).toEqual(['back', 'flip', 'gain', 'space', 'wide']);
    expect([...first.told.values()].every(({ heard }) => heard)).toBe(true);
    const again = run(-3);
    expect([...again.told.values()].every(({ cached }) => cached)).toBe(true);
    expect(difference(again.clip, first.clip)).toBe(0);
    const louder = run(0);
    for (const id of ['flip', 'space', 'back']) expect(louder.told.get(id)?.key).toBe(first.told.get(id)?.key);
    expect(louder.told.get('wide')?.key).not.toBe(first.told.get('wide')?.key);
  });

  test('how long it gets is known before', () => {
    const chain = chainOf([splitOf([{}, { stages: [{ kind: 'stretch', settings: { factor: 3 } }] }])], {
      render: { tail: { mode: 'none' } },
    });
    const source = { frames: 10_000, sampleRate: 48000, channels: 2 };
    expect(estimateRender(BUILT_INS, chain, source).frames).toBe(frameCount(renderOf(chain, stereo(10_000, 48000))));
  });
});

describe('where they may not stand', () => {
  test('in a loop, however deep', () => {
    const echo = (stages: Json[]) => ({ id: 'loop', kind: 'echo', branches: [{ id: 'back', stages }] });
    const words = 'not inside a loop: it needs the whole sound';
    expect(() => chainOf([echo([{ kind: 'reverse' }])])).toThrow(words);
    expect(() => chainOf([echo([splitOf([{ stages: [{ kind: 'reverse' }] }, {}])])])).toThrow(words);
    const chain = chainOf([echo([splitOf([{}, {}])]), splitOf([{ id: 'free' }, { id: 'free2' }])]);
    expect(takesClipStages(BUILT_INS, chain, 'free')).toBe(true);
    for (const id of ['back', 'b0']) expect(takesClipStages(BUILT_INS, chain, id), id).toBe(false);
  });

  test('what is rendered before cannot hear a branch beside it; what runs behind it can', () => {
    const ducker = { kind: 'ducker', settings: { side: { sound: '', branch: 'b0' } } };
    const of = (stages: Json[]) => () => parseChain(BUILT_INS, chainOf([splitOf([{}, { stages }])]));
    expect(of([{ kind: 'reverse' }, ducker])).not.toThrow();
    expect(of([ducker, { kind: 'reverse' }])).toThrow('"b0"');
  });
});
