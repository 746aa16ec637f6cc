/** The same character at every sample rate: times, frequencies, pitches and decays stay where they are set. */
import { describe, expect, test } from 'vitest';
import { integratedLoudness } from '../../analysis/loudness.ts';
import { chainOf, renderOf } from '../../testing/chains.ts';
import { tried } from '../../testing/music.ts';
import { impulse, noise, sine } from '../../testing/signals.ts';
import { decayTime, decibels, octaveBand, responseAt } from '../../testing/spectrum.ts';
import type { Clip } from '../../model/clip.ts';

const through = (kind: string, settings: object, source: Clip) =>
  renderOf(chainOf([{ kind, settings }], { timing: { tempo: 120 } }), source).channels;

/** Frequency of a tone by its upward crossings over a stretch in seconds. */
function pitchOf(samples: Float32Array, rate: number, from: number, to: number): number {
  const crossings: number[] = [];
  for (let i = Math.round(from * rate); i < to * rate; i++)
    if (samples[i] < 0 && samples[i + 1] >= 0) crossings.push(i + samples[i] / (samples[i] - samples[i + 1]));
  return ((crossings.length - 1) * rate) / (crossings.at(-1)! - crossings[0]);
}

describe.each([44100, 48000, 88200, 96000, 192000])('at %d Hz', (rate) => {
  test('an echo comes when it is set, to the frame', () => {
    const [out] = through(
      'echo',
      { layout: 'single', time: 0.25, feedback: 0, highCut: 20000, lowCut: 20 },
      impulse(0, rate, rate),
    );
    const at = out.findIndex((x) => Math.abs(x) > 0.5);
    expect(Math.abs(at - 0.25 * rate)).toBeLessThanOrEqual(1);
  });

  test('filters and bands stand where they are set', () => {
    const low = through('filter', { cutoff: 1000 }, impulse(0, 16384, rate))[0];
    expect(decibels(responseAt(low, 1000, rate))).toBeCloseTo(-3, 0);
    const bell = through('equaliser', { gain4: 9, q4: 2 }, impulse(0, 32768, rate))[0];
    expect(decibels(responseAt(bell, 1200, rate))).toBeCloseTo(9, 0);
  });

  test.each([
    ['hall', 0.1],
    ['plate', 0.15],
  ])('a %s dies in its time', (kind, tolerance) => {
    const [out] = through(
      kind,
      { decay: 1, ...(kind === 'hall' ? { highDecay: 1 } : { damping: 20000 }) },
      impulse(0, 2 * rate, rate),
    );
    const found = decayTime(octaveBand(out, 1000, rate).subarray(Math.round(0.05 * rate)), rate);
    expect(Math.abs(found - 1)).toBeLessThan(tolerance);
  });

  test.each([true, false])('an impulse makes a sound as loud as at 48 kHz, matched: %s', (matched) => {
    const loudness = (at: number) => {
      const settings = { impulse: { sound: 'Hum' }, matched };
      return integratedLoudness(renderOf(chainOf([{ kind: 'convolve', settings }]), tried('chord', 1, at)));
    };
    expect(Math.abs(loudness(rate) - loudness(48000))).toBeLessThan(0.2);
  });

  test('pitches: transposed, shifted and slowed alike', () => {
    const tone = sine(500, 0.5, 1.5, rate);
    expect(
      pitchOf(through('transpose', { interval: 7, formants: 'moved' }, tone)[0], rate, 0.5, 1.3) /
        (500 * 2 ** (7 / 12)),
    ).toBeCloseTo(1, 3);
    expect(pitchOf(through('shifter', { shift: 123 }, tone)[0], rate, 0.5, 1.3)).toBeCloseTo(623, 0);
    const stopping = through('tapeStop', { wait: 0.5, time: 1, again: 0, curve: 0 }, tone)[0];
    expect(pitchOf(stopping, rate, 0.95, 1.05) / 250).toBeCloseTo(1, 1);
  });

  test('steps stand on the beat and dynamics bend at their level', () => {
    const ones = { ...noise(rate, rate), channels: [new Float32Array(rate).fill(1)] };
    const [gated] = through(
      'pattern',
      { steps: 2, step: { note: '1/8' }, level1: 1, level2: 0, smoothing: 0.003 },
      ones,
    );
    expect(gated[Math.round(0.249 * rate)]).toBeCloseTo(1, 4);
    expect(gated[Math.round(0.26 * rate)]).toBeCloseTo(0, 4);
    const [held] = through('compressor', { threshold: -20, ratio: 4, knee: 0, makeUp: 0 }, sine(500, 1, 1, rate));
    const peak = held.subarray(rate / 2).reduce((most, x) => Math.max(most, Math.abs(x)), 0);
    expect(decibels(peak)).toBeCloseTo(-15, 0);
  });
});

describe('what a stage declares to be late is taken off to the frame', () => {
  test.each([
    ['transpose', { interval: 0, formants: 'moved' }],
    ['transpose', { interval: 0, formants: 'moved', mode: 'polyphonic' }],
    ['limiter', { gain: 0, ceiling: 0 }],
    ['drive', { amount: 0, threshold: 0, oversampling: '8×', matched: false }],
    ['drive', { amount: 0, threshold: 0, oversampling: '2×', matched: false }],
  ])('%s %j', (kind, settings) => {
    const source = noise(9600).channels[0].map((x, i, all) => 0.05 * (x + (all[i - 1] ?? 0)));
    const [out] = through(kind, settings, { sampleRate: 48000, origin: 0, channels: [source] });
    const likeness = (lag: number) => {
      let sum = 0;
      for (let i = 4000; i < 8000; i++) sum += source[i] * (out[i + lag] ?? 0);
      return sum;
    };
    const lags = Array.from({ length: 21 }, (_, n) => n - 10);
    expect(lags.reduce((best, lag) => (likeness(lag) > likeness(best) ? lag : best))).toBe(0);
  });
});
