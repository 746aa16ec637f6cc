import { describe, expect, test } from 'vitest';
import { chainOf, renderOf } from '../../testing/chains.ts';
import { impulse } from '../../testing/signals.ts';
import { decibels, responseAt } from '../../testing/spectrum.ts';

const RATE = 48000;

/** The cookbook's sections as printed there, in the test's own hand: magnitude in dB. */
function book(type: string, f0: number, gain: number, Q: number, frequency: number, rate = RATE): number {
  const w0 = (2 * Math.PI * f0) / rate;
  const [c, alpha, A] = [Math.cos(w0), Math.sin(w0) / (2 * Q), 10 ** (gain / 40)];
  const r = 2 * Math.sqrt(A) * alpha;
  const sections: Record<string, number[]> = {
    bell: [1 + alpha * A, -2 * c, 1 - alpha * A, 1 + alpha / A, -2 * c, 1 - alpha / A],
    notch: [1, -2 * c, 1, 1 + alpha, -2 * c, 1 - alpha],
    'low cut': [(1 + c) / 2, -(1 + c), (1 + c) / 2, 1 + alpha, -2 * c, 1 - alpha],
    'high cut': [(1 - c) / 2, 1 - c, (1 - c) / 2, 1 + alpha, -2 * c, 1 - alpha],
    'low shelf': [
      A * (A + 1 - (A - 1) * c + r),
      2 * A * (A - 1 - (A + 1) * c),
      A * (A + 1 - (A - 1) * c - r),
      A + 1 + (A - 1) * c + r,
      -2 * (A - 1 + (A + 1) * c),
      A + 1 + (A - 1) * c - r,
    ],
    'high shelf': [
      A * (A + 1 + (A - 1) * c + r),
      -2 * A * (A - 1 + (A + 1) * c),
      A * (A + 1 + (A - 1) * c - r),
      A + 1 - (A - 1) * c + r,
      2 * (A - 1 - (A + 1) * c),
      A + 1 - (A - 1) * c - r,
    ],
  };
  const [b0, b1, b2, a0, a1, a2] = sections[type];
  const size = (k0: number, k1: number, k2: number) => {
    const w = (2 * Math.PI * frequency) / rate;
    return Math.hypot(k0 + k1 * Math.cos(w) + k2 * Math.cos(2 * w), k1 * Math.sin(w) + k2 * Math.sin(2 * w));
  };
  return decibels(size(b0, b1, b2) / size(a0, a1, a2));
}

const OFF = Object.fromEntries(Array.from({ length: 8 }, (_, n) => [`type${n + 1}`, 'off']));

describe('equaliser', () => {
  test.each([
    ['bell', 1000, 9, 2],
    ['bell', 12000, -15, 0.5],
    ['low shelf', 200, 6, 0.707],
    ['high shelf', 6000, -12, 0.707],
    ['low cut', 80, 0, 0.707],
    ['high cut', 9000, 0, 3],
    ['notch', 500, 0, 4],
  ])('a %s at %d Hz follows the cookbook within 0.01 dB', (type, frequency, gain, q) => {
    const settings = { ...OFF, type1: type, frequency1: frequency, gain1: gain, q1: q };
    const [out] = renderOf(chainOf([{ kind: 'equaliser', settings }]), impulse(0, 32768)).channels;
    for (const at of [50, 100, 200, 490, 1000, 3000, 9000, 15000, 20000]) {
      const want = book(type, frequency, gain, q, at);
      if (want < -60) continue;
      expect(Math.abs(decibels(responseAt(out, at, RATE)) - want), `${at} Hz`).toBeLessThan(0.01);
    }
  });

  test('its eight bands add up, and at its factory settings it leaves all above 60 Hz within half a decibel', () => {
    const bands = Array.from({ length: 8 }, (_, n) => ['bell', 100 * 2 ** n, n % 2 ? -6 : 6, 1.5] as const);
    const settings = Object.fromEntries(
      bands.flatMap(([type, frequency, gain, q], n) => [
        [`type${n + 1}`, type],
        [`frequency${n + 1}`, frequency],
        [`gain${n + 1}`, gain],
        [`q${n + 1}`, q],
      ]),
    );
    const [out] = renderOf(chainOf([{ kind: 'equaliser', settings }]), impulse(0, 32768)).channels;
    const [plain] = renderOf(chainOf([{ kind: 'equaliser' }]), impulse(0, 32768)).channels;
    for (const at of [70, 150, 400, 1100, 5000, 14000]) {
      const want = bands.reduce((sum, [type, f, gain, q]) => sum + book(type, f, gain, q, at), 0);
      expect(decibels(responseAt(out, at, RATE))).toBeCloseTo(want, 1);
      expect(Math.abs(decibels(responseAt(plain, at, RATE)))).toBeLessThan(0.5);
    }
  });
});
