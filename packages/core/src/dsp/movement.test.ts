import { describe, expect, test } from 'vitest';
import { decibels, responseAt, spectrumOf } from '../testing/spectrum.ts';
import { BypassableFilter } from './bypassableFilter.ts';
import { GlidingDelay } from './glidingDelay.ts';
import { Lfo } from './lfo.ts';
import { Oscillator, type OscillatorShape } from './oscillator.ts';
import { constant } from '../model/ramp.ts';
import { createRandom } from './random.ts';

const RATE = 48000;

describe('oscillator', () => {
  const wave = (shape: OscillatorShape, frequency: number, frames: number) => {
    const oscillator = new Oscillator(RATE);
    const out = new Float64Array(frames);
    for (let at = 0; at < frames; at += 128)
      oscillator.fill(out.subarray(at, at + 128), Math.min(128, frames - at), shape, constant(frequency));
    return out;
  };

  test('the sine is pure and true', () => {
    wave('sine', 441, 9600).forEach((x, i) => expect(x).toBeCloseTo(Math.sin((2 * Math.PI * 441 * i) / RATE), 5));
  });

  // Partials of the ideal waves: saw 2/(πk), square 4/(πk) for odd k, triangle 8/(π²k²) for odd k.
  test.each<[OscillatorShape, (k: number) => number]>([
    ['saw', (k) => 2 / (Math.PI * k)],
    ['square', (k) => (k % 2 ? 4 / (Math.PI * k) : 0)],
    ['triangle', (k) => (k % 2 ? 8 / (Math.PI * k) ** 2 : 0)],
  ])('the partials of a %s are those of the ideal wave', (shape, ideal) => {
    const { bins, hertz } = spectrumOf(wave(shape, 375, 65536), RATE);
    for (const k of [1, 2, 3, 5, 6, 9]) {
      const got = bins[Math.round((375 * k) / hertz)];
      if (ideal(k) === 0) expect(got).toBeLessThan(1e-4);
      else expect(Math.abs(decibels(got / ideal(k))), `partial ${k}`).toBeLessThan(0.3);
    }
  });

  test('it begins again after a reset, and glides without a jump', () => {
    const oscillator = new Oscillator(RATE, 0.25);
    const first = new Float64Array(64);
    oscillator.fill(first, 64, 'sine', constant(700));
    oscillator.reset();
    const again = new Float64Array(64);
    oscillator.fill(again, 64, 'sine', constant(700));
    expect(again).toEqual(first);
    const glide = new Float64Array(1280);
    for (let at = 0; at < 1280; at += 128)
      oscillator.fill(glide.subarray(at, at + 128), 128, 'sine', { start: 100 + at, end: 100 + at + 128 });
    const steps = glide.slice(1).map((x, i) => Math.abs(x - glide[i]));
    expect(Math.max(...steps)).toBeLessThan((2 * Math.PI * 1500) / RATE);
  });
});

test('an LFO is at its top at the beginning of every turn, exactly, for minutes', () => {
  const lfo = new Lfo(RATE, createRandom(1));
  const block = new Float64Array(128);
  const rate = constant(RATE / 128 / 250); // a turn every 250 blocks
  for (let n = 0; n <= 250 * 400; n++) {
    lfo.read(block, 128, 'triangle', rate, constant(0));
    if (n % 250 === 0) expect(block[0]).toBeCloseTo(1, 6);
    lfo.advance(128, rate);
  }
});

test('a gliding delay comes up to speed softly, keeps below its fastest, arrives and stays', () => {
  const delay = new GlidingDelay(RATE, 128);
  delay.advance(100, 128);
  expect([delay.start, delay.end]).toEqual([100, 100]);
  let speed = 0;
  let arrived = -1;
  for (let n = 0; n < 1000; n++) {
    delay.advance(2000, 128);
    const next = (delay.end - delay.start) / 128;
    expect(Math.abs(next - speed)).toBeLessThan(0.02);
    expect(next).toBeLessThanOrEqual(0.2);
    speed = next;
    if (arrived < 0 && delay.end === 2000) arrived = n;
  }
  expect(delay.end).toBe(2000);
  expect(arrived).toBeGreaterThan(0);
  delay.reset();
  delay.advance(7, 128);
  expect(delay.start).toBe(7);
});

test('a fading cut does nothing at its end and cuts 12 dB an octave away from it', () => {
  const response = (frequency: number) => {
    const cut = new BypassableFilter('low', 20_000, RATE);
    const samples = new Float64Array(4096);
    samples[0] = 1;
    for (let at = 0; at < samples.length; at += 128)
      cut.process(samples.subarray(at, at + 128), 128, constant(frequency));
    return (hertz: number) => decibels(responseAt(Float32Array.from(samples), hertz, RATE));
  };
  expect(response(20_000)(19_000)).toBe(0);
  const dull = response(1000);
  expect(dull(100)).toBeCloseTo(0, 1);
  expect(dull(1000)).toBeCloseTo(-3, 1);
  expect(dull(4000)).toBeLessThan(-23);
});
