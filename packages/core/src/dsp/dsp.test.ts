import { describe, expect, test } from 'vitest';
import { AllpassPair } from './allpassPair.ts';
import { kWeighting } from '../analysis/kWeighting.ts';
import { Biquad } from './biquad.ts';
import { DelayLine } from './delayLine.ts';
import { FADE_CURVES, fadeGain } from './fadeCurve.ts';
import { quinticWeights } from './lagrange.ts';
import { primeNear } from './primes.ts';
import { createRandom, deriveSeed } from './random.ts';
import { SlowOscillator } from './slowOscillator.ts';
import { saturate } from './saturate.ts';
import { StateVariableFilter } from './stateVariableFilter.ts';
import { decibels, responseAt } from '../testing/spectrum.ts';

const ramp = (count: number, from = 0) => Float64Array.from({ length: count }, (_, i) => from + i);

describe('delay line', () => {
  test('whole delays come back unchanged, across the end of the ring', () => {
    const line = new DelayLine(50, 16);
    const out = new Float64Array(16);
    for (let block = 0; block < 40; block++) {
      line.write(ramp(16, block * 16), 16);
      if (block < 4) continue;
      line.read(out, 16, 37, 37);
      expect([...out]).toEqual([...ramp(16, block * 16 - 37)]);
    }
  });

  test('fractional delays of a straight line are exact, and of a low tone nearly so', () => {
    const line = new DelayLine(50, 64);
    const out = new Float64Array(64);
    line.write(ramp(64), 64);
    line.write(ramp(64, 64), 64);
    line.read(out, 64, 20.3, 20.3);
    out.forEach((value, i) => expect(value).toBeCloseTo(64 + i - 20.3, 3));
    const tone = (n: number) => Math.sin(0.1 * n);
    line.write(ramp(64).map(tone), 64);
    line.write(ramp(64, 64).map(tone), 64);
    line.read(out, 64, 9.5, 9.5);
    out.forEach((value, i) => expect(value).toBeCloseTo(tone(64 + i - 9.5), 4));
  });

  test('a moving delay shifts the pitch by one minus its speed', () => {
    const line = new DelayLine(200, 100);
    const out = new Float64Array(100);
    line.write(ramp(100), 100);
    line.write(ramp(100, 100), 100);
    line.read(out, 100, 50, 40);
    expect(out[99] - out[0]).toBeCloseTo(99 * 1.1, 2);
  });

  test('write and read in one go is the same as one after the other', () => {
    const [a, b] = [new DelayLine(90, 32), new DelayLine(90, 32)];
    const out = new Float64Array(32);
    for (let block = 0; block < 20; block++) {
      const input = ramp(32, block * 32);
      a.write(input, 32);
      a.read(out, 32, 77, 77);
      b.pass(input, 32, 77);
      expect([...input]).toEqual([...out]);
    }
  });
});

test('interpolation weights add up to 1 and never amplify', () => {
  const weights = new Float64Array(7);
  for (let place = 0; place < 2; place += 0.05) {
    quinticWeights(place, weights, 0);
    expect(weights.reduce((sum, weight) => sum + weight, 0)).toBeCloseTo(1, 12);
    for (let w = 0; w < Math.PI; w += 0.1) {
      expect(responseAt(Float32Array.from(weights), w, 2 * Math.PI)).toBeLessThan(1 + 1e-6);
    }
  }
});

test('all-pass sections leave every frequency as loud as it was', () => {
  const pair = new AllpassPair(7, 11);
  const left = new Float64Array(4096);
  const right = new Float64Array(4096);
  left[0] = right[0] = 1;
  for (let at = 0; at < 4096; at += 128)
    pair.process(left.subarray(at, at + 128), right.subarray(at, at + 128), 128, { start: 0.6, end: 0.6 });
  for (const frequency of [100, 3000, 11000, 20000]) {
    for (const side of [left, right])
      expect(decibels(responseAt(Float32Array.from(side), frequency, 48000))).toBeCloseTo(0, 3);
  }
  expect(left[7]).not.toBe(0);
  expect(right[11]).not.toBe(0);
});

test('K-weighting: the coefficients printed in BS.1770 at 48 kHz, and their filter', () => {
  const [shelf, cut] = kWeighting(48000);
  expect(shelf.b0).toBeCloseTo(1.53512485958697, 6);
  expect(shelf.a1).toBeCloseTo(-1.69065929318241, 6);
  expect(cut.a1).toBeCloseTo(-1.99004745483398, 6);
  expect(cut.a2).toBeCloseTo(0.99007225036621, 6);
  const samples = new Float32Array(16384);
  samples[0] = 1;
  for (const section of [shelf, cut]) new Biquad(section).process(samples, samples.length);
  expect(decibels(responseAt(samples, 997, 48000))).toBeCloseTo(0.69, 1);
  expect(decibels(responseAt(samples, 10000, 48000))).toBeCloseTo(4, 1);
});

test('the state-variable filter stays bounded while its frequency jumps every sample', () => {
  const filter = new StateVariableFilter(48000);
  filter.q = 20;
  const random = createRandom(3);
  const one = new Float32Array(1);
  for (let i = 0; i < 20_000; i++) {
    one[0] = random() * 2 - 1;
    const frequency = { start: 20 + 20_000 * random(), end: 20 + 20_000 * random() };
    filter.process(one, 1, 'low', frequency);
    expect(Math.abs(one[0])).toBeLessThan(100);
  }
});

test('the slow oscillator keeps its rate and its height for an hour', () => {
  const oscillator = new SlowOscillator(0.5, 0, 48000);
  const blocks = (3600 * 48000) / 128;
  let highest = 0;
  for (let n = 0; n < blocks; n++) {
    oscillator.advance(128);
    if (n > blocks - 1000) highest = Math.max(highest, Math.abs(oscillator.value));
  }
  expect(highest).toBeCloseTo(1, 4);
  expect(oscillator.value).toBeCloseTo(Math.sin(2 * Math.PI * 0.5 * 3600), 4);
});

describe('chance', () => {
  test('even, seeded, and unlike for unlike names', () => {
    const random = createRandom(9);
    const values = Array.from({ length: 20_000 }, () => random());
    expect(values.reduce((sum, value) => sum + value, 0) / values.length).toBeCloseTo(0.5, 1);
    expect(Math.min(...values)).toBeGreaterThanOrEqual(0);
    expect(Math.max(...values)).toBeLessThan(1);
    const again = createRandom(9);
    expect(values.slice(0, 5)).toEqual(Array.from({ length: 5 }, () => again()));
    expect(deriveSeed(1, 'hall')).not.toBe(deriveSeed(1, 'hall2'));
    expect(deriveSeed(1, 'hall')).not.toBe(deriveSeed(2, 'hall'));
  });
});

test('fades: linear and s-shaped ones add up to 1, equal-power ones in power', () => {
  for (const curve of FADE_CURVES) {
    expect([fadeGain(curve, -1), fadeGain(curve, 0), fadeGain(curve, 1), fadeGain(curve, 2)]).toEqual([0, 0, 1, 1]);
    for (let x = 0.1; x < 1; x += 0.2) {
      const [rise, fall] = [fadeGain(curve, x), fadeGain(curve, 1 - x)];
      expect(curve === 'equal-power' ? rise ** 2 + fall ** 2 : rise + fall).toBeCloseTo(1, 9);
    }
  }
});

test('primes', () => expect([1, 2, 8, 24, 1022].map(primeNear)).toEqual([2, 2, 11, 29, 1031]));

test('saturation is the hyperbolic tangent at unit gain', () => {
  for (const drive of [1.5, 4, 63]) {
    const inputs = [-3, -0.9, -0.2, -1e-3, 0, 1e-6, 0.0123, 0.05, 0.4, 1, 30];
    const samples = Float64Array.from(inputs);
    saturate(samples, samples.length, drive);
    inputs.forEach((x, i) => expect(samples[i]).toBeCloseTo(Math.tanh(drive * x) / drive, 9));
  }
});
