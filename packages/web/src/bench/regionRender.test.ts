import { expect, test } from 'vitest';
import { emptyChain, type RegionSettings } from '@hexenkessel/core';
import { regionRenderOf } from './regionRender.ts';

const sound = { frames: 96_000, sampleRate: 48_000 };
const stretch = { whole: false };
const chain = (rest: Partial<RegionSettings> = {}) => {
  const empty = emptyChain('x');
  const region = { ...empty.render.region, fade: { beats: 0.02 }, tail: 'cut', ...rest } as const;
  return { ...empty, render: { ...empty.render, region } };
};

test('a region in seconds becomes frames of the sound, bounded by it', () => {
  expect(regionRenderOf(stretch, { start: 0.5, end: 1 }, sound, chain())).toEqual({
    region: { start: 24_000, end: 48_000 },
    beyond: 'auto',
    time: 'region',
    splice: { fade: 480, tail: 'cut' },
  });
  expect(regionRenderOf(stretch, { start: -1, end: 9 }, sound, chain())?.region).toEqual({ start: 0, end: 96_000 });
  expect(regionRenderOf(stretch, { start: 0, end: 1 }, sound, chain({ time: 'sound' }))?.time).toBe('sound');
  expect(regionRenderOf(stretch, { start: 0, end: 1 }, sound, chain({ splice: false }))?.splice).toBeUndefined();
});

test('no region, one outside the sound, and all of the sound: nothing of the kind', () => {
  expect(regionRenderOf(stretch, null, sound, chain())).toBeUndefined();
  expect(regionRenderOf(stretch, { start: 3, end: 4 }, sound, chain())).toBeUndefined();
  expect(regionRenderOf({ whole: true }, { start: 0, end: 1 }, sound, chain())).toBeUndefined();
});
