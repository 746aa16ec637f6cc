import { expect, test } from 'vitest';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { emptyChain, type RegionSettings } from '@hexenkessel/core/chain';
import { coverageOf } from './coverage.ts';

const sound = { frames: 96_000, sampleRate: 48_000 };
const chain = (rest: Partial<RegionSettings> = {}) => {
  const empty = emptyChain(BUILT_INS, 'x');
  const region = { ...empty.render.region, fade: { beats: 0.02 }, tail: 'cut', ...rest } as const;
  return { ...empty, render: { ...empty.render, region } };
};
const part = (start: number, end: number) => ({ whole: false, region: { start, end } });

test('a region in seconds becomes frames of the sound', () => {
  expect(coverageOf(part(0.5, 1), sound, chain())).toEqual({
    asked: {
      region: { start: 24_000, end: 48_000 },
      beyond: 'auto',
      time: 'region',
      splice: { fade: 480, tail: 'cut' },
    },
  });
  expect(coverageOf(part(0, 1), sound, chain({ time: 'sound' })).asked?.time).toBe('sound');
  expect(coverageOf(part(0, 1), sound, chain({ splice: false })).asked?.splice).toBeUndefined();
  expect(coverageOf({ whole: true, region: { start: 0, end: 1 } }, sound, chain())).toEqual({ asked: undefined });
});

test('one that reaches past the sound is cut to it, and that is said', () => {
  const { asked, note } = coverageOf(part(1.5, 9), sound, chain());
  expect(asked?.region).toEqual({ start: 72_000, end: 96_000 });
  expect(note).toBe('The region reaches past the sound; 1.5 s to 2 s of it is rendered.');
  expect(coverageOf(part(-1, 1), sound, chain()).note).toContain('0 s to 1 s');
});

test('no region, and one outside the sound, are refused with what to do', () => {
  expect(() => coverageOf({ whole: false, region: null }, sound, chain())).toThrow('Drag along the ruler');
  expect(() => coverageOf(part(3, 4), sound, chain())).toThrow(
    'The region from 3 s to 4 s lies outside the sound, which is 2 s long.',
  );
});
