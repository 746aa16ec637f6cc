/** Pictures of what a stage finds in the clip at hand: the pitch of a voice, the pieces of a rhythm. */
import type { StageDocument } from '../chain/schema.ts';
import { overviewOf } from '../analysis/overview.ts';
import { clipEnd, type Clip, type Span } from '../model/clip.ts';
import { cutClip } from '../stages/builtin/clip/slices.ts';
import { followed } from '../stages/builtin/clip/settle/settlePitch.ts';
import { frequencyToKey } from '../timing/expressions.ts';
import type { Timing } from '../timing/tempo.ts';
import { resolvedValues } from './pictureOf.ts';

interface OverClip {
  /** Seconds from the source's first frame. */
  readonly start: number;
  readonly end: number;
  /** Least and greatest sample of columns over it, in turns. */
  readonly waveform: readonly number[];
}

export interface PitchPicture extends OverClip {
  readonly type: 'pitch';
  /** Seconds between the values; the first lies at `start`. */
  readonly step: number;
  /** MIDI keys; NaN where there is no pitch. */
  readonly before: readonly number[];
  readonly after: readonly number[];
}

export interface CutsPicture extends OverClip {
  readonly type: 'cuts';
  /** Seconds from the source's first frame at which a piece begins, without the first. */
  readonly cuts: readonly number[];
  /** Where the source begins. */
  readonly origin: number;
  /** True when they are set by hand. */
  readonly byHand: boolean;
}

export type ClipPicture = PitchPicture | CutsPicture;

const COLUMNS = 400;

export const hasClipPicture = (kind: string): boolean => kind === 'settlePitch' || kind === 'slices';

/** The picture of a stage over the clip that goes into it; undefined when its kind has none. Yields the share done. */
export function* clipPictureOf(
  stage: StageDocument,
  clip: Clip,
  span: Span,
  timing: Timing,
): Generator<number, ClipPicture | undefined, void> {
  const values = resolvedValues(stage, timing, clip.sampleRate);
  const { sampleRate } = clip;
  const overview = overviewOf(clip, clip.origin, clipEnd(clip), COLUMNS);
  const over: OverClip = {
    start: clip.origin / sampleRate,
    end: clipEnd(clip) / sampleRate,
    waveform: Array.from(overview.min).flatMap((least, n) => [least, overview.max[n]]),
  };
  if (stage.kind === 'slices') {
    const cutting = values as unknown as Parameters<typeof cutClip>[2];
    const cuts = cutClip(clip, span, cutting).slice(1);
    return {
      ...over,
      type: 'cuts',
      cuts: cuts.map(({ start }) => start / sampleRate),
      origin: span.start / sampleRate,
      byHand: cutting.by === 'hand',
    };
  }
  if (stage.kind === 'settlePitch') {
    const { from, to } = yield* followed(clip, values as never);
    const keys = (pitches: Float64Array) => Array.from(pitches, (hertz) => (hertz > 0 ? frequencyToKey(hertz) : NaN));
    return { ...over, type: 'pitch', step: from.hop / sampleRate, before: keys(from.pitches), after: keys(to.pitches) };
  }
  return undefined;
}
