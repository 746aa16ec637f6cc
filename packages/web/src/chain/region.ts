import { InputError, printTime } from '@hexenkessel/core/model';
import type { Region } from './playbackSlice.ts';

const LEAST = 0.005; // seconds

/** The region between two places, in whichever order they come. InputError where nothing lies between them. */
export function regionBetween(one: number, other: number): Region {
  const region = { start: Math.min(one, other), end: Math.max(one, other) };
  if (region.end - region.start >= LEAST) return region;
  throw new InputError(
    `A region from ${printTime(region.start)} to ${printTime(region.end)} is empty; its end must be after its start.`,
  );
}
