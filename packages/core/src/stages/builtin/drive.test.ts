import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { integratedLoudness } from '../../analysis/loudness.ts';
import { SHAPES } from '../../dsp/waveshaper.ts';
import { chainOf, renderOf } from '../../testing/chains.ts';
import { runs } from '../../testing/long.ts';
import { tried } from '../../testing/music.ts';
import { impulse, noise, sine } from '../../testing/signals.ts';
import { decibels, spectrumOf } from '../../testing/spectrum.ts';

const RATE = 48000;
const through = (kind: string, settings: object, source = sine(440, 0.5, 1)) =>
  renderOf(chainOf([{ kind, settings }]), source).channels[0];
const plain = { matched: false, oversampling: 'as it is' };
const peak = (samples: Float32Array) => samples.reduce((most, x) => Math.max(most, Math.abs(x)), 0);

describe('drive', () => {
  test('hard at −6 dB, not oversampled: the peak is 0.501 ±0.1 %', () => {
    const out = through('drive', { ...plain, shape: 'hard', threshold: -6, amount: 0 }, sine(440, 0.8, 1));
    // Behind the first moments, in which the block for direct current settles.
    expect(peak(out.subarray(4800)) / 10 ** (-6 / 20)).toBeCloseTo(1, 3);
  });

  test.each([
    ['soft', '4×', -6],
    ['hard', '4×', -6],
    ['fuzz', '4×', -6],
    ['diode', '4×', -6],
    ['fold', '4×', 0],
    ['fold', '8×', -6],
  ])(
    'tones of 1–8 kHz at +24 dB through %s, %s, at %d dB: what folds back lies below −70 dB',
    (shape, oversampling, threshold) => {
      for (const rate of [44100, 48000, 96000])
        // Primes, so that nothing that folds back falls onto a partial.
        for (const tone of [1009, 3989, 5003, 7919]) {
          const settings = { shape, amount: 24, threshold, oversampling, matched: false };
          const out = through('drive', settings, sine(tone, 1, 1, rate));
          const { bins, hertz } = spectrumOf(out.subarray(8192, 8192 + 32768), rate);
          const loudest = bins.reduce((most, size) => Math.max(most, size), 0);
          const folded = bins.reduce((most, size, k) => {
            const f = k * hertz;
            const partial = Math.abs(f / tone - Math.round(f / tone)) * tone < 12;
            return partial || f < 20 ? most : Math.max(most, size);
          }, 0);
          expect(decibels(folded / loudest), `${tone} Hz at ${rate} Hz`).toBeLessThan(-70);
        }
    },
  );

  test('every shape is straight for quiet sounds and never passes its ceiling', () => {
    for (const shape of ['soft', 'hard', 'fold', 'fuzz', 'diode']) {
      const quiet = through('drive', { ...plain, shape, amount: 20, threshold: 0 }, sine(1000, 0.001, 0.5));
      expect(peak(quiet.subarray(9600)), shape).toBeCloseTo(0.01, 3);
      const loud = through('drive', { ...plain, shape, amount: 40, threshold: -12 }, sine(1000, 1, 0.5));
      // Around the middle: a lopsided shape is wider than its ceiling once its mean is taken off.
      const half = (Math.max(...loud.subarray(9600)) - Math.min(...loud.subarray(9600))) / 2;
      expect(half, shape).toBeLessThanOrEqual(10 ** (-12 / 20) * 1.01);
    }
  });

  test('bias adds even partials and leaves no direct current', () => {
    const even = (bias: number) => {
      const out = through('drive', { shape: 'soft', amount: 18, bias, matched: false }, sine(750, 0.5, 3));
      const { bins, hertz } = spectrumOf(out.subarray(65536, 65536 * 2), RATE);
      const mean = out.subarray(96_000, 144_000).reduce((sum, x) => sum + x, 0) / 48_000;
      expect(Math.abs(mean)).toBeLessThan(1e-3);
      return decibels(bins[Math.round(1500 / hertz)] / bins[Math.round(750 / hertz)]);
    };
    expect(even(0)).toBeLessThan(-90);
    expect(even(0.6)).toBeGreaterThan(-25);
  });

  test('matched: voice, drums and chord stay within 4 dB at any setting', () => {
    const sources = (['voice', 'drums', 'chord'] as const).map((name) => [name, tried(name, 1.5)] as const);
    const settings = fc.record({
      shape: fc.constantFrom(...SHAPES),
      amount: fc.double({ min: 0, max: 48, noNaN: true }),
      threshold: fc.double({ min: -36, max: 0, noNaN: true }),
      bias: fc.double({ min: -1, max: 1, noNaN: true }),
    });
    fc.assert(
      fc.property(settings, (setting) => {
        for (const [name, source] of sources) {
          const out = renderOf(chainOf([{ kind: 'drive', settings: setting }]), source);
          expect(Math.abs(integratedLoudness(out) + 18), `${name} ${JSON.stringify(setting)}`).toBeLessThan(4);
        }
      }),
      { numRuns: runs(10, 1000), endOnFailure: true },
    );
  });

  test('matched: the level never moves by more than 1 dB for a dB of amount', () => {
    const source = tried('drums', 0.5);
    const level = (settings: object) => integratedLoudness(renderOf(chainOf([{ kind: 'drive', settings }]), source));
    for (const shape of SHAPES)
      for (const [threshold, bias] of [
        [0, 0],
        [-24, 0],
        [-6, 0.7],
      ]) {
        const levels = Array.from({ length: 13 }, (_, n) => level({ shape, threshold, bias, amount: 4 * n }));
        levels.slice(1).forEach((now, n) => expect(Math.abs(now - levels[n]), `${shape} ${4 * n}`).toBeLessThan(4));
      }
  });

  test.each(['as it is', '2×', '4×', '8×'])('%s: dry and wet lie on one another, to the sample', (oversampling) => {
    const out = renderOf(
      chainOf([
        { kind: 'drive', mix: 0.5, settings: { shape: 'hard', amount: 0, threshold: 0, matched: false, oversampling } },
      ]),
      impulse(500, 4000),
    ).channels[0];
    let at = 0;
    out.forEach((x, i) => Math.abs(x) > Math.abs(out[at]) && (at = i));
    expect(at).toBe(500);
    expect(out[500]).toBeGreaterThan(0.8);
  });
});

describe('crush', () => {
  test.each([1, 2, 3, 4])('%d bits: as many levels as they give', (bits) => {
    const out = through('crush', { bits, rate: 192_000 }, sine(441, 1, 1));
    expect(new Set(out.filter((x) => x !== 0)).size).toBe(2 ** bits);
  });

  test('many bits and the full rate leave the sound alone; silence stays silent', () => {
    const source = noise(4800);
    const out = through('crush', { bits: 16, rate: 192_000 }, source);
    out.forEach((x, i) => expect(Math.abs(x - source.channels[0][i])).toBeLessThan(2 ** -15));
    expect(through('crush', { bits: 1 }, { ...source, channels: [new Float32Array(480)] }).every((x) => x === 0)).toBe(
      true,
    );
  });

  test('a lower rate holds each sample as long as it says; jitter makes it uneven', () => {
    const runs = (settings: object) => {
      const out = through('crush', { bits: 16, rate: 6000, ...settings }, noise(9600));
      const lengths: number[] = [];
      for (let i = 1, length = 1; i < out.length; i++, length++)
        if (out[i] !== out[i - 1]) {
          lengths.push(length);
          length = 0;
        }
      return lengths.slice(1, -1);
    };
    expect(new Set(runs({}))).toEqual(new Set([8]));
    expect(new Set(runs({ jitter: 0.9 })).size).toBeGreaterThan(3);
  });
});
