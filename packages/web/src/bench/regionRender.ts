import { resolveTime, type ChainDocument, type RegionRender, type Sound } from '@hexenkessel/core';
import type { Region, StretchRender } from '../chain/benchSlice.ts';

/** The stretch in frames of the sound; undefined when all of it is meant, or no region is marked inside it. */
export function regionRenderOf(
  { whole }: StretchRender,
  region: Region | null,
  sound: Pick<Sound, 'frames' | 'sampleRate'>,
  { render, timing }: Pick<ChainDocument, 'render' | 'timing'>,
): RegionRender | undefined {
  if (whole || !region) return undefined;
  const frame = (seconds: number) => Math.max(0, Math.min(sound.frames, Math.round(seconds * sound.sampleRate)));
  const frames = { start: frame(region.start), end: frame(region.end) };
  if (frames.end <= frames.start) return undefined;
  const { beyond, time, splice, fade, tail } = render.region;
  const length = Math.round(resolveTime(fade, timing, sound.sampleRate) * sound.sampleRate);
  return { region: frames, beyond, time, splice: splice ? { fade: length, tail } : undefined };
}
