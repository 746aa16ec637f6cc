import type { RegionRender, Sound } from '@hexenkessel/core';
import type { Region, StretchRender } from '../chain/benchSlice.ts';

/** The stretch in frames of the sound; undefined when all of it is meant, or no region is marked inside it. */
export function regionRenderOf(stretch: StretchRender, region: Region | null, sound: Sound): RegionRender | undefined {
  if (stretch.whole || !region) return undefined;
  const frame = (seconds: number) => Math.max(0, Math.min(sound.frames, Math.round(seconds * sound.sampleRate)));
  const frames = { start: frame(region.start), end: frame(region.end) };
  if (frames.end <= frames.start) return undefined;
  const splice = { fade: Math.round(stretch.fade * sound.sampleRate), tail: stretch.tail };
  return { region: frames, beyond: stretch.beyond, splice: stretch.splice ? splice : undefined };
}
