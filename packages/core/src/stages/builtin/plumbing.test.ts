import { expect, test } from 'vitest';
import { chainOf, renderOf } from '../../testing/chains.ts';
import { clipOf, impulse, noise, sine } from '../../testing/signals.ts';
import { decibels, responseAt } from '../../testing/spectrum.ts';

const through = (kind: string, settings: object, source = noise(2000, 48000, 2)) =>
  renderOf(chainOf([{ kind, settings }]), source).channels;
const source = noise(2000, 48000, 2);
const [left, right] = source.channels;

test('pan: the middle leaves all as it is, the ends silence the other side, power is kept between', () => {
  expect(through('pan', { pan: 0 })).toEqual(source.channels);
  expect(through('pan', { pan: -1 })[1].every((x) => x === 0)).toBe(true);
  for (const place of [-1, -0.4, 0.2, 1]) {
    const [l, r] = through('pan', { pan: place }, clipOf([new Float32Array(100).fill(0.5)])).map((side) => side[99]);
    expect(l * l + r * r).toBeCloseTo(0.5, 6);
    if (place > 0) expect(r).toBeGreaterThan(l);
  }
});

test('width: mono at 0, unchanged at 1, sides doubled at 2; mono sounds stay mono', () => {
  const [l, r] = through('width', { width: 0 });
  l.forEach((x, i) => expect(x).toBeCloseTo(0.5 * (left[i] + right[i]), 6));
  expect(r).toEqual(l);
  through('width', { width: 1 })[0].forEach((x, i) => expect(x).toBeCloseTo(left[i], 6));
  const wide = through('width', { width: 2 });
  wide[0].forEach((x, i) => expect(x - wide[1][i]).toBeCloseTo(2 * (left[i] - right[i]), 5));
  const mono = sine(300, 0.5, 0.05);
  expect(through('width', { width: 2 }, mono)).toEqual(mono.channels);
});

test('swap: exchanged, one on both, their middle, upside down', () => {
  expect(through('swap', { sides: 'exchanged' })).toEqual([right, left]);
  expect(through('swap', { sides: 'left on both' })).toEqual([left, left]);
  expect(through('swap', { sides: 'right on both' })).toEqual([right, right]);
  through('swap', { sides: 'middle on both' }).forEach((side) =>
    side.forEach((x, i) => expect(x).toBeCloseTo(0.5 * (left[i] + right[i]), 6)),
  );
  expect(through('swap', { sides: 'as they are', invertRight: true })).toEqual([left, right.map((x) => -x)]);
});

test('DC block: an offset is gone, what is heard is left', () => {
  const offset = clipOf([new Float32Array(48_000).fill(0.5)]);
  expect(Math.abs(through('dcBlock', {}, offset)[0][47_999])).toBeLessThan(1e-6);
  const [response] = through('dcBlock', { cutoff: 8 }, impulse(0, 65536));
  expect(decibels(responseAt(response, 8, 48000))).toBeCloseTo(-3, 0);
  for (const frequency of [60, 1000, 20_000])
    expect(Math.abs(decibels(responseAt(response, frequency, 48000)))).toBeLessThan(0.1);
});
