import { expect, test } from 'vitest';
import { integratedLoudness } from '../analysis/loudness.ts';
import { peakOf } from '../analysis/level.ts';
import { decibels } from '../testing/spectrum.ts';
import { TEST_SIGNALS } from './testSignals.ts';

const signal = (id: string) => TEST_SIGNALS.find((candidate) => candidate.id === id)!.create();

test('the sweep passes every octave in the same time, from 20 Hz to 20 kHz', () => {
  const { channels, sampleRate } = signal('sweep');
  const [samples] = channels;
  const frequencyAt = (seconds: number) => {
    const from = Math.round(seconds * sampleRate);
    const crossings = [];
    for (let i = from; crossings.length < 9; i++)
      if (samples[i] < 0 && samples[i + 1] >= 0) crossings.push(i + samples[i] / (samples[i] - samples[i + 1]));
    return {
      at: (crossings[0] + crossings[8]) / 2 / sampleRate,
      hertz: (8 * sampleRate) / (crossings[8] - crossings[0]),
    };
  };
  for (const seconds of [1, 2, 3.5, 5]) {
    const { at, hertz } = frequencyAt(seconds);
    expect(hertz / (20 * 1000 ** (at / 6))).toBeCloseTo(1, 1);
  }
  expect(decibels(peakOf(signal('sweep')))).toBeCloseTo(-12, 0);
});

test('noise on two unlike sides, one impulse, silence', () => {
  const { channels } = signal('noise');
  const product = channels[0].reduce((sum, x, i) => sum + x * channels[1][i], 0);
  const energy = channels[0].reduce((sum, x) => sum + x * x, 0);
  expect(Math.abs(product / energy)).toBeLessThan(0.01);
  expect([...signal('impulse').channels[0]].flatMap((x, i) => (x === 0 ? [] : [[i, x]]))).toEqual([[4800, 1]]);
  expect(integratedLoudness(signal('silence'))).toBe(-Infinity);
});
