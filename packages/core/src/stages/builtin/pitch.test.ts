import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Clip } from '../../model/clip.ts';
import { chainOf, renderOf } from '../../testing/chains.ts';
import { runs } from '../../testing/long.ts';
import { clipOf, sine } from '../../testing/signals.ts';
import { decibels, spectrumOf } from '../../testing/spectrum.ts';
import { cents, formantOf } from '../../testing/voice.ts';

const RATE = 48000;
const through = (kind: string, settings: object, source: Clip) =>
  renderOf(chainOf([{ kind, settings }]), source).channels;

/** Frequency of the strongest partial of a stretch, between the bins by a parabola through the logarithms. */
export function pitchOf(samples: Float32Array, from: number, length = 65536): number {
  const { bins, hertz } = spectrumOf(samples.subarray(from, from + length), RATE);
  let best = 1;
  for (let k = 2; k < bins.length - 1; k++) if (bins[k] > bins[best]) best = k;
  const [a, b, c] = [bins[best - 1], bins[best], bins[best + 1]].map(Math.log);
  return (best + (a - c) / (2 * (a - 2 * b + c))) * hertz;
}

/** Amplitude of the partial at a frequency, by a Hann window and direct summation. */
function partialOf(samples: Float32Array, frequency: number, rate: number): number {
  let re = 0;
  let im = 0;
  samples.forEach((x, i) => {
    const weighed = x * (1 - Math.cos((2 * Math.PI * i) / samples.length));
    const angle = (2 * Math.PI * frequency * i) / rate;
    re += weighed * Math.cos(angle);
    im += weighed * Math.sin(angle);
  });
  return (2 * Math.hypot(re, im)) / samples.length;
}

/** Amplitude of a vowel of two resonances at a frequency. */
const vowelAt = (frequency: number, formants: readonly number[]) =>
  formants.reduce((sum, at, n) => sum + 1 / (n + 1) / (1 + ((frequency - at) / 110) ** 2), 0.003);

/** Harmonics as loud as a vowel has them. */
function sung(pitch: number, formants: readonly number[], seconds: number, rate: number): Clip {
  const samples = new Float32Array(seconds * rate);
  for (let h = 1; h * pitch < 6000; h++) {
    const level = 0.2 * vowelAt(h * pitch, formants);
    for (let i = 0; i < samples.length; i++)
      samples[i] += level * Math.sin((2 * Math.PI * h * pitch * i) / rate + h * h);
  }
  return clipOf([samples], rate);
}

/** Where the two formants lie of which a vowel's partials fit best, in decibels, the louder ones counting for more. */
function formantsBy(samples: Float32Array, pitch: number, near: readonly number[], rate: number): number[] {
  const count = Math.floor(3000 / pitch);
  const levels = Array.from({ length: count }, (_, n) => decibels(partialOf(samples, (n + 1) * pitch, rate) + 1e-9));
  const weights = levels.map((level) => 10 ** (Math.max(-60, level) / 40));
  const all = weights.reduce((sum, w) => sum + w, 0);
  let best: number[] = [];
  let least = Infinity;
  for (let a = 0.8; a < 1.25; a += 0.01)
    for (let b = 0.85; b < 1.15; b += 0.01) {
      const formants = [near[0] * a, near[1] * b];
      const rest = levels.map((level, n) => level - decibels(vowelAt((n + 1) * pitch, formants)));
      const mean = rest.reduce((sum, x, n) => sum + weights[n] * x, 0) / all;
      const error = rest.reduce((sum, x, n) => sum + weights[n] * (x - mean) ** 2, 0);
      if (error < least) [least, best] = [error, formants];
    }
  return best;
}

/** A vowel: a train of pulses through two resonances, in the test's own hand. */
function vowel(pitch: number, formants: readonly number[]): Clip {
  const samples = new Float32Array(4 * RATE);
  for (let t = 0; t < samples.length; t += RATE / pitch) samples[Math.round(t)] = 1;
  let out = samples;
  for (const frequency of formants) {
    const r = Math.exp((-Math.PI * 90) / RATE);
    const a1 = -2 * r * Math.cos((2 * Math.PI * frequency) / RATE);
    let [y1, y2] = [0, 0];
    out = out.map((x) => {
      const y = x - a1 * y1 - r * r * y2;
      y2 = y1;
      y1 = y;
      return y;
    });
  }
  const peak = out.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
  return clipOf([out.map((x) => (0.5 * x) / peak)]);
}

describe('transpose', () => {
  test.each([
    ['monophonic', 440, 7],
    ['monophonic', 220, -12],
    ['monophonic', 1000, 0.37],
    ['polyphonic', 110, 24],
    ['polyphonic', 523.25, -5],
    ['polyphonic', 2000, -24],
    ['percussive', 880, 3],
  ])('%s: a tone of %d Hz by %d semitones is in tune within 2 cents', (mode, tone, interval) => {
    for (const formants of ['kept', 'moved']) {
      const [out] = through('transpose', { mode, interval, formants }, sine(tone, 0.5, 3));
      const wanted = tone * 2 ** (interval / 12);
      expect(Math.abs(cents(pitchOf(out, RATE), wanted)), formants).toBeLessThan(2);
    }
  });

  test('nothing else comes up beside a tone', () => {
    const [out] = through('transpose', { interval: 5 }, sine(440, 0.5, 3));
    const { bins, hertz } = spectrumOf(out.subarray(RATE, RATE + 65536), RATE);
    const wanted = (440 * 2 ** (5 / 12)) / hertz;
    const loudest = Math.max(...bins);
    const beside = bins.reduce((most, x, k) => (Math.abs(k - wanted) < 12 ? most : Math.max(most, x)), 0);
    expect(decibels(beside / loudest)).toBeLessThan(-40);
  });

  const rates = fc.constantFrom(44100, 48000, 96000);
  const intervals = fc.double({ min: -12, max: 12, noNaN: true });

  test('at its defaults a tone keeps its level within 1 dB, wherever it lies and however far it goes', () => {
    const tones = fc.double({ min: 80, max: 4000, noNaN: true });
    fc.assert(
      fc.property(rates, tones, intervals, (rate, tone, interval) => {
        const [out] = through('transpose', { interval }, sine(tone, 0.5, 1.5, rate));
        const level = partialOf(out.subarray(0.5 * rate, 1.4 * rate), tone * 2 ** (interval / 12), rate);
        expect(Math.abs(decibels(level / 0.5))).toBeLessThan(1);
      }),
      { numRuns: runs(5, 400) },
    );
  });

  test('tones: the partials of a chord keep their levels within 2 dB', () => {
    const roots = fc.double({ min: 110, max: 600, noNaN: true });
    const kinds = fc.constantFrom([0, 4, 7], [0, 3, 7], [0, 4, 7, 11], [0, 5, 12]);
    fc.assert(
      fc.property(rates, roots, kinds, intervals, (rate, root, notes, interval) => {
        const tones = notes.map((note) => root * 2 ** (note / 12));
        const source = clipOf(
          [
            Float32Array.from({ length: 1.8 * rate }, (_, i) =>
              tones.reduce((sum, f, n) => sum + (0.2 / (n + 1)) * Math.sin((2 * Math.PI * f * i) / rate), 0),
            ),
          ],
          rate,
        );
        const [out] = through('transpose', { interval, mode: 'polyphonic' }, source);
        tones.forEach((tone, n) => {
          const level = partialOf(out.subarray(0.6 * rate, 1.6 * rate), tone * 2 ** (interval / 12), rate);
          expect(Math.abs(decibels((level * (n + 1)) / 0.2)), `${tone}`).toBeLessThan(2);
        });
      }),
      { numRuns: runs(5, 400) },
    );
  });

  test('formants kept: those of a vowel move by less than 5 per cent, whoever sings it', () => {
    const voices = fc.double({ min: 75, max: 340, noNaN: true });
    const moves = fc.double({ min: -7, max: 7, noNaN: true });
    fc.assert(
      fc.property(rates, voices, moves, (rate, pitch, interval) => {
        const source = sung(pitch, [700, 1900], 1.5, rate);
        const [out] = through('transpose', { interval }, source);
        const found = formantsBy(out.subarray(0.5 * rate, 1.4 * rate), pitch * 2 ** (interval / 12), [700, 1900], rate);
        found.forEach((formant, n) => expect(Math.abs(formant / [700, 1900][n] - 1)).toBeLessThan(0.055));
      }),
      { numRuns: runs(5, 400) },
    );
  });

  test('formants set apart: they move, the pitch does not', () => {
    const source = vowel(120, [700]);
    const [out] = through('transpose', { interval: 0, formants: 'set apart', colour: 5 }, source);
    expect(formantOf(out, 120, 500, 1500) / 700).toBeCloseTo(2 ** (5 / 12), 1);
    for (const samples of [source.channels[0], out]) expect((pitchOf(samples, RATE) + 60) % 120).toBeCloseTo(60, 0);
  });

  test('by nothing at all it is the sound itself, where it was', () => {
    const source = sine(300, 0.5, 1);
    const [out] = through('transpose', { interval: 0, formants: 'moved' }, source);
    for (let i = 4800; i < 40000; i += 7) expect(out[i]).toBeCloseTo(source.channels[0][i], 5);
  });
});

describe('pitch echo', () => {
  const PLAIN = { time: 0.5, feedback: 0.9, smear: 0, scatter: 0 };
  const burst = (tone: number, seconds = 0.4) =>
    clipOf([
      Float32Array.from({ length: 4 * RATE }, (_, i) =>
        i < seconds * RATE
          ? 0.5 * Math.sin((2 * Math.PI * tone * i) / RATE) * Math.sin((Math.PI * i) / (seconds * RATE))
          : 0,
      ),
    ]);

  test.each([
    [330, 3],
    [880, -2],
    [220, 7],
  ])('%d Hz by %d semitones: the k-th repeat lies k steps away, within 3 cents', (tone, interval) => {
    const [out] = through('pitchEcho', { ...PLAIN, interval }, burst(tone));
    for (const k of [1, 2, 3, 4]) {
      const found = pitchOf(out, k * 0.5 * RATE + 2400, 16384);
      expect(Math.abs(cents(found, tone * 2 ** ((k * interval) / 12))), `repeat ${k}`).toBeLessThan(3);
    }
  });

  test('backwards: pieces as long as the time are turned round, and the first begins when the second piece does', () => {
    const frames = 0.1 * RATE;
    const source = clipOf([Float32Array.from({ length: RATE }, (_, i) => Math.sin(i * i * 2e-5) * 0.5)]);
    const [out] = through(
      'pitchEcho',
      { ...PLAIN, time: 0.1, interval: 0, feedback: 0, direction: 'backwards' },
      source,
    );
    for (const piece of [1, 2, 5]) {
      for (let i = 400; i < frames - 400; i += 37)
        expect(out[piece * frames + i]).toBeCloseTo(source.channels[0][piece * frames - 1 - i], 4);
    }
  });

  test('scatter strays within its bounds, by the seed', () => {
    const settings = { ...PLAIN, interval: 0, scatter: 2, feedback: 0 };
    const render = (seed: number) =>
      renderOf(chainOf([{ kind: 'pitchEcho', settings }], { render: { tail: { mode: 'none' }, seed } }), sine(440, 0.5, 4)).channels[0]; // prettier-ignore
    const out = render(1);
    const strays = [1, 2, 3, 4, 5, 6].map((k) => Math.abs(cents(pitchOf(out, (k * 0.5 + 0.12) * RATE, 8192), 440)));
    expect(Math.max(...strays)).toBeLessThan(210);
    expect(Math.max(...strays)).toBeGreaterThan(20);
    expect(render(1)).toEqual(out);
    expect(render(2)).not.toEqual(out);
  });
});
