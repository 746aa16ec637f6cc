import { describe, expect, test } from 'vitest';
import { noise } from '../testing/signals.ts';
import { decibels, responseAt, transform } from '../testing/spectrum.ts';
import { Convolver, partImpulse } from './convolver.ts';
import { Oversampler } from './oversampler.ts';
import { RealFft } from './realFft.ts';

test.each([4, 8, 64, 256, 4096])(
  'the real transform of %d samples is that of the plain one, and leads back',
  (size) => {
    const samples = Float64Array.from(noise(size).channels[0]);
    const fft = new RealFft(size);
    const re = new Float64Array(size / 2 + 1);
    const im = new Float64Array(size / 2 + 1);
    fft.forward(samples, re, im);
    const plainRe = samples.slice();
    const plainIm = new Float64Array(size);
    transform(plainRe, plainIm);
    for (let k = 0; k <= size / 2; k++) {
      expect(Math.abs(re[k] - plainRe[k])).toBeLessThan(1e-10);
      expect(Math.abs(im[k] - plainIm[k])).toBeLessThan(1e-10);
    }
    const back = new Float64Array(size);
    fft.inverse(re, im, back);
    back.forEach((sample, i) => expect(Math.abs(sample - samples[i])).toBeLessThan(1e-12));
  },
);

describe('convolver', () => {
  const direct = (input: Float32Array, impulse: Float32Array) => {
    const out = new Float64Array(input.length);
    for (let i = 0; i < input.length; i++)
      for (let k = 0; k <= Math.min(i, impulse.length - 1); k++) out[i] += impulse[k] * input[i - k];
    return out;
  };
  const run = (convolver: Convolver, input: Float32Array, block: number) => {
    const out = new Float64Array(input.length);
    for (let at = 0; at < input.length; at += block) {
      const count = Math.min(block, input.length - at);
      convolver.process(input.subarray(at, at + count), out.subarray(at, at + count), count);
    }
    return out;
  };

  test.each([1, 100, 128, 129, 2047, 2049, 9000, 21_000])(
    'an impulse response of %d frames: as if convolved directly, to −120 dB, without latency',
    (length) => {
      const impulse = noise(length, 48000, 1, 3).channels[0];
      const input = noise(24_000, 48000, 1, 4).channels[0];
      const want = direct(input, impulse);
      const got = run(new Convolver(partImpulse(impulse)), input, 128);
      const level = Math.sqrt(want.reduce((sum, x) => sum + x * x, 0) / want.length);
      const worst = want.reduce((most, x, i) => Math.max(most, Math.abs(x - got[i])), 0);
      expect(decibels(worst / level)).toBeLessThan(-120);
    },
  );

  test('the same bytes whatever the blocks, and again after a reset', () => {
    const convolver = new Convolver(partImpulse(noise(9000, 48000, 1, 3).channels[0]));
    const input = noise(12_000, 48000, 1, 4).channels[0];
    const first = run(convolver, input, 128);
    for (const block of [1, 7, 64]) {
      convolver.reset();
      expect(run(convolver, input, block)).toEqual(first);
    }
  });
});

describe.each([2, 4, 8])('oversampling %d times', (factor) => {
  const pass = (input: Float32Array, work: (buffer: Float64Array, frames: number) => void) => {
    const oversampler = new Oversampler(factor, 128);
    const out = new Float32Array(input.length);
    for (let at = 0; at + 128 <= input.length; at += 128) {
      oversampler.up(input.subarray(at, at + 128), 128);
      work(oversampler.buffer, 128 * factor);
      oversampler.down(out.subarray(at, at + 128), 128);
    }
    return { out, latency: oversampler.latency };
  };

  test('there and back a sound is late by a whole number of frames and flat to 0.4 of the sample rate', () => {
    const impulse = new Float32Array(1024);
    impulse[0] = 1;
    const { out, latency } = pass(impulse, () => undefined);
    expect(Number.isInteger(latency)).toBe(true);
    let peak = 0;
    for (let i = 0; i < out.length; i++) if (Math.abs(out[i]) > Math.abs(out[peak])) peak = i;
    expect(peak).toBe(latency);
    for (const frequency of [20, 1000, 8000, 16_000, 19_500])
      expect(Math.abs(decibels(responseAt(out, frequency, 48000)))).toBeLessThan(0.05);
    // Linear phase: the same on both sides of its peak.
    for (let k = 1; k < latency; k++) expect(out[latency + k]).toBeCloseTo(out[latency - k], 6);
  });

  test('images lie below −96 dB', () => {
    const input = Float32Array.from({ length: 8192 }, (_, i) => Math.sin((2 * Math.PI * 15_000 * i) / 48000));
    const high: number[] = [];
    pass(input, (buffer, frames) => high.push(...buffer.subarray(0, frames)));
    // A stretch of whole periods, windowed so that the sine itself does not leak.
    const size = 4096 * factor;
    const window = Float32Array.from(
      { length: size },
      (_, i) => high[size + i] * (0.5 - 0.5 * Math.cos((2 * Math.PI * i) / size)) ** 2,
    );
    const wanted = responseAt(window, 15_000, 48000 * factor);
    expect(decibels(responseAt(window, 33_000, 48000 * factor) / wanted)).toBeLessThan(-96);
    if (factor > 2) expect(decibels(responseAt(window, 63_000, 48000 * factor) / wanted)).toBeLessThan(-96);
  });

  test('what is made above half the sample rate does not fold back', () => {
    const input = new Float32Array(8192);
    let at = 0;
    const { out } = pass(input, (buffer, frames) => {
      for (let i = 0; i < frames; i++) buffer[i] = Math.sin((2 * Math.PI * 25_000 * at++) / (48000 * factor));
    });
    expect(decibels(Math.max(...out.subarray(1024).map(Math.abs)))).toBeLessThan(-80);
  });
});
