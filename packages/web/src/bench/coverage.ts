import { InputError, resolveTime, showSeconds } from '@hexenkessel/core/model';
import type { ChainDocument } from '@hexenkessel/core/chain';
import type { RegionRender } from '@hexenkessel/core/engine';
import type { Sound } from '@hexenkessel/core/protocol';
import type { Marked } from '../chain/playbackSlice.ts';

/** What a render covers. */
export interface Coverage {
  /** In frames of the sound; undefined when all of it is meant. */
  readonly asked: RegionRender | undefined;
  /** What is not as it was marked. */
  readonly note?: string;
}

/**
 * What is rendered of a sound as it is marked; a region that reaches past the sound is cut to it. InputError when no region
 * is marked inside it.
 */
export function coverageOf(
  { region, whole }: Marked,
  sound: Pick<Sound, 'frames' | 'sampleRate'>,
  { render, timing }: Pick<ChainDocument, 'render' | 'timing'>,
): Coverage {
  if (whole) return { asked: undefined };
  if (!region) throw new InputError('No region is marked. Drag along the ruler, or type where it begins and ends.');
  const marked = [region.start, region.end].map((seconds) => Math.round(seconds * sound.sampleRate));
  const [start, end] = marked.map((frame) => Math.max(0, Math.min(sound.frames, frame)));
  const text = (frame: number) => showSeconds(frame / sound.sampleRate);
  if (end <= start)
    throw new InputError(
      `The region from ${text(marked[0])} to ${text(marked[1])} lies outside the sound, which is ${text(sound.frames)} long. Mark one inside it.`,
    );
  const { beyond, time, splice, fade, tail } = render.region;
  const length = Math.round(resolveTime(fade, timing, sound.sampleRate) * sound.sampleRate);
  const asked = { region: { start, end }, beyond, time, splice: splice ? { fade: length, tail } : undefined };
  return start === marked[0] && end === marked[1]
    ? { asked }
    : { asked, note: `The region reaches past the sound; ${text(start)} to ${text(end)} of it is rendered.` };
}
