import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { decibels, spectrumOf } from '../testing/spectrum.ts';
import { noise, sine } from '../testing/signals.ts';
import { Octaves } from './octaves.ts';
import { BetweenReader, readBetween, resample } from './resample.ts';
import { ResampleStream } from './resampleStream.ts';

/** Amplitude of a tone of a known frequency, under a Hann window. */
function at(samples: Float32Array, rate: number, hertz: number): number {
  const n = 32768;
  let [re, im] = [0, 0];
  for (let i = 0; i < n; i++) {
    const x = samples[8192 + i] * (1 - Math.cos((2 * Math.PI * i) / n));
    re += x * Math.cos((2 * Math.PI * hertz * i) / rate);
    im += x * Math.sin((2 * Math.PI * hertz * i) / rate);
  }
  return (2 * Math.hypot(re, im)) / n;
}

describe.each([
  [44100, 48000],
  [48000, 44100],
  [48000, 96000],
  [96000, 48000],
])('from %d to %d Hz', (from, to) => {
  const lower = Math.min(from, to);

  test('flat within 0.1 dB to 0.45 of the lower rate', () => {
    for (const share of [0.01, 0.1, 0.3, 0.4, 0.45]) {
      const tone = sine(share * lower, 0.5, 1.5, from).channels[0];
      expect(Math.abs(decibels(at(resample(tone, to / from), to, share * lower) / 0.5)), `${share}`).toBeLessThan(0.1);
    }
  });

  test('images and aliases below −96 dB', () => {
    const hertz = from > to ? Math.min(0.62 * lower, 0.49 * from) : 0.4 * lower;
    const out = resample(sine(hertz, 1, 1.5, from).channels[0], to / from);
    const { bins, hertz: width } = spectrumOf(out.subarray(8192, 8192 + 32768), to);
    const others = bins.reduce((most, x, k) => (Math.abs(k * width - hertz) < 40 ? most : Math.max(most, x)), 0);
    expect(decibels(others)).toBeLessThan(-96);
  });

  test('keeps its length', () => {
    expect(resample(new Float32Array(from), to / from).length).toBe(to);
  });
});

describe('reading between samples', () => {
  const sound = noise(4000, 48000, 1, 8).channels[0];

  test('places between two rows of weights are off by less than −130 dB', () => {
    for (const density of [1, 0.8, 0.31]) {
      // A step that falls on a row of its own everywhere, and one that is not known.
      const [exact, any] = [new BetweenReader(density, 1 / 1999), new BetweenReader(density, 0)];
      let [off, power] = [0, 0];
      for (let n = 1; n < 1999; n += 7) {
        const place = 1000 + n + n / 1999;
        off += (exact.read(sound, place) - any.read(sound, place)) ** 2;
        power += exact.read(sound, place) ** 2;
      }
      expect(10 * Math.log10(off / power), `${density}`).toBeLessThan(-130);
    }
  });

  test('a standing density gives what a moving one gives, at both ends of the sound too', () => {
    for (const density of [0.31, 0.8, 1, 2.5]) {
      const reader = new BetweenReader(density, 1 / density);
      for (let place = -60; place < 4060; place += 13.7) {
        expect(reader.read(sound, place)).toBeCloseTo(readBetween(sound, place, density), 6);
      }
    }
  });
});

test('octaves let through what lies below 0.45 of the lower rate and nothing that would fold, at any density', () => {
  const frames = 12000;
  fc.assert(
    fc.property(
      fc.double({ min: 0.001, max: 0.999, noNaN: true }),
      fc.double({ min: 0, max: 5, noNaN: true }),
      fc.double({ min: 0, max: 500, noNaN: true }),
      (share, halvings, from) => {
        const density = 2 ** -halvings;
        // In cycles a frame: below the band's edge, or from half the lower rate up to half the rate of the sound.
        const passes = share < 0.5 || density > 0.9;
        const frequency = passes ? share * 0.45 * density : 0.5 * (density + (1 - density) * (2 * share - 1));
        const tone = Float32Array.from({ length: frames }, (_, i) => Math.cos(2 * Math.PI * frequency * i));
        const octaves = new Octaves(tone);
        for (let n = 0; n < 20; n++) {
          const place = 0.45 * frames + from + n / density;
          // 0.1 dB at the edge.
          const wanted = passes ? Math.cos(2 * Math.PI * frequency * place) : 0;
          expect(Math.abs(octaves.read(place, density) - wanted)).toBeLessThan(passes ? 0.012 : 2e-5);
        }
      },
    ),
    { numRuns: 150, endOnFailure: true },
  );
});

test('piece by piece it is the same as at once, whatever the rates, the length and the pieces', () => {
  const rate = fc.constantFrom(8000, 11025, 22050, 32000, 44100, 48000, 88200, 96000, 176400, 192000);
  fc.assert(
    fc.property(
      rate,
      rate,
      fc.integer({ min: 1, max: 9000 }),
      fc.array(fc.integer({ min: 0, max: 2500 }), { minLength: 1, maxLength: 12 }),
      (from, to, frames, pieces) => {
        fc.pre(from !== to);
        const samples = noise(frames).channels[0];
        const stream = new ResampleStream(to / from);
        const parts: Float32Array[] = [];
        for (let at = 0, n = 0; at < samples.length; n++) {
          const length = Math.max(n % pieces.length === 0 ? 1 : 0, pieces[n % pieces.length]);
          parts.push(stream.push(samples.subarray(at, at + length)));
          at += length;
        }
        parts.push(stream.finish());
        expect(parts.flatMap((part) => [...part])).toEqual([...resample(samples, to / from)]);
      },
    ),
    { numRuns: 25, endOnFailure: true },
  );
});

test('of a long sound little is held', () => {
  const stream = new ResampleStream(8000 / 192000);
  const piece = new Float32Array(4096).fill(0.5);
  let frames = 0;
  for (let n = 0; n < 500; n++) frames += stream.push(piece).length;
  // Two thousand frames and a half are read on either side of a place.
  expect(500 * 4096 * (8000 / 192000) - frames).toBeLessThan(110);
  expect(frames + stream.finish().length).toBe(Math.round((500 * 4096) / 24));
});
