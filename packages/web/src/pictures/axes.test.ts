import { expect, test } from 'vitest';
import { figure, placeOn, spoken, valueAt } from './axes.ts';

const log = { label: '', unit: 'Hz', min: 20, max: 20000, scale: 'log', ticks: [] } as const;
const linear = { label: '', unit: 'dB', min: -30, max: 18, scale: 'linear', ticks: [] } as const;

test('a place on an axis leads back to its value', () => {
  for (const [axis, values] of [
    [log, [20, 440, 20000]],
    [linear, [-30, 0, 12.5]],
  ] as const)
    for (const value of values) expect(valueAt(axis, placeOn(axis, value))).toBeCloseTo(value, 6);
});

test('in the middle of a logarithmic axis stands the geometric mean; what lies outside stands at the end', () => {
  expect(placeOn(log, Math.sqrt(20 * 20000))).toBeCloseTo(0.5);
  expect(placeOn(linear, -99)).toBe(0);
  expect(valueAt(linear, 2)).toBe(18);
});

test('figures are short', () => {
  expect([figure(5000, 'Hz'), figure(0.25, 's'), figure(1.5, 's'), figure(0, 's'), figure(-12, 'dB')]).toEqual([
    '5k',
    '250 ms',
    '1.5 s',
    '0 s',
    '−12',
  ]);
});

test('what is read out has its unit', () => {
  expect([spoken(1234, 'Hz'), spoken(0.25, 's'), spoken(-12, 'dB'), spoken(3, '')]).toEqual([
    '1.23 kHz',
    '250 ms',
    '−12 dB',
    '3',
  ]);
});
