import { describe, expect, test } from 'vitest';
import { decibels, spectrumOf } from '../testing/spectrum.ts';
import { sine } from '../testing/signals.ts';
import { resample } from './resample.ts';

/** Amplitude of a tone of a known frequency, under a Hann window. */
function at(samples: Float32Array, rate: number, hertz: number): number {
  const n = 32768;
  let [re, im] = [0, 0];
  for (let i = 0; i < n; i++) {
    const x = samples[8192 + i] * (1 - Math.cos((2 * Math.PI * i) / n));
    re += x * Math.cos((2 * Math.PI * hertz * i) / rate);
    im += x * Math.sin((2 * Math.PI * hertz * i) / rate);
  }
  return (2 * Math.hypot(re, im)) / n;
}

describe.each([
  [44100, 48000],
  [48000, 44100],
  [48000, 96000],
  [96000, 48000],
])('from %d to %d Hz', (from, to) => {
  const lower = Math.min(from, to);

  test('flat within 0.1 dB to 0.45 of the lower rate', () => {
    for (const share of [0.01, 0.1, 0.3, 0.4, 0.45]) {
      const tone = sine(share * lower, 0.5, 1.5, from).channels[0];
      expect(Math.abs(decibels(at(resample(tone, to / from), to, share * lower) / 0.5)), `${share}`).toBeLessThan(0.1);
    }
  });

  test('images and aliases below −96 dB', () => {
    const hertz = from > to ? Math.min(0.62 * lower, 0.49 * from) : 0.4 * lower;
    const out = resample(sine(hertz, 1, 1.5, from).channels[0], to / from);
    const { bins, hertz: width } = spectrumOf(out.subarray(8192, 8192 + 32768), to);
    const others = bins.reduce((most, x, k) => (Math.abs(k * width - hertz) < 40 ? most : Math.max(most, x)), 0);
    expect(decibels(others)).toBeLessThan(-96);
  });

  test('keeps its length', () => {
    expect(resample(new Float32Array(from), to / from).length).toBe(to);
  });
});
