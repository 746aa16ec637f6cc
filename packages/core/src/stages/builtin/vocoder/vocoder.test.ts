import { BUILT_INS } from '../../../catalogue/builtIns.ts';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Clip } from '../../../model/clip.ts';
import { finishRender, renderChain } from '../../../engine/offline/renderer.ts';
import { chainOf } from '../../../testing/chains.ts';
import { runs } from '../../../testing/long.ts';
import { clipOf, noise, sine } from '../../../testing/signals.ts';
import { decibels, spectrumOf } from '../../../testing/spectrum.ts';
import { vowel } from '../../../testing/voice.ts';

const RATE = 48000;
const through = (settings: object, source: Clip, other?: Clip) =>
  finishRender(
    renderChain(BUILT_INS, {
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

const LOWEST = 90;
const HIGHEST = 9500;
/** Bands lie evenly on the mel scale. */
const edgeOf = (edge: number, bands: number) =>
  (LOWEST + 700) * ((HIGHEST + 700) / (LOWEST + 700)) ** (edge / bands) - 700;

/** What lies in a band, in this test's own hand: two sections, 3 dB down together at the band's edges. */
function bandOf(samples: Float32Array, low: number, high: number, rate = RATE): Float64Array {
  const w = (2 * Math.PI * Math.sqrt(low * high)) / rate;
  const q = Math.sqrt(Math.SQRT2 - 1) / (Math.sqrt(high / low) - Math.sqrt(low / high));
  const alpha = Math.sin(w) / (2 * q);
  let x = Float64Array.from(samples);
  for (let section = 0; section < 2; section++) {
    let [x1, x2, y1, y2] = [0, 0, 0, 0];
    x = x.map((now) => {
      const y = (alpha * (now - x2) + 2 * Math.cos(w) * y1 - (1 - alpha) * y2) / (1 + alpha);
      [x2, x1, y2, y1] = [x1, now, y1, y];
      return y;
    });
  }
  return x;
}

const powerOf = (samples: Float64Array) => samples.reduce((sum, x) => sum + x * x, 0);

/** The mean of so many seconds at a time. */
function framesOf(samples: Float64Array, rate: number, seconds = 0.02): number[] {
  const size = Math.round(seconds * rate);
  return Array.from(
    { length: Math.floor(samples.length / size) },
    (_, n) => samples.subarray(n * size, (n + 1) * size).reduce((sum, x) => sum + x, 0) / size,
  );
}

function correlation(a: readonly number[], b: readonly number[]): number {
  const mean = (x: readonly number[]) => x.reduce((sum, value) => sum + value, 0) / x.length;
  const [ma, mb] = [mean(a), mean(b)];
  const sum = (f: (i: number) => number) => a.reduce((total, _, i) => total + f(i), 0);
  return sum((i) => (a[i] - ma) * (b[i] - mb)) / Math.sqrt(sum((i) => (a[i] - ma) ** 2) * sum((i) => (b[i] - mb) ** 2));
}

/** The level of a band over time, 100 ms at a time: as fast as syllables go. */
const levelOf = (samples: Float32Array, middle: number) =>
  framesOf(
    bandOf(samples, middle / 1.2, middle * 1.2).map((x) => x * x),
    RATE,
    0.1,
  ).map(Math.sqrt);

/** A vowel that rises and falls as syllables do. */
function speech(pitch: number, rate: number): Clip {
  const sung = vowel((t) => pitch * (1 + 0.1 * Math.sin(2 * t)), 3, rate).channels[0];
  const loud = (t: number) => Math.max(0.003, Math.sin(2 * Math.PI * 2.3 * t)) * (0.6 + 0.4 * Math.sin(4.4 * t));
  return clipOf([sung.map((x, i) => x * loud(i / rate))], rate);
}

/** A saw by its partials. */
function saw(hertz: number, rate: number): Float32Array {
  const samples = new Float32Array(3 * rate);
  for (let h = 1; h * hertz < 0.45 * rate && h * hertz < 11000; h++) {
    for (let i = 0; i < samples.length; i++) {
      samples[i] += (0.3 / h) * Math.sin((2 * Math.PI * h * hertz * i) / rate + h * h);
    }
  }
  return samples;
}

describe('what speaks follows the voice', () => {
  test(
    'gain of each band with a partial: the voice’s, smoothed as set, correlates with it by 0.95 within 10 ms',
    { timeout: 600_000 },
    () => {
      const settings = fc.record({
        rate: fc.constantFrom(44100, 48000, 96000),
        pitch: fc.double({ min: 75, max: 400, noNaN: true }),
        note: fc.double({ min: 60, max: 500, noNaN: true }),
        bands: fc.integer({ min: 8, max: 40 }),
        attack: fc.double({ min: 0.001, max: 0.02, noNaN: true }),
        release: fc.double({ min: 0.005, max: 0.15, noNaN: true }),
      });
      const found: number[] = [];
      fc.assert(
        fc.property(settings, ({ rate, pitch, note, bands, attack, release }) => {
          const voice = speech(pitch, rate);
          const carrier = saw(note, rate);
          const set = { carrier: 'another sound', other: { sound: 'x' }, bands, attack, release, unvoiced: 0 };
          const [out] = through(set, voice, clipOf([carrier], rate));
          const heard = Array.from({ length: bands }, (_, b) => {
            const [low, high] = [edgeOf(b, bands), edgeOf(b + 1, bands)];
            // In the middle half of it: at the edge a neighbour says as much of a partial.
            const edge = 0.25 * (high - low);
            const partials = Math.floor((high - edge) / note) - Math.ceil((low + edge) / note) + 1;
            return { low, high, partials, said: bandOf(voice.channels[0], low, high, rate) };
          });
          const loudest = Math.max(...heard.map(({ said }) => powerOf(said)));
          for (const { low, high, partials, said } of heard) {
            if (partials < 1 || powerOf(said) < 1e-4 * loudest) continue;
            const played = framesOf(
              bandOf(carrier, low, high, rate).map((x) => x * x),
              rate,
            );
            const spoken = framesOf(
              bandOf(out, low, high, rate).map((x) => x * x),
              rate,
            );
            const gain = spoken.map((power, n) => Math.sqrt(power / played[n])).slice(5);
            let envelope = 0;
            const step = (seconds: number) => 1 - Math.exp(-1 / (seconds * rate));
            const smoothed = said.map((x) => {
              const rising = Math.abs(x) > envelope;
              return (envelope += step(rising ? attack : release) * (Math.abs(x) - envelope));
            });
            const best = Math.max(
              ...[0, 0.003, 0.006, 0.009].map((lag) => {
                const late = new Float64Array(smoothed.length);
                late.set(smoothed.subarray(0, smoothed.length - Math.round(lag * rate)), Math.round(lag * rate));
                return correlation(gain, framesOf(late, rate).slice(5));
              }),
            );
            // Where the voice glides into the next band, its partial is heard through both.
            expect(best, `${low.toFixed(0)}–${high.toFixed(0)} Hz`).toBeGreaterThan(0.85);
            found.push(best);
          }
        }),
        { numRuns: runs(4, 60), endOnFailure: true },
      );
      expect(found.filter((one) => one < 0.95).length).toBeLessThanOrEqual(0.03 * found.length);
    },
  );

  test.each(['saw', 'pulse', 'noise', 'chord'])('a %s of its own speaks, too', (carrier) => {
    const voice = babble();
    const [out] = through({ carrier, unvoiced: 0, attack: 0.002, release: 0.02 }, voice);
    for (const middle of [700, 1500, 3000])
      expect(correlation(levelOf(out, middle), levelOf(voice.channels[0], middle)), `${middle} Hz`).toBeGreaterThan(
        0.9,
      );
  });

  test('another sound speaks; where it is missing the voice passes', () => {
    const voice = babble();
    const [out] = through(
      { carrier: 'another sound', other: { sound: 'rain' }, unvoiced: 0 },
      voice,
      noise(RATE, RATE, 1, 99),
    );
    expect(correlation(levelOf(out, 700), levelOf(voice.channels[0], 700))).toBeGreaterThan(0.9);
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
