import { describe, expect, test } from 'vitest';
import { clipOf, noise } from '../testing/signals.ts';
import { estimateTempo } from './tempo.ts';

const RATE = 48000;

/** Clicks of some strength at some beats, over some seconds. */
function pattern(
  tempo: number,
  hits: readonly (readonly [beat: number, strength: number])[],
  bar: number,
  seconds: number,
) {
  const samples = new Float32Array(seconds * RATE);
  const beat = (60 / tempo) * RATE;
  const burst = noise(2400, RATE).channels[0];
  for (let start = 0; start < samples.length; start += bar * beat)
    for (const [at, strength] of hits)
      burst.forEach((x, i) => {
        const place = Math.round(start + at * beat) + i;
        if (place < samples.length) samples[place] += strength * x * Math.exp(-i / 400);
      });
  return clipOf([samples], RATE);
}

describe('the tempo of a sound', () => {
  const rock = [
    [0, 1],
    [0.5, 0.3],
    [1, 0.7],
    [1.5, 0.3],
    [2, 1],
    [2.5, 0.3],
    [3, 0.7],
    [3.5, 0.3],
  ] as const;
  test.each([84, 93, 104.5, 120, 137])('%d bpm, within a hundredth', (tempo) => {
    const [best] = estimateTempo(pattern(tempo, rock, 4, 8)).candidates;
    expect(Math.abs(best.tempo / tempo - 1)).toBeLessThan(0.01);
  });

  test.each([72, 168])('%d bpm with eighths all through may be taken an octave off, and both are told', (tempo) => {
    const found = estimateTempo(pattern(tempo, rock, 4, 8)).candidates;
    expect([0.5, 1, 2].some((octave) => Math.abs(found[0].tempo / (octave * tempo) - 1) < 0.01)).toBe(true);
    expect(found.some((one) => Math.abs(one.tempo / tempo - 1) < 0.01)).toBe(true);
  });

  test('four beats without anything between: its half and double are told with how likely they are', () => {
    const { candidates } = estimateTempo(pattern(90, [[0, 1]], 1, 8));
    const told = candidates.map(({ tempo }) => Math.round(tempo));
    expect(told[0]).toBe(90);
    expect(told.some((tempo) => Math.abs(tempo - 180) <= 1 || Math.abs(tempo - 45) <= 1)).toBe(true);
    for (const { strength } of candidates) expect(strength).toBeLessThanOrEqual(1);
  });

  test('a waltz, and a pattern with a dotted figure', () => {
    expect(
      estimateTempo(
        pattern(
          126,
          [
            [0, 1],
            [1, 0.5],
            [2, 0.5],
          ],
          3,
          8,
        ),
      ).candidates[0].tempo / 126,
    ).toBeCloseTo(1, 1);
    const dotted = [
      [0, 1],
      [0.75, 0.6],
      [1.5, 0.6],
      [2, 1],
      [3, 0.8],
    ] as const;
    const found = estimateTempo(pattern(110, dotted, 4, 10)).candidates.map(({ tempo }) => tempo);
    expect(found.some((tempo) => Math.abs(tempo / 110 - 1) < 0.01)).toBe(true);
  });

  test('silence has none, noise keeps hardly any time', () => {
    expect(estimateTempo(clipOf([new Float32Array(4 * RATE)])).candidates).toEqual([]);
    expect(estimateTempo(noise(6 * RATE)).clarity).toBeLessThan(0.2);
  });
});
