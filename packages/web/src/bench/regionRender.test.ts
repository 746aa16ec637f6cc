import { expect, test } from 'vitest';
import type { Sound } from '@hexenkessel/core';
import { regionRenderOf } from './regionRender.ts';

const sound = { frames: 96_000, sampleRate: 48_000 } as Sound;
const stretch = { whole: false, beyond: 'auto', splice: true, fade: 0.01, tail: 'cut' } as const;

test('a region in seconds becomes frames of the sound, bounded by it', () => {
  expect(regionRenderOf(stretch, { start: 0.5, end: 1 }, sound)).toEqual({
    region: { start: 24_000, end: 48_000 },
    beyond: 'auto',
    splice: { fade: 480, tail: 'cut' },
  });
  expect(regionRenderOf(stretch, { start: -1, end: 9 }, sound)?.region).toEqual({ start: 0, end: 96_000 });
  expect(regionRenderOf({ ...stretch, splice: false }, { start: 0, end: 1 }, sound)?.splice).toBeUndefined();
});

test('no region, one outside the sound, and all of the sound: nothing of the kind', () => {
  expect(regionRenderOf(stretch, null, sound)).toBeUndefined();
  expect(regionRenderOf(stretch, { start: 3, end: 4 }, sound)).toBeUndefined();
  expect(regionRenderOf({ ...stretch, whole: true }, { start: 0, end: 1 }, sound)).toBeUndefined();
});
