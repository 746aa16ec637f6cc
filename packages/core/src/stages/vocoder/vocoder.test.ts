import { describe, expect, test } from 'vitest';
import type { Clip } from '../../engine/clip.ts';
import { finishRender, renderChain } from '../../engine/offlineRenderer.ts';
import { chainOf } from '../../testing/chains.ts';
import { clipOf, noise, sine } from '../../testing/signals.ts';
import { decibels, spectrumOf } from '../../testing/spectrum.ts';

const RATE = 48000;
const through = (settings: object, source: Clip, other?: Clip) =>
  finishRender(
    renderChain({
      chain: chainOf([{ kind: 'vocoder', settings: { sibilants: -60, spread: 0, ...settings } }]),
      source,
      sounds: () => other && { sha256: 'x', clip: other },
    }),
  ).channels;

/** A buzz whose octaves open and shut at different speeds: something like speech, in the test's own hand. */
function babble(): Clip {
  const buzz = Float32Array.from({ length: 4 * RATE }, (_, i) => (i % 400 === 0 ? 20 : 0));
  const bands = [300, 700, 1500, 3000].map((middle, n) => {
    const w = (2 * Math.PI * middle) / RATE;
    const alpha = Math.sin(w) / 4;
    let [x1, x2, y1, y2] = [0, 0, 0, 0];
    return buzz.map((x, i) => {
      const y = (alpha * (x - x2) + 2 * Math.cos(w) * y1 - (1 - alpha) * y2) / (1 + alpha);
      [x2, x1, y2, y1] = [x1, x, y1, y];
      return y * Math.max(0, Math.sin((2 * Math.PI * (0.9 + 0.7 * n) * i) / RATE));
    });
  });
  return clipOf([bands[0].map((_, i) => 0.5 * bands.reduce((sum, band) => sum + band[i], 0))]);
}

/** The level of a band over time, 100 ms at a time: as fast as syllables go. */
function envelopeOf(samples: Float32Array, middle: number): number[] {
  const w = (2 * Math.PI * middle) / RATE;
  const alpha = Math.sin(w) / 6;
  let [x1, x2, y1, y2] = [0, 0, 0, 0];
  const band = samples.map((x) => {
    const y = (alpha * (x - x2) + 2 * Math.cos(w) * y1 - (1 - alpha) * y2) / (1 + alpha);
    [x2, x1, y2, y1] = [x1, x, y1, y];
    return y;
  });
  return Array.from({ length: Math.floor(band.length / 4800) }, (_, n) =>
    Math.sqrt(band.subarray(n * 4800, (n + 1) * 4800).reduce((sum, x) => sum + x * x, 0)),
  );
}

function correlation(a: readonly number[], b: readonly number[]): number {
  const mean = (x: readonly number[]) => x.reduce((sum, value) => sum + value, 0) / x.length;
  const [ma, mb] = [mean(a), mean(b)];
  const sum = (f: (i: number) => number) => a.reduce((total, _, i) => total + f(i), 0);
  return sum((i) => (a[i] - ma) * (b[i] - mb)) / Math.sqrt(sum((i) => (a[i] - ma) ** 2) * sum((i) => (b[i] - mb) ** 2));
}

describe('what speaks follows the voice', () => {
  test.each([
    ['saw', 20],
    ['noise', 24],
    ['chord', 40],
  ])('a %s through %d bands: correlation of each band’s envelope at least 0.9', (carrier, bands) => {
    const voice = babble();
    const [out] = through({ carrier, bands, unvoiced: 0, attack: 0.002, release: 0.02 }, voice);
    for (const middle of [300, 700, 1500, 3000])
      expect(
        correlation(envelopeOf(out, middle), envelopeOf(voice.channels[0], middle)),
        `${middle} Hz`,
      ).toBeGreaterThan(0.9);
  });

  test('another sound speaks; where it is missing the voice passes', () => {
    const voice = babble();
    const [out] = through(
      { carrier: 'another sound', other: { sound: 'rain' }, unvoiced: 0 },
      voice,
      noise(RATE, RATE, 1, 99),
    );
    expect(correlation(envelopeOf(out, 700), envelopeOf(voice.channels[0], 700))).toBeGreaterThan(0.9);
    const [dry] = through({ carrier: 'another sound', other: { sound: 'rain' } }, voice);
    expect(dry).toEqual(voice.channels[0]);
  });

  test('is about as loud as the voice, whatever speaks', () => {
    const voice = babble();
    const power = (samples: Float32Array) => 10 * Math.log10(samples.reduce((sum, x) => sum + x * x, 0));
    for (const carrier of ['saw', 'pulse', 'noise', 'chord'])
      expect(
        Math.abs(power(through({ carrier, unvoiced: 0 }, voice)[0]) - power(voice.channels[0])),
        carrier,
      ).toBeLessThan(6);
  });
});

describe('the carrier', () => {
  const partials = (samples: Float32Array) => {
    const { bins, hertz } = spectrumOf(samples.subarray(RATE, RATE + 65536), RATE);
    return (f: number) => bins[Math.round(f / hertz)];
  };

  test('a chord stands on its root', () => {
    const at = partials(
      through(
        { carrier: 'chord', chord: 'minor', note: 220, unvoiced: 0, attack: 0.2, release: 1 },
        noise(3 * RATE),
      )[0],
    );
    for (const step of [0, 3, 7, 12]) expect(at(220 * 2 ** (step / 12))).toBeGreaterThan(5 * at(220 * 2 ** (1.5 / 12)));
  });

  test('shifted by an octave, what was spoken by one band is spoken by that above', () => {
    const tone = sine(500, 0.5, 3);
    const level = (settings: object) => partials(through({ carrier: 'noise', bands: 24, ...settings }, tone)[0]);
    const sum = (at: (f: number) => number, f: number) =>
      Array.from({ length: 60 }, (_, n) => at(f * (0.97 + 0.001 * n))).reduce((total, x) => total + x, 0);
    expect(sum(level({}), 500) / sum(level({}), 1000)).toBeGreaterThan(5);
    expect(sum(level({ bandShift: 12 }), 1000) / sum(level({ bandShift: 12 }), 500)).toBeGreaterThan(5);
  });

  test('where the voice hisses noise takes its place, and its own highs pass', () => {
    const hiss = noise(3 * RATE).channels[0].map((x, i, all) => 0.3 * (x - (all[i - 1] ?? 0)));
    const between = (settings: object) =>
      partials(through({ carrier: 'saw', note: 880, ...settings }, clipOf([hiss]))[0]);
    const ratio = (at: (f: number) => number) => at(4400) / at(4840);
    expect(ratio(between({ unvoiced: 0 }))).toBeGreaterThan(5);
    expect(ratio(between({ unvoiced: 1 }))).toBeLessThan(5);
    const high = (sibilants: number) => between({ unvoiced: 0, sibilants })(15000);
    expect(decibels(high(0) / high(-60))).toBeGreaterThan(20);
  });

  test('hold keeps the vowel of the moment', () => {
    const silent = clipOf([new Float32Array(RATE)]);
    expect(through({ hold: true }, silent)[0].every((x) => Math.abs(x) < 1e-9)).toBe(true);
  });
});
