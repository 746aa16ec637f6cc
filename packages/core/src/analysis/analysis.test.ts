import { describe, expect, test } from 'vitest';
import { clipOf, noise, sine } from '../testing/signals.ts';
import { decibels } from '../testing/spectrum.ts';
import type { Clip } from '../model/clip.ts';
import { integratedLoudness } from './loudness.ts';
import { overviewOf } from './overview.ts';
import { truePeakOf } from './truePeak.ts';

const level = (dBFS: number) => 10 ** (dBFS / 20);
const joined = (...parts: Clip[]): Clip => {
  const join = (c: number) =>
    new Float32Array(Buffer.concat(parts.map(({ channels }) => new Uint8Array(channels[c].buffer))).buffer);
  return { ...parts[0], channels: parts[0].channels.map((_, c) => join(c)) };
};

describe('integrated loudness, ITU-R BS.1770 and EBU Tech 3341', () => {
  test.each([44100, 48000, 96000])('a 997 Hz stereo sine at −23 dBFS is −23.0 LUFS at %d Hz', (rate) => {
    expect(Math.abs(integratedLoudness(sine(997, level(-23), 20, rate, 2)) + 23)).toBeLessThan(0.1);
  });

  test('Tech 3341 case 3: the relative gate leaves out what is far quieter', () => {
    const tone = (dBFS: number, seconds: number) => sine(1000, level(dBFS), seconds, 48000, 2);
    expect(Math.abs(integratedLoudness(joined(tone(-36, 10), tone(-23, 60), tone(-36, 10))) + 23)).toBeLessThan(0.1);
  });

  test('Tech 3341 case 5: two levels', () => {
    const tone = (dBFS: number, seconds: number) => sine(1000, level(dBFS), seconds, 48000, 2);
    expect(Math.abs(integratedLoudness(joined(tone(-26, 20), tone(-20, 20.1), tone(-26, 20))) + 23)).toBeLessThan(0.1);
  });

  test('one channel is 3 dB less than two; silence is −∞; a click has a loudness', () => {
    expect(integratedLoudness(sine(997, 0.1, 5, 48000, 2)) - integratedLoudness(sine(997, 0.1, 5))).toBeCloseTo(
      3.01,
      1,
    );
    expect(integratedLoudness(clipOf([new Float32Array(48000)]))).toBe(-Infinity);
    expect(integratedLoudness(sine(997, 0.5, 0.05))).toBeGreaterThan(-20);
  });
});

describe('true peak', () => {
  test.each([
    [12000, Math.PI / 4],
    [12000 * 0.77, 0.3],
    [997, 0],
    [17000, 1],
  ])('a sine of %d Hz at phase %d is found within 0.2 dB', (frequency, phase) => {
    const clip = clipOf([
      Float32Array.from({ length: 9600 }, (_, i) => 0.5 * Math.sin((2 * Math.PI * frequency * i) / 48000 + phase)),
    ]);
    // Edges are no part of the tone: the window there meets silence.
    expect(Math.abs(decibels(truePeakOf(clip) / 0.5))).toBeLessThan(frequency > 16000 ? 0.5 : 0.2);
  });

  test('never less than a sample, also at the very ends', () => {
    expect(truePeakOf(clipOf([[0.9, 0, 0]]))).toBeGreaterThanOrEqual(Math.fround(0.9));
    expect(
      truePeakOf(
        clipOf([
          [0, 0],
          [0, -0.7],
        ]),
      ),
    ).toBeGreaterThanOrEqual(Math.fround(0.7));
    expect(truePeakOf(clipOf([[0]]))).toBe(0);
  });
});

describe('overview', () => {
  test('columns hold the extremes of their frames, silence lies outside the clip', () => {
    const clip = { ...noise(1000), origin: -200 };
    const { min, max, rms } = overviewOf(clip, -400, 1200, 16);
    expect([max[0], max[1]]).toEqual([0, 0]);
    expect([max[12], max[13]]).toEqual([0, 0]);
    const column = clip.channels[0].subarray(100, 200);
    expect(max[3]).toBe(Math.max(...column));
    expect(min[3]).toBe(Math.min(...column));
    expect(rms[3]).toBeCloseTo(Math.sqrt(column.reduce((sum, x) => sum + x * x, 0) / 100), 5);
  });

  test('columns narrower than a sample show the sample they lie in', () => {
    expect([...overviewOf(clipOf([[0.25, 0.75]]), 0, 2, 4).max]).toEqual([0.25, 0.25, 0.75, 0.75]);
  });
});
