import { describe, expect, test } from 'vitest';
import type { Clip } from '../../../model/clip.ts';
import { chainOf, renderOf } from '../../../testing/chains.ts';
import { clipOf, impulse, noise, sine } from '../../../testing/signals.ts';
import { decibels, responseAt, spectrumOf } from '../../../testing/spectrum.ts';

const RATE = 48000;
const through = (settings: object, source: Clip) =>
  renderOf(chainOf([{ kind: 'ensemble', settings }]), source).channels;
const STILL = { depth: 0, drift: 0, softened: 20000, distribution: 1, spread: 1, mirrored: false, filter: 'off' };

/** Where clicks every 40 ms come out on a side, in frames behind the click: one list a click. */
function arrivals(settings: object, side: number): number[][] {
  const clicks = new Float32Array(4 * RATE);
  for (let at = 0; at < clicks.length; at += 1920) clicks[at] = 1;
  const out = through(settings, clipOf([clicks]))[side];
  return Array.from({ length: 99 }, (_, n) => {
    const piece = out.subarray(n * 1920, (n + 1) * 1920);
    const found: number[] = [];
    piece.forEach((x, i) => {
      const [before, after] = [piece[i - 1] ?? 0, piece[i + 1] ?? 0];
      // Between two samples: the centre of what was interpolated.
      if (x > 0.05 && x >= before && x > after)
        found.push((i * x + (i - 1) * before + (i + 1) * after) / (x + before + after));
    });
    return found;
  });
}

/** Phase of a movement of a known rate, by its first Fourier coefficient; degrees. */
function phaseOf(trace: readonly number[], rate: number): number {
  const [re, im] = trace.reduce(
    ([c, s], x, n) => {
      const angle = 2 * Math.PI * rate * n * 0.04;
      return [c + x * Math.cos(angle), s + x * Math.sin(angle)];
    },
    [0, 0],
  );
  return (Math.atan2(-im, re) * 180) / Math.PI;
}

describe('voices', () => {
  test('two of them, left and right, move half a turn apart, within a degree', () => {
    const settings = { ...STILL, voices: 2, depth: 0.004, rate: 0.5 };
    // 75 clicks at 0.04 s hold 1.5 turns; 50 of them one.
    const traces = [0, 1].map((side) =>
      arrivals(settings, side)
        .slice(0, 50)
        .map((found) => found[0]),
    );
    const apart = phaseOf(traces[1], 0.5) - phaseOf(traces[0], 0.5);
    expect(Math.abs(((apart + 360) % 360) - 180)).toBeLessThan(1);
  });

  test('four are a quarter of a turn apart', () => {
    const settings = { ...STILL, voices: 4, depth: 0.001, rate: 0.5, spread: 0 };
    const traces = arrivals(settings, 0).slice(0, 50);
    expect(traces.every((found) => found.length === 4)).toBe(true);
    const phases = [0, 1, 2, 3].map((voice) =>
      phaseOf(
        traces.map((found) => found[voice]),
        0.5,
      ),
    );
    for (const voice of [1, 2, 3])
      expect(Math.abs(((phases[voice] - phases[voice - 1] + 720) % 360) - 90)).toBeLessThan(1);
  });

  test('at no distribution they move together; mirrored, the right moves against the left', () => {
    const together = { ...STILL, voices: 2, depth: 0.004, rate: 0.5, distribution: 0 };
    const trace = (settings: object, side: number) =>
      arrivals(settings, side)
        .slice(0, 50)
        .map((found) => found[0]);
    expect(Math.abs(phaseOf(trace(together, 0), 0.5) - phaseOf(trace(together, 1), 0.5))).toBeLessThan(1);
    const mirrored = { ...together, mirrored: true };
    const apart = phaseOf(trace(mirrored, 0), 0.5) - phaseOf(trace(mirrored, 1), 0.5);
    expect(Math.abs(((apart + 360) % 360) - 180)).toBeLessThan(1);
  });

  test.each(['sine', 'triangle', 'smooth random', 'steps'])('%s: stays within its depth', (wave) => {
    const found = arrivals({ ...STILL, voices: 1, wave, depth: 0.005, rate: 3 }, 0).map(([first]) => first / RATE);
    expect(Math.min(...found)).toBeGreaterThan(0.0069);
    expect(Math.max(...found)).toBeLessThan(0.0121);
    expect(Math.max(...found) - Math.min(...found)).toBeGreaterThan(0.002);
  });

  test('drift is each voice’s own and the same every time', () => {
    const settings = { ...STILL, voices: 2, drift: 0.006 };
    const sides = [0, 1].map((side) => arrivals(settings, side).map(([first]) => first));
    const spread = (trace: number[]) => Math.max(...trace) - Math.min(...trace);
    for (const trace of sides) expect(spread(trace) / RATE).toBeGreaterThan(0.001);
    expect(spread(sides[0].map((x, n) => x - sides[1][n]))).toBeGreaterThan(20);
    expect(arrivals(settings, 0).map(([first]) => first)).toEqual(sides[0]);
  });
});

test('silence in, silence out', () => {
  for (const side of through({ saturation: 24, transposition: 'formants kept' }, clipOf([new Float32Array(RATE)])))
    expect(side.every((x) => x === 0)).toBe(true);
});

test('summed to mono it loses less than 3 dB', () => {
  const source = noise(4 * RATE);
  const [left, right] = through({}, source);
  const power = (samples: Float32Array) => samples.reduce((sum, x) => sum + x * x, 0);
  const mono = left.map((x, i) => 0.5 * (x + right[i]));
  expect(10 * Math.log10(power(mono) / (0.5 * (power(left) + power(right))))).toBeGreaterThan(-3);
});

test('filter, transposition, softening, width and gain do what they say', () => {
  const response = (settings: object, hertz: number) =>
    responseAt(through({ ...STILL, voices: 1, ...settings }, impulse(0, 16384))[0], hertz, RATE);
  expect(decibels(response({ filter: 'low', cutoff: 500 }, 4000))).toBeLessThan(-30);
  expect(decibels(response({ filter: 'high', cutoff: 4000 }, 200))).toBeLessThan(-40);
  expect(decibels(response({ softened: 2000 }, 12000))).toBeLessThan(-25);
  expect(decibels(response({ gain: 6 }, 1000))).toBeCloseTo(6, 1);
  const narrow = through({ width: 0 }, noise(RATE, RATE, 2));
  expect(narrow[0]).toEqual(narrow[1]);
  const octave = through(
    { ...STILL, voices: 1, transposition: 'formants moved', interval: 12, transposed: 1 },
    sine(440, 0.5, 3),
  )[0];
  const { bins, hertz } = spectrumOf(octave.subarray(RATE, RATE + 65536), RATE);
  const top = bins.indexOf(Math.max(...bins)) * hertz;
  expect(Math.abs(top - 880)).toBeLessThan(1);
});
