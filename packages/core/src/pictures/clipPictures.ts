/** Pictures of what a stage finds in the clip at hand: the pitch of a voice, the pieces of a rhythm. */
import { overviewOf } from '../analysis/overview.ts';
import type { Catalogue } from '../catalogue/catalogue.ts';
import type { StageDocument } from '../chain/schema.ts';
import { clipEnd, type Clip, type Span } from '../model/clip.ts';
import type { ClipPicture, OverClip } from '../model/picture.ts';
import type { Timing } from '../timing/tempo.ts';
import { resolvedValues } from './pictureOf.ts';

const COLUMNS = 400;

/** The picture of a stage over the clip that goes into it; undefined when its kind has none. Yields the share done. */
export function* clipPictureOf(
  catalogue: Catalogue,
  stage: StageDocument,
  clip: Clip,
  span: Span,
  timing: Timing,
): Generator<number, ClipPicture | undefined, void> {
  const definition = catalogue.of(stage);
  if (definition.runs === 'live' || !definition.clipPicture) return undefined;
  const { sampleRate } = clip;
  const overview = overviewOf(clip, clip.origin, clipEnd(clip), COLUMNS);
  const over: OverClip = {
    start: clip.origin / sampleRate,
    end: clipEnd(clip) / sampleRate,
    waveform: Array.from(overview.min).flatMap((least, n) => [least, overview.max[n]]),
  };
  return yield* definition.clipPicture(over, clip, span, resolvedValues(catalogue, stage, timing, sampleRate));
}
