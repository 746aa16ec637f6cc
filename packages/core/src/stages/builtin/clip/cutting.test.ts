import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { findAttacks } from '../../../analysis/attacks.ts';
import { noteStarts } from '../../../analysis/noteStarts.ts';
import { runs } from '../../../testing/long.ts';
import { integratedLoudness } from '../../../analysis/loudness.ts';
import { clipEnd, frameCount, type Clip } from '../../../model/clip.ts';
import { chainOf, renderOf } from '../../../testing/chains.ts';
import { clipOf, noise, sine } from '../../../testing/signals.ts';
import { decibels } from '../../../testing/spectrum.ts';
import { cutClip, orderOf } from './slices.ts';

const one = (kind: string, settings: Record<string, unknown>) => chainOf([{ kind, settings }]);
const peak = (samples: Float32Array) => samples.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);

/** Bursts of a tone with silence between them, on their frames. */
function bursts(places: readonly number[], length: number, frames: number, level = 0.5): Clip {
  const samples = new Float32Array(frames);
  for (const place of places)
    for (let i = 0; i < length; i++)
      samples[place + i] += level * Math.exp(-i / (0.3 * length)) * Math.sin((2 * Math.PI * 700 * i) / 48000 + 0.5);
  return clipOf([samples]);
}

describe('trim', () => {
  test('by level: what is quiet goes at both ends; what is left lies where it lay', () => {
    const out = renderOf(one('trim', { fade: 0 }), bursts([10_000], 4000, 30_000));
    expect(out.origin).toBe(10_000);
    expect(clipEnd(out)).toBeGreaterThan(13_000);
    expect(clipEnd(out)).toBeLessThanOrEqual(14_000);
    const wider = renderOf(
      one('trim', { start: { samples: 480 }, end: { samples: 960 }, fade: 0 }),
      bursts([10_000], 4000, 30_000),
    );
    expect([wider.origin, clipEnd(wider)]).toEqual([10_000 - 480, clipEnd(out) + 960]);
  });

  test('by times: so much off each end, softly; what is in between is untouched', () => {
    const source = noise(48_000);
    const out = renderOf(one('trim', { by: 'times', start: 0.1, end: { beats: 0.5 } }), source);
    expect([out.origin, clipEnd(out)]).toEqual([4800, 36_000]);
    expect(out.channels[0].subarray(200, 31_000)).toEqual(source.channels[0].subarray(5000, 35_800));
    expect(Math.abs(out.channels[0][0])).toBe(0);
  });

  test('what follows takes the rest for the clip: reversing turns it on the spot', () => {
    const chain = chainOf([{ kind: 'trim', settings: { by: 'times', start: 0.1, fade: 0 } }, { kind: 'reverse' }]);
    const out = renderOf(chain, noise(10_000));
    expect([out.origin, clipEnd(out)]).toEqual([4800, 10_000]);
  });

  test.each([
    [44100, 93],
    [48000, 120],
    [96000, 71.3],
  ])(
    'to a length: four beats to the frame at %d Hz and %d bpm, cut or padded; then up to the next bar',
    (rate, tempo) => {
      const of = (settings: Record<string, unknown>, frames: number) =>
        renderOf(chainOf([{ kind: 'trim', settings }], { timing: { tempo } }), {
          ...noise(frames, rate),
          sampleRate: rate,
        });
      const bar = (4 * 60 * rate) / tempo;
      for (const frames of [1000, Math.round(2.3 * bar)]) {
        const out = of({ by: 'length', to: { beats: 4 } }, frames);
        expect(frameCount(out)).toBe(Math.round(bar));
        expect(out.origin).toBe(0);
        expect(out.channels[0][500]).toBe(noise(frames, rate).channels[0][500]);
        if (frames === 1000) expect(peak(out.channels[0].subarray(1000))).toBe(0);
      }
      expect(frameCount(of({ by: 'multiple', to: { bars: 1 } }, Math.round(2.3 * bar)))).toBe(Math.round(3 * bar));
      // Whole bars stay what they are.
      expect(frameCount(of({ by: 'multiple', to: { bars: 1 } }, Math.round(2 * bar)))).toBe(Math.round(2 * bar));
    },
  );

  test('all of it is refused; silence stays', () => {
    expect(() => renderOf(one('trim', { by: 'times', start: 0.3, end: 0.3 }), noise(24_000))).toThrow(
      'less than its length',
    );
    expect(frameCount(renderOf(one('trim', {}), clipOf([new Float32Array(100)])))).toBe(100);
  });
});

describe('silence', () => {
  test('a stretch is silent from time to time; outside it every sample is as it was', () => {
    const source = noise(48_000);
    const out = renderOf(one('silence', { by: 'times', from: 0.25, length: 0.5, fade: 0.01 }), source).channels[0];
    expect(out.subarray(0, 12_000)).toEqual(source.channels[0].subarray(0, 12_000));
    expect(out.subarray(36_000)).toEqual(source.channels[0].subarray(36_000));
    expect(peak(out.subarray(12_480, 35_520))).toBe(0);
  });

  test('breaths between words go, short gaps stay', () => {
    const words = bursts([5000, 12_000, 30_000], 6000, 40_000);
    const hiss = noise(40_000).channels[0];
    const source = clipOf([words.channels[0].map((sample, i) => sample + 0.003 * hiss[i])]);
    const out = renderOf(one('silence', { below: -36, least: 0.1, fade: 0.005 }), source).channels[0];
    expect(peak(out.subarray(20_000, 29_700))).toBe(0);
    expect(peak(out.subarray(11_000, 12_000))).toBeGreaterThan(0);
    expect(out.subarray(5000, 7000)).toEqual(source.channels[0].subarray(5000, 7000));
  });
});

describe('crossfade loop', () => {
  test.each(['linear', 'equal-power', 's-shaped'])(
    '%s: at the seam there is no step, and the loop is shorter by the fade',
    (curve) => {
      // Begins and ends anywhere in its period.
      const source = sine(333.3, 0.5, 1);
      const out = renderOf(one('crossfade', { length: 0.1, curve }), source).channels[0];
      expect(out.length).toBe(43_200);
      const own = 0.5 * ((2 * Math.PI * 333.3) / 48000);
      expect(Math.abs(out[0] - out[out.length - 1])).toBeLessThan(1.05 * own);
    },
  );

  test('noise is as loud in the fade as elsewhere; longer than half the clip is refused', () => {
    const out = renderOf(one('crossfade', { length: 0.5 }), noise(96_000)).channels[0];
    const power = (from: number, to: number) => out.subarray(from, to).reduce((sum, x) => sum + x * x, 0) / (to - from);
    expect(10 * Math.log10(power(0, 24_000) / power(24_000, 72_000))).toBeCloseTo(0, 0);
    expect(() => renderOf(one('crossfade', { length: 0.6 }), noise(48_000))).toThrow('at most half');
  });
});

describe('normalise', () => {
  test('peak, true peak and loudness come to what is set', () => {
    const source = sine(997, 0.2, 2, 48000, 2);
    expect(decibels(peak(renderOf(one('normalise', { to: -3 }), source).channels[0]))).toBeCloseTo(-3, 4);
    // A sine between the samples: its wave is 3 dB higher than its samples.
    const between = clipOf([
      Float32Array.from(
        { length: 9600 },
        (_, i) => 0.1 * Math.min(1, i / 2000, (9599 - i) / 2000) * Math.sin((Math.PI / 2) * i + Math.PI / 4),
      ),
    ]);
    const out = renderOf(one('normalise', { measure: 'true peak', to: -6 }), between).channels[0];
    expect(decibels(peak(out))).toBeCloseTo(-6 - 3.01, 1);
    // ITU-R BS.1770: a 997 Hz sine in both channels at −20 dBFS measures −20 LUFS.
    const loud = renderOf(one('normalise', { measure: 'loudness', to: -23 }), source);
    expect(decibels(peak(loud.channels[0]))).toBeCloseTo(-23, 1);
    expect(integratedLoudness(loud)).toBeCloseTo(-23, 2);
  });

  test('silence stays silence', () => {
    expect(peak(renderOf(one('normalise', {}), clipOf([new Float32Array(500)])).channels[0])).toBe(0);
  });
});

describe('the beginnings of notes', () => {
  /** A note that rises in a straight line, holds and dies away; its height 0 dB. */
  const note = (rate: number, at: number, rise: number, pitch: number, level: number, into: Float32Array) => {
    for (let i = Math.round(at * rate); i < into.length; i++) {
      const t = i / rate - at;
      const envelope = t < rise ? t / rise : Math.exp(-4 * (t - rise));
      let x = 0;
      for (let h = 1; h <= 5; h++) x += Math.sin(2 * Math.PI * h * pitch * t) / h;
      into[i] += 0.3 * level * envelope * x;
    }
  };

  test.each([44100, 48000, 96000])('at %d Hz a note that rises in 3 to 1000 ms is cut where it comes in', (rate) => {
    fc.assert(
      fc.property(
        fc.double({ min: Math.log(0.003), max: 0, noNaN: true }).map(Math.exp),
        fc.double({ min: 0.2, max: 0.5, noNaN: true }),
        fc.double({ min: 80, max: 900, noNaN: true }),
        fc.constantFrom(0, 0.05, 0.2),
        (rise, at, pitch, ringing) => {
          const samples = new Float32Array(2.2 * rate);
          // What rings before: a low tone that dies slowly.
          for (let i = 0; i < samples.length; i++)
            samples[i] = 0.3 * ringing * Math.exp((-0.5 * i) / rate) * Math.sin((2 * Math.PI * 61 * i) / rate);
          note(rate, at, rise, pitch, 1, samples);
          // −20 dB of its height, or 10 ms after it is 6 dB over what rings.
          const there = at + 0.1 * rise;
          // In power: √3 of the ringing’s own 0.71 beside the 0.86 of the note’s harmonics.
          const clear = at + Math.min(1, 1.43 * ringing * Math.exp(-0.5 * at)) * rise;
          const cuts = noteStarts(clipOf([samples], rate)).map((frame) => frame / rate);
          const own = cuts.filter((cut) => cut > at - 0.1 && cut < at + rise + 0.1);
          expect(own.length, JSON.stringify(cuts)).toBeGreaterThanOrEqual(1);
          expect(own[0]).toBeLessThanOrEqual(Math.max(there, clear + 0.01) + 0.001);
          expect(own[0]).toBeGreaterThanOrEqual(Math.min(there, clear) - 0.021);
          expect(own.length).toBe(1);
        },
      ),
      { numRuns: runs(4, 1000) },
    );
  });
});

describe('attacks', () => {
  test('are found within 2 ms, loud and soft, and only there', () => {
    const places = [6000, 18_000, 27_000, 41_000, 52_500, 70_000];
    const loud = bursts(places.slice(0, 3), 8000, 96_000, 0.8).channels[0];
    const soft = bursts(places.slice(3), 8000, 96_000, 0.2).channels[0];
    const found = findAttacks(clipOf([loud.map((sample, i) => sample + soft[i])]));
    expect(found.length).toBe(places.length);
    found.forEach((at, n) => expect(Math.abs(at - places[n])).toBeLessThan(96));
  });

  test('a wavering tone and silence have none', () => {
    const vibrato = Float32Array.from(
      { length: 96_000 },
      (_, i) => 0.5 * Math.sin(0.06 * i + 3 * Math.sin(0.0007 * i)),
    );
    for (let i = 0; i < 4800; i++) vibrato[i] *= i / 4800;
    expect(findAttacks(clipOf([vibrato])).filter((at) => at > 9600)).toEqual([]);
    expect(findAttacks(clipOf([new Float32Array(48_000)]))).toEqual([]);
  });
});

describe('slices', () => {
  const sliced = (
    settings: Record<string, unknown>,
    stages: Record<string, unknown>[] = [],
    rest: Record<string, unknown> = {},
  ) => chainOf([{ kind: 'slices', settings, branches: [{ id: 'piece', stages }] }], rest);

  test('without stages and in order it is the sound itself, whatever the fade', () => {
    const source = noise(30_000, 48000, 2);
    for (const fade of [0, 0.005, 0.05]) {
      const out = renderOf(sliced({ grid: 0.1, fade }), source);
      out.channels.forEach((samples, c) =>
        samples.forEach((sample, i) => expect(sample).toBeCloseTo(source.channels[c][i], 6)),
      );
    }
  });

  test('the grid follows the tempo; by hand and by attacks it is cut where it is said', () => {
    const clip = noise(96_000);
    const span = { start: 0, end: 96_000 };
    const cutting = { grid: 0.5, sensitivity: 0.6, cuts: [1.5, 0.25] };
    const starts = (by: 'grid' | 'attacks' | 'hand', source = clip) =>
      cutClip(source, span, { by, ...cutting }).map(({ start }) => start);
    expect(starts('grid')).toEqual([0, 24_000, 48_000, 72_000]);
    expect(starts('hand')).toEqual([0, 12_000, 72_000]);
    const hits = starts('attacks', bursts([10_000, 30_000], 5000, 96_000));
    expect(hits.length).toBe(3);
    expect(Math.abs(hits[1] - 10_000)).toBeLessThan(96);
  });

  test('each piece is turned round on its place', () => {
    const source = noise(24_000);
    const out = renderOf(sliced({ grid: 0.125, fade: 0 }, [{ id: 'flip', kind: 'reverse' }]), source).channels[0];
    for (let piece = 0; piece < 4; piece++)
      expect(out.slice(piece * 6000, (piece + 1) * 6000).reverse()).toEqual(
        source.channels[0].slice(piece * 6000, (piece + 1) * 6000),
      );
  });

  test('each chord swells into the next: what rises before a piece lies over the one before it', () => {
    const swell = [
      { id: 'flip', kind: 'reverse' },
      { id: 'space', kind: 'hall', settings: { decay: 0.5 } },
      { id: 'back', kind: 'reverse' },
    ];
    const out = renderOf(
      sliced({ grid: 0.5, fade: 0.002 }, swell, { render: { tail: { mode: 'fixed', length: 0.4 } } }),
      bursts([24_000], 3000, 48_000),
    );
    const before = out.channels[0].subarray(24_000 - 9600 - out.origin, 24_000 - out.origin);
    expect(peak(before.subarray(7000))).toBeGreaterThan(2 * peak(before.subarray(0, 2000)));
    expect(peak(before)).toBeGreaterThan(0.005);
    const cut = renderOf(sliced({ grid: 0.5, fade: 0.002, tails: 'cut' }, swell), bursts([24_000], 3000, 48_000));
    expect(peak(cut.channels[0].subarray(0, 23_900))).toBeLessThan(1e-12);
  });

  test('order: neighbours swapped, every second turned, one silenced; a short last group stays', () => {
    const plain = (order: number[]) =>
      orderOf(5, order).map(({ index, turned, silent }) => (silent ? 0 : (index + 1) * (turned ? -1 : 1)));
    expect(plain([])).toEqual([1, 2, 3, 4, 5]);
    expect(plain([2, 1])).toEqual([2, 1, 4, 3, 5]);
    expect(plain([1, -2])).toEqual([1, -2, 3, -4, 5]);
    expect(plain([1, 0])).toEqual([1, 0, 3, 0, 5]);
    const source = noise(24_000);
    const out = renderOf(sliced({ grid: 0.125, fade: 0, order: [2, 1] }), source).channels[0];
    expect(out.slice(0, 6000)).toEqual(source.channels[0].slice(6000, 12_000));
    expect(out.slice(6000, 12_000)).toEqual(source.channels[0].slice(0, 6000));
  });

  test('several chains take turns, with their levels and places', () => {
    const chain = chainOf([
      {
        kind: 'slices',
        settings: { grid: 0.125, fade: 0 },
        branches: [
          { id: 'one', level: -6.0206, pan: -1 },
          { id: 'two', muted: true },
        ],
      },
    ]);
    const source = noise(24_000);
    const [left, right] = renderOf(chain, source).channels;
    expect(left[100]).toBeCloseTo(0.5 * source.channels[0][100], 5);
    expect(peak(right)).toBe(0);
    expect(peak(left.subarray(6000, 12_000))).toBe(0);
  });

  test('a whole-clip stage may stand in a piece and in a split in it, but not in a loop in it; too many pieces are refused', () => {
    const inner = (kind: string) => ({
      id: 'inner',
      kind,
      branches: [{ id: 'b', stages: [{ id: 'flip', kind: 'reverse' }] }],
    });
    const source = noise(24_000, 48000, 2);
    const turned = renderOf(sliced({}, [{ id: 'flip', kind: 'reverse' }]), source);
    const split = renderOf(sliced({}, [inner('split')]), source);
    turned.channels.forEach((samples, c) =>
      expect(peak(samples.map((x, i) => x - split.channels[c][i]))).toBeLessThan(1e-6),
    );
    expect(() => sliced({}, [inner('echo')])).toThrow('not inside a loop');
    expect(() => renderOf(sliced({ grid: 0.01 }), noise(24_000 * 48))).toThrow('at most 2000');
  });
});
