import { expect, test } from 'vitest';
import { noise } from '../testing/signals.ts';
import { OutlineStream, outlineOf } from './outline.ts';
import { overviewOf, widenOverview } from './overview.ts';

test('a row is brought to a wider ruler without losing a peak', () => {
  const samples = new Float32Array(10_000);
  samples[1234] = 0.9;
  samples[5000] = -0.7;
  const overview = overviewOf({ sampleRate: 48000, origin: -2000, channels: [samples] }, -2000, 8000, 8000);
  const wide = widenOverview(overview, -6000, 12_000, 640);
  expect(wide.start).toBe(-6000);
  expect(wide.max).toHaveLength(640);
  const column = (frame: number) => Math.floor((frame + 6000) / wide.framesPerColumn);
  expect(wide.max[column(-766)]).toBeCloseTo(0.9, 6);
  expect(wide.min[column(3000)]).toBeCloseTo(-0.7, 6);
  expect(wide.max.filter((value) => value > 0)).toHaveLength(1);
  expect([...wide.rms.slice(0, column(-2100))].every((value) => value === 0)).toBe(true);
});

test.each([
  [1, 1, 0],
  [500, 2, -77],
  [8192, 1, 3],
  [100_000, 2, -12_345],
  [100_003, 2, 9],
])('an outline of %d frames is the same while they come as of the clip', (frames, channels, origin) => {
  const clip = { ...noise(frames, 48000, channels), origin };
  const stream = new OutlineStream(origin, frames, channels);
  for (let at = 0; at < frames; at += 128)
    stream.take(
      clip.channels.map((side) => side.subarray(at)),
      0,
      Math.min(128, frames - at),
      at,
    );
  const [whole, streamed] = [outlineOf(clip), stream.finish()];
  expect({ ...streamed, overview: undefined }).toEqual({ ...whole, overview: undefined });
  expect(streamed.overview.min).toEqual(whole.overview.min);
  expect(streamed.overview.max).toEqual(whole.overview.max);
  whole.overview.rms.forEach((value, n) => expect(streamed.overview.rms[n]).toBeCloseTo(value, 6));
});
