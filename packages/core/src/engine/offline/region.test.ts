import { BUILT_INS } from '../../catalogue/builtIns.ts';
import { describe, expect, test } from 'vitest';
import { chainOf } from '../../testing/chains.ts';
import { noise, sine } from '../../testing/signals.ts';
import { cents, risingZeros } from '../../testing/voice.ts';
import { clipEnd, frameCount, type Clip } from '../../model/clip.ts';
import { finishRender, renderChain } from './renderer.ts';
import { renderRegion, type RegionRender } from './region.ts';

const render = (stages: { kind: string; settings?: object }[], source: Clip, region: RegionRender, rest: object = {}) =>
  finishRender(renderRegion(BUILT_INS, { chain: chainOf(stages, { ...rest }), source, ...region }));
const RATE = 48000;
const peak = (samples: Float32Array) => samples.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);
const same = (a: Float32Array, b: Float32Array) => Buffer.from(a.slice().buffer).equals(Buffer.from(b.slice().buffer));

/** A mix of two bars at 120 bpm, and its last beat of the first bar. */
const mix = sine(440, 0.5, 4, RATE, 2);
const lastBeat = { start: 72_000, end: 96_000 };
const stop = { kind: 'tapeStop', settings: { wait: 0, time: { beats: 1 }, again: 0, curve: 0 } };

describe('a region', () => {
  test('comes out as a clip that knows its place', () => {
    const source = noise(RATE);
    const out = render([{ kind: 'reverse' }], source, { region: { start: 10_000, end: 20_000 }, beyond: 'auto' });
    expect([out.origin, clipEnd(out)]).toEqual([10_000, 20_000]);
    expect(same(out.channels[0].slice().reverse(), source.channels[0].subarray(10_000, 20_000))).toBe(true);
  });

  test('a stop over the last beat of a bar ends exactly at the bar line; speed and pitch fall together', () => {
    const out = render([stop], mix, { region: lastBeat, beyond: 'auto', splice: { fade: 48, tail: 'cut' } })
      .channels[0];
    expect(out.length).toBe(frameCount(mix));
    expect(same(out.subarray(0, lastBeat.start), mix.channels[0].subarray(0, lastBeat.start))).toBe(true);
    expect(same(out.subarray(lastBeat.end), mix.channels[0].subarray(lastBeat.end))).toBe(true);
    // At speed 1 − t the source has gone t − t²/2 of the beat: the sine's phase says how far.
    const zeros = risingZeros(out.subarray(lastBeat.start, lastBeat.end - 2400));
    for (const share of [0.25, 0.5, 0.75]) {
      const k = zeros.findIndex((zero) => zero > share * 24_000);
      const middle = (zeros[k] + zeros[k - 1]) / 2 / 24_000;
      expect(Math.abs(cents(RATE / (zeros[k] - zeros[k - 1]), 440 * (1 - middle)))).toBeLessThan(5);
    }
  });

  test('what plays faster goes on with the sound behind the region and still ends with it', () => {
    const rising = Float32Array.from({ length: RATE }, (_, i) => i / RATE);
    const source: Clip = { sampleRate: RATE, origin: 0, channels: [rising] };
    const fast = { kind: 'speed', settings: { interval: 12 } };
    const region = { start: 12_000, end: 18_000 };
    const out = render([fast], source, { region, beyond: 'auto' });
    expect([out.origin, clipEnd(out)]).toEqual([12_000, 18_000]);
    for (const i of [1000, 3000, 5500]) expect(out.channels[0][i]).toBeCloseTo((12_000 + 2 * i) / RATE, 3);
    const short = render([fast], source, { region, beyond: 'nothing' });
    expect(clipEnd(short)).toBe(15_000);
  });

  test('a tail rings on over the copy, or is cut with the region', () => {
    const source = noise(RATE);
    const region = { start: 10_000, end: 20_000 };
    const hall = [{ kind: 'hall', settings: { decay: 0.5 } }];
    const rest = { render: { tail: { mode: 'fixed', length: 0.5 } } };
    const cut = render(hall, source, { region, beyond: 'auto', splice: { fade: 240, tail: 'cut' } }, rest);
    expect(same(cut.channels[0].subarray(0, 10_000), source.channels[0].subarray(0, 10_000))).toBe(true);
    expect(same(cut.channels[0].subarray(20_000), source.channels[0].subarray(20_000))).toBe(true);
    const over = render(hall, source, { region, beyond: 'auto', splice: { fade: 240, tail: 'overlap' } }, rest);
    // The hall hears the region fade out with the splice, so its tail is that of a region a hair shorter.
    const alone = render(hall, source, { region, beyond: 'auto' }, rest);
    expect(clipEnd(alone)).toBe(20_000 + 24_000);
    const added = over.channels[0].subarray(20_000, 44_000).map((x, i) => x - source.channels[0][20_000 + i]);
    const energy = (samples: Float32Array) => samples.reduce((sum, x) => sum + x * x, 0);
    for (const [from, to] of [
      [0, 4800],
      [4800, 23_000],
    ]) {
      const ratio = energy(added.subarray(from, to)) / energy(alone.channels[0].subarray(10_000 + from, 10_000 + to));
      expect(Math.abs(10 * Math.log10(ratio))).toBeLessThan(1);
    }
    expect(same(over.channels[0].subarray(44_000), source.channels[0].subarray(44_000))).toBe(true);
  });

  test('a swell rises before its region when it overlaps', () => {
    const swell = [{ kind: 'reverse' }, { kind: 'hall', settings: { decay: 0.5 } }, { kind: 'reverse' }] as never;
    const silent: Clip = { ...noise(RATE), channels: [noise(RATE).channels[0].map((x, i) => (i < 24_000 ? 0 : x))] };
    const chain = chainOf(swell, { render: { tail: { mode: 'fixed', length: 0.25 } } });
    const region = { start: 24_000, end: 30_000 };
    const out = finishRender(
      renderRegion(BUILT_INS, { chain, source: silent, region, beyond: 'auto', splice: { fade: 0, tail: 'overlap' } }),
    );
    expect(out.origin).toBe(0);
    expect(peak(out.channels[0].subarray(12_000, 24_000))).toBeGreaterThan(0.05);
    expect(peak(out.channels[0].subarray(0, 11_900))).toBe(0);
  });

  test('fades are even: a region that is not changed is spliced in unheard', () => {
    const source = noise(RATE);
    const region = { start: 5000, end: 9000 };
    const out = render([{ kind: 'gain', settings: { gain: 0 } }], source, {
      region,
      beyond: 'nothing',
      splice: { fade: 400, tail: 'cut' },
    });
    const furthest = out.channels[0].reduce((most, x, i) => Math.max(most, Math.abs(x - source.channels[0][i])), 0);
    expect(furthest).toBeLessThan(1e-6);
  });

  test('in the time of the sound what moves does what it does when all of it is played', () => {
    const source = noise(RATE);
    // Whole blocks: inside a block gains go in straight lines, so other blocks differ by up to 0.1 dB under such a swing.
    const region = { start: 78 * 128, end: 234 * 128 };
    const points = [
      { at: 0, value: -30 },
      { at: 1, value: 0 },
    ];
    const chain = chainOf([{ kind: 'gain' }], {
      modulators: [{ id: 'swing', kind: 'lfo', settings: { rate: { beats: 0.7 } } }],
      routes: [{ id: 'r', from: 'swing', to: 'gain.gain', depth: 0.3 }],
      lanes: [{ target: 'gain.level', curve: { over: 'clip', points } }],
    });
    const whole = finishRender(renderChain(BUILT_INS, { chain, source })).channels[0].subarray(
      region.start,
      region.end,
    );
    const part = (time: 'region' | 'sound') =>
      finishRender(renderRegion(BUILT_INS, { chain, source, region, beyond: 'nothing', time })).channels[0];
    const shared = part('sound');
    expect(shared.length).toBe(156 * 128);
    shared.forEach((sample, i) => expect(Math.abs(sample - whole[i])).toBeLessThan(1e-6));
    // By a time of its own it begins where the lane begins, at −30 dB, and the LFO at rest.
    expect(part('region')[0] / source.channels[0][region.start]).toBeCloseTo(10 ** (-30 / 20), 3);
  });

  test('one without length and one outside the sound are refused', () => {
    const bad = (start: number, end: number) => () => render([stop], mix, { region: { start, end }, beyond: 'auto' });
    expect(bad(500, 500)).toThrow('is empty');
    expect(bad(-1, 500)).toThrow('exceeds the sound; allowed is 0 s to 4 s');
    expect(bad(0, 192_001)).toThrow('exceeds the sound');
  });
});
