import fc from 'fast-check';
import { expect, test } from 'vitest';
import type { FrameSource } from '../model/frameSource.ts';
import { ClipReader } from '../formats/decoding/clipReader.ts';
import { layOut } from './layOut.ts';
import { Mix } from './mix.ts';

const RATE = 44100;
const source = (...channels: number[][]): FrameSource =>
  new ClipReader(
    { sampleRate: RATE, origin: 0, channels: channels.map((samples) => Float32Array.from(samples)) },
    'f32',
  );

async function whole(mix: Mix): Promise<number[][]> {
  const channels = Array.from({ length: mix.channels }, (): number[] => []);
  for await (const piece of mix.pieces()) piece.forEach((samples, c) => channels[c].push(...samples));
  return channels;
}

test('sounds are added where they lie, at their levels; mono lies in both channels; muted ones keep their place', async () => {
  const mix = new Mix([
    { source: source([0.5, 0.25]), at: 1, gain: 0.5 },
    { source: source([0.125, 0.125, 0.125], [0, 0, -0.5]), at: 0, gain: 1 },
    { source: source([1, 1]), at: 4, gain: 0 },
  ]);
  expect(await whole(mix)).toEqual([
    [0.125, 0.375, 0.25, 0, 0, 0],
    [0, 0.25, -0.375, 0, 0, 0],
  ]);
});

test('it is the sum of what each gives alone, over any number of pieces', async () => {
  const part = fc.record({
    frames: fc.integer({ min: 1, max: 40_000 }),
    at: fc.integer({ min: 0, max: 40_000 }),
    gain: fc.double({ min: 0, max: 4, noNaN: true }),
    seed: fc.integer({ min: 1, max: 1000 }),
  });
  await fc.assert(
    fc.asyncProperty(fc.array(part, { minLength: 1, maxLength: 4 }), async (drawn) => {
      const samples = drawn.map(({ frames, seed }) => Array.from({ length: frames }, (_, i) => Math.sin(seed * i)));
      const mix = new Mix(drawn.map(({ at, gain }, n) => ({ source: source(samples[n]), at, gain })));
      const [made] = await whole(mix);
      expect(made).toHaveLength(Math.max(...drawn.map(({ at, frames }) => at + frames)));
      for (const i of [0, 1, 16_383, 16_384, 20_000, 32_768, made.length - 1].filter((at) => at < made.length)) {
        const sum = drawn.reduce((all, { at, gain }, n) => all + gain * Math.fround(samples[n][i - at] ?? 0), 0);
        expect(made[i]).toBeCloseTo(sum, 5);
      }
    }),
    { numRuns: 30, endOnFailure: true },
  );
});

test('by their places, those that say none lie at 01:00:00; from the same start, the first that says gives the place', () => {
  const stem = (timeReference: number | null, sampleRate = RATE, offset = 0) => ({ timeReference, sampleRate, offset });
  const hour = 3600 * RATE;
  expect(layOut([stem(hour + 10), stem(null), stem(48000 * 3600 + 96000, 48000)], 'place', RATE)).toEqual({
    at: [10, 0, 2 * RATE],
    timeReference: hour,
  });
  expect(layOut([stem(null), stem(500), stem(700, RATE, -1)], 'start', RATE)).toEqual({
    at: [RATE, RATE, 0],
    timeReference: null, // a second before frame 500 is before midnight
  });
  expect(layOut([stem(null), stem(hour, RATE, 0.5)], 'start', RATE)).toEqual({
    at: [0, RATE / 2],
    timeReference: hour,
  });
  for (const lay of ['place', 'start'] as const) {
    expect(layOut([stem(null), stem(null)], lay, RATE).timeReference).toBeNull();
    // Moved away from where they are taken to lie, the mix must say where it begins, or it would be placed wrongly itself.
    expect(layOut([stem(null), stem(null, 48000, -2)], lay, RATE).timeReference).toBe(hour - 2 * RATE);
  }
});

test('what lies too far apart is refused with the limit', () => {
  const far = [
    { source: source([1]), at: 0, gain: 1 },
    { source: source([1]), at: 7 * 3600 * RATE, gain: 1 },
  ];
  expect(() => new Mix(far)).toThrow(/7\.0 hours long.*6\.0 are allowed/);
  expect(() => new Mix([])).toThrow(/at least one sound/);
});
