import { BUILT_INS } from '../../catalogue/builtIns.ts';
import { describe, expect, test } from 'vitest';
import { audibleRange } from '../../analysis/level.ts';
import type { ChainDocument } from '../../chain/schema.ts';
import { bytesInMemory } from '../../formats/common/byteSource.ts';
import { encodeRender } from '../../formats/renderedWav.ts';
import { timeReferenceOf } from '../../formats/placement.ts';
import { WavReader } from '../../formats/wav/reader.ts';
import { chainOf, renderOf } from '../../testing/chains.ts';
import { clipOf, impulse, noise, sine } from '../../testing/signals.ts';
import { OutlineStream, outlineOf } from '../../analysis/outline.ts';
import { ClipCache } from './cache.ts';
import type { Output, TapWatch } from './outputs.ts';
import { clipEnd, frameCount, type Clip } from '../../model/clip.ts';
import { finishRender, renderChain, type RenderRequest, type RenderStep } from './renderer.ts';

const swell = (render: Record<string, unknown> = {}, settings: Record<string, unknown> = {}) =>
  chainOf([{ kind: 'reverse' }, { kind: 'hall', settings: { decay: 1, ...settings } }, { kind: 'reverse' }], {
    timing: { tempo: 93 },
    render: { tail: { mode: 'fixed', length: { beats: 4 } }, ...render },
  });

const FOUR_BEATS = Math.round((4 * 60 * 48000) / 93);

describe('where a render lies', () => {
  test('a reversed tail becomes a lead-in of the same length', () => {
    const out = renderOf(swell(), noise(10_000));
    expect(out.origin).toBe(-FOUR_BEATS);
    expect(clipEnd(out)).toBe(10_000);
  });

  test.each([0, 1, 7777, 29_999])('anchor end: the swell of an impulse at frame %d ends on it, to the sample', (n) => {
    const out = renderOf(swell({ anchor: 'end' }), impulse(n, 30_000));
    const sounding = audibleRange(out);
    expect(out.origin + (sounding?.last ?? NaN)).toBe(n);
  });

  test('anchor start: the first sound stands on the onset', () => {
    const out = renderOf(swell({ anchor: 'start' }), impulse(5000, 30_000));
    expect(out.origin + (audibleRange(out)?.first ?? NaN)).toBe(5000);
  });

  test('the file says the same through its time reference, in every depth', async () => {
    for (const depth of ['16', '24', '32f'] as const) {
      const chain = swell({ anchor: 'end' });
      const clip = renderOf(chain, impulse(12_345, 30_000));
      const sourceTimeReference = timeReferenceOf(undefined, 48000);
      const file = Buffer.concat([
        ...encodeRender({ clip, depth, name: 'x', chain, version: '', sourceTimeReference }),
      ]);
      const reader = await WavReader.open(bytesInMemory(new Uint8Array(file)));
      const read = await reader.readClip();
      expect((reader.header.timeReference ?? NaN) + (audibleRange(read)?.last ?? NaN) - 3600 * 48000).toBe(12_345);
    }
  });

  test('silence stays where it falls', () => {
    expect(renderOf(swell({ anchor: 'end' }), clipOf([new Float32Array(100)])).origin).toBe(-FOUR_BEATS);
  });

  test('lead-in: cut at the source, cut or filled to a length', () => {
    const source = noise(10_000);
    expect(renderOf(swell({ leadIn: { mode: 'none' } }), source).origin).toBe(0);
    expect(renderOf(swell({ leadIn: { mode: 'fixed', length: 0.1 } }), source).origin).toBe(-4800);
    const long = renderOf(swell({ leadIn: { mode: 'fixed', length: 5 } }), source);
    expect(long.origin).toBe(-240_000);
    expect(long.channels[0].subarray(0, 240_000 - FOUR_BEATS).every((sample) => sample === 0)).toBe(true);
  });
});

describe('tails', () => {
  const hall = (tail: Record<string, unknown>, rest: Record<string, unknown>[] = []) =>
    chainOf([{ kind: 'hall', settings: { decay: 0.8 } }, ...(rest as { kind: string }[])], { render: { tail } });

  test('none ends with the source, fixed ends so much later', () => {
    expect(frameCount(renderOf(hall({ mode: 'none' }), noise(5000)))).toBe(5000);
    expect(frameCount(renderOf(hall({ mode: 'fixed', length: 0.5 }), noise(5000)))).toBe(29_000);
    expect(frameCount(renderOf(hall({ mode: 'fixed', length: { samples: 3 } }), noise(5000)))).toBe(5003);
  });

  test('automatic ends on the last sample above the level', () => {
    const out = renderOf(hall({ mode: 'auto', below: -60 }), noise(5000));
    const last = Math.max(...out.channels.map((samples) => Math.abs(samples[samples.length - 1])));
    expect(last).toBeGreaterThan(0.001);
    const longer = renderOf(hall({ mode: 'fixed', length: 5 }), noise(5000));
    for (const samples of longer.channels) {
      expect(samples.subarray(frameCount(out)).every((sample) => Math.abs(sample) <= 0.001)).toBe(true);
    }
  });

  test('automatic leaves a quiet source its length', () => {
    expect(
      frameCount(
        renderOf(chainOf([{ kind: 'gain' }], { render: { tail: { mode: 'auto' } } }), clipOf([new Float32Array(77)])),
      ),
    ).toBe(77);
  });
});

describe('stages', () => {
  test('one that is off changes nothing; mix 0 is dry, mix 1 is wet, level is behind both', () => {
    const source = noise(1000, 48000, 2);
    expect(renderOf(chainOf([{ kind: 'hall', on: false }]), source)).toEqual(source);
    expect(renderOf(chainOf([{ kind: 'gain', mix: 0, settings: { gain: -60 } }]), source)).toEqual(source);
    const half = renderOf(chainOf([{ kind: 'reverse', mix: 0.5 }]), clipOf([[1, 0, 0, 0]]));
    expect([...half.channels[0]]).toEqual([0.5, 0, 0, 0.5]);
    const quiet = renderOf(chainOf([{ kind: 'gain', level: -20 }]), clipOf([[1]]));
    expect(quiet.channels[0][0]).toBeCloseTo(0.1, 6);
  });

  test('a sound of one frame is legal', () => {
    const out = renderOf(swell(), clipOf([[0.5]]));
    expect(frameCount(out)).toBe(FOUR_BEATS + 1);
    expect(out.channels[0].every(Number.isFinite)).toBe(true);
  });

  test('an empty chain gives the source', () => {
    expect(renderOf(chainOf([]), noise(10))).toEqual(noise(10));
  });

  test('the seed is heard, and the same seed gives the same bytes', () => {
    const seeded = (seed: number) =>
      Buffer.from(renderOf(swell({ seed }), noise(2000)).channels[0].buffer).toString('base64');
    expect(seeded(1) === seeded(1)).toBe(true);
    expect(seeded(1) === seeded(2)).toBe(false);
  });
});

describe('cache', () => {
  const run = (chain: ChainDocument, source: Clip, cache: ClipCache) => {
    const stages: { index: number; cached: boolean }[] = [];
    const clip = finishRender(renderChain(BUILT_INS, { chain, source, sourceKey: 'a', cache }), (step: RenderStep) => {
      if (step.type === 'stage') stages.push({ index: step.index, cached: step.cached });
    });
    return { clip, cached: stages.map(({ cached }) => cached) };
  };
  const chain = (hall: Record<string, unknown>, gain: number, rest: Record<string, unknown> = {}) =>
    chainOf(
      [{ kind: 'filter' }, { kind: 'hall', settings: hall }, { kind: 'gain', settings: { gain } }, { kind: 'reverse' }],
      rest,
    );

  test('only the changed stage and those after it are rendered again, and the result is the same as without a cache', () => {
    for (const tail of [{ mode: 'none' }, { mode: 'fixed', length: 0.2 }, { mode: 'auto', below: -60 }]) {
      const cache = new ClipCache(1e9);
      const source = noise(9000, 48000, 2);
      const rest = { render: { tail } };
      expect(run(chain({ decay: 0.5 }, 0, rest), source, cache).cached).toEqual([false, false, false, false]);
      const changed = chain({ decay: 0.5 }, -3, rest);
      const again = run(changed, source, cache);
      expect(again.cached).toEqual([true, true, false, false]);
      expect(again.clip).toEqual(renderOf(changed, source));
      expect(run(changed, source, cache).cached).toEqual([true, true, true, true]);
      const hall = chain({ decay: 0.6 }, -3, rest);
      expect(run(hall, source, cache).cached).toEqual([true, false, false, false]);
      // A stage behind what is kept, in the middle of a run of live stages.
      const longer = chainOf(
        [{ kind: 'filter' }, { kind: 'hall', settings: { decay: 0.5 } }, { kind: 'filter', id: 'late' }],
        rest,
      );
      expect(run(longer, source, cache).clip).toEqual(renderOf(longer, source));
    }
  });

  describe('where not all fits', () => {
    const LENGTH = 9000;
    /** Bytes of one output of `stages`, all as long. */
    const SIZE = 2 * 4 * LENGTH;
    const stages = (last: number) =>
      chainOf([
        { kind: 'gain', id: 'a', settings: { gain: -1 } },
        { kind: 'split', id: 'b', branches: [{ id: 'b1', stages: [{ id: 'in', kind: 'filter' }] }, { id: 'b2' }] },
        { kind: 'filter', id: 'c' },
        { kind: 'gain', id: 'd', settings: { gain: 2 } },
        { kind: 'gain', id: 'e', settings: { gain: last } },
      ]);
    const source = noise(LENGTH, 48000, 2);
    const rendering = (chain: ChainDocument, cache: ClipCache, more: Partial<RenderRequest> = {}) => {
      const outlines = new Map<string, OutlineStream>();
      const watch: TapWatch = ({ key, origin, frames, channels }) => {
        const stream = new OutlineStream(origin, frames, channels);
        outlines.set(key, stream);
        return (samples, from, to, at) => stream.take(samples, from, to, at);
      };
      const outputs: (Output & { cached: boolean })[] = [];
      const request = { chain, source, sourceKey: 'a', cache, watch, ...more };
      const clip = finishRender(renderChain(BUILT_INS, request), (step) => {
        if (step.type === 'stage')
          for (const output of [step, ...step.inside]) outputs.push({ ...output, cached: step.cached });
      });
      const held = outputs.filter((output) => output.clip).map(({ id }) => id);
      return { clip, outputs, held, outlines };
    };

    test.each([
      [0, ['e']],
      [1, ['e']],
      [2.5, ['d', 'e']],
      [4, ['c', 'd', 'e']],
      [5, ['b', 'in', 'c', 'd', 'e']],
      [6, ['a', 'b', 'in', 'c', 'd', 'e']],
    ])('room for %d outputs: the last are held, the others heard', (room, held) => {
      const cache = new ClipCache(room * SIZE);
      const all = rendering(stages(0), new ClipCache(1e9)).outputs;
      const { clip, outputs, outlines, held: there } = rendering(stages(0), cache);
      expect(there).toEqual(held);
      expect(cache.usedBytes).toBeLessThanOrEqual(room * SIZE);
      expect(clip).toEqual(renderOf(stages(0), source));
      for (const [n, { key, clip: own }] of outputs.entries()) {
        const { peak, overview } = outlineOf(all[n].clip!);
        const told = own ? outlineOf(own) : outlines.get(key)!.finish();
        expect([told.peak, told.overview.max]).toEqual([peak, overview.max]);
      }
    });

    test('what is kept behind what is known is gone on from; what is not known is run again', () => {
      const cache = new ClipCache(3 * SIZE);
      const first = rendering(stages(0), cache);
      const keys = new Set(first.outputs.map(({ key }) => key));
      const again = rendering(stages(-6), cache, { known: (key) => keys.has(key) });
      expect(again.outputs.map(({ id, cached }) => [id, cached])).toEqual(
        ['a', 'b', 'in', 'c', 'd', 'e'].map((id) => [id, id !== 'e']),
      );
      expect(again.clip).toEqual(renderOf(stages(-6), source));
      const unknown = rendering(stages(-3), cache, { known: (key) => keys.has(key) && !key.endsWith('>in') });
      expect(unknown.outputs.every(({ cached }) => !cached)).toBe(true);
      expect(unknown.clip).toEqual(renderOf(stages(-3), source));
    });

    test('one that is wanted is held, inside another too', () => {
      const whole = rendering(stages(0), new ClipCache(1e9)).outputs;
      for (const wanted of ['a', 'in']) {
        const { outputs, held } = rendering(stages(0), new ClipCache(SIZE), { wanted });
        expect(held).toEqual([wanted, 'e']);
        const of = (list: readonly Output[]) => list.find(({ id }) => id === wanted)!.clip;
        expect(of(outputs)).toEqual(of(whole));
      }
    });
  });

  test('the tempo touches only what follows it', () => {
    const cache = new ClipCache(1e9);
    const at = (tempo: number, decay: unknown) => chain({ decay }, 0, { timing: { tempo } });
    run(at(90, 0.5), noise(3000), cache);
    expect(run(at(120, 0.5), noise(3000), cache).cached).toEqual([true, true, true, true]);
    run(at(90, { beats: 3 }), noise(3000), cache);
    expect(run(at(120, { beats: 3 }), noise(3000), cache).cached).toEqual([true, false, false, false]);
  });

  test('it never holds more than its bytes and forgets what was used longest ago', () => {
    const cache = new ClipCache(2 * 4000);
    const clip = () => clipOf([new Float32Array(1000)]);
    cache.set('a', clip());
    cache.set('b', clip());
    cache.get('a');
    cache.set('c', clip());
    expect([cache.get('a'), cache.get('b'), cache.get('c')].map((kept) => kept !== undefined)).toEqual([
      true,
      false,
      true,
    ]);
    expect(cache.usedBytes).toBe(8000);
    cache.set('huge', clipOf([new Float32Array(5000)]));
    expect(cache.get('huge')).toBeUndefined();
    expect(cache.usedBytes).toBe(8000);
  });
});

test('progress grows from 0 to 1 and comes often', () => {
  const done: number[] = [];
  finishRender(renderChain(BUILT_INS, { chain: swell(), source: sine(440, 0.5, 3) }), (step) => {
    if (step.type === 'progress') done.push(step.done);
  });
  expect(done.length).toBeGreaterThan(30);
  expect(done).toEqual([...done].sort((a, b) => a - b));
  expect(done[done.length - 1]).toBeCloseTo(1, 9);
});

test('a clip too long to be held is refused before memory is taken', () => {
  const long = chainOf([{ kind: 'gain' }], { render: { tail: { mode: 'fixed', length: 600 } } });
  const source: Clip = {
    sampleRate: 192000,
    origin: 0,
    channels: [0, 1].map(() => ({ length: 90_000_000 }) as Float32Array),
  };
  expect(() => renderOf(long, source)).toThrow('30 minutes of stereo');
});

test('the mix and the level of a whole-clip stage are turned on what is there: it does not run again', () => {
  const cache = new ClipCache(1e9);
  const source = noise(48_000, 48_000, 2);
  const bent = (rest: object) => chainOf([{ kind: 'stretch', settings: { factor: 1.4 }, ...rest }]);
  const render = (chain: ReturnType<typeof chainOf>) => {
    let steps = 0;
    const clip = finishRender(renderChain(BUILT_INS, { chain, source, cache, sourceKey: 'a' }), ({ type }) => {
      if (type === 'progress') steps++;
    });
    return { clip, steps };
  };
  const first = render(bent({}));
  for (const rest of [{ mix: 0.3 }, { mix: 0.7, level: -5 }, { level: 3 }, {}]) {
    const { clip, steps } = render(bent(rest));
    expect(steps).toBeLessThan(first.steps / 5);
    const fresh = finishRender(renderChain(BUILT_INS, { chain: bent(rest), source }));
    expect(clip.origin).toBe(fresh.origin);
    expect(clip.channels).toEqual(fresh.channels);
  }
  // Another length is another sound.
  expect(render(chainOf([{ kind: 'stretch', settings: { factor: 1.41 } }])).steps).toBeGreaterThan(first.steps / 2);
});
