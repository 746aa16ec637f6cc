/** Where a render begins and ends around its source, and where it is placed. */
import type { Catalogue } from '../../catalogue/catalogue.ts';
import { audibleRange, soundingRange } from '../../analysis/level.ts';
import type { Anchor, ChainDocument } from '../../chain/schema.ts';
import { decibelsToGain } from '../../dsp/portableMath.ts';
import { InputError } from '../../model/errors.ts';
import { LIMITS } from '../../model/limits.ts';
import { resolveTime } from '../../timing/tempo.ts';
import { clipEnd, cropClip, type Clip } from '../../model/clip.ts';
import { tailOf } from '../plan/plan.ts';
import type { Planned } from '../plan/planned.ts';

const AUTOMATIC_LIMIT_SECONDS = 120;

/** How the ends of live stages are found; worked out once a render. */
export type TailPlan =
  | { readonly mode: 'none' }
  /** Every live stage runs on to this frame, relative to the source's first. */
  | { readonly mode: 'fixed'; readonly end: number }
  /** Every live stage rings down to this level in dBFS; what is then below `cutBelow` is cut from the end. */
  | { readonly mode: 'auto'; readonly level: number; readonly cutBelow: number };

/** `spanEnd`: the frame at which the source ends. */
export function planTail(chain: ChainDocument, sampleRate: number, spanEnd: number): TailPlan {
  const { tail } = chain.render;
  if (tail.mode === 'none') return { mode: 'none' };
  if (tail.mode === 'auto') return { mode: 'auto', level: tail.below, cutBelow: decibelsToGain(tail.below) };
  const seconds = resolveTime(tail.length, chain.timing, sampleRate);
  return { mode: 'fixed', end: spanEnd + Math.round(seconds * sampleRate) };
}

/**
 * The frame at which a live stage's output ends. It depends on this stage and what comes before it alone, so a stage's
 * output stays valid whatever is changed after it.
 */
export function stageEnd(
  catalogue: Catalogue,
  plan: TailPlan,
  planned: Planned,
  inputEnd: number,
  sampleRate: number,
): number {
  if (plan.mode === 'none') return inputEnd;
  if (plan.mode === 'fixed') return Math.max(inputEnd, plan.end);
  // Sound at full scale, and 6 dB above it, has to fall to the level; declared tails count 60 dB.
  const seconds = (tailOf(catalogue, planned) * Math.max(60, 6 - plan.level)) / 60;
  return inputEnd + Math.ceil(Math.min(AUTOMATIC_LIMIT_SECONDS, seconds) * sampleRate);
}

/** Cuts silence below `level` from the end of a run, but never what its input spanned. */
export function cutTail(clip: Clip, level: number, inputEnd: number): Clip {
  const sounding = soundingRange(clip, level);
  const end = sounding ? clip.origin + sounding.last + 1 : inputEnd;
  return cropClip(clip, clip.origin, Math.max(inputEnd, end));
}

/** Makes the render begin where the lead-in says: where it falls by itself, a fixed time before the source, or at it. */
export function applyLeadIn(clip: Clip, chain: ChainDocument): Clip {
  const { leadIn } = chain.render;
  if (leadIn.mode === 'auto') return clip;
  const start = 0 - leadInFrames(chain, clip.sampleRate); // not −0
  return cropClip(clip, start, Math.max(start + 1, clipEnd(clip)));
}

/** Frames before the source that a fixed lead-in asks for. */
export function leadInFrames({ render, timing }: ChainDocument, sampleRate: number): number {
  if (render.leadIn.mode !== 'fixed') return 0;
  return Math.round(resolveTime(render.leadIn.length, timing, sampleRate) * sampleRate);
}

/** Frames by which placing at the anchor has moved a render whose last stage gave `unplaced`. */
export function anchorShift(chain: ChainDocument, unplaced: Clip, placed: Clip): number {
  return chain.render.anchor === 'source' ? 0 : placed.origin - applyLeadIn(unplaced, chain).origin;
}

/**
 * Places a render. `source`: where it falls by itself. `end`: its last sound stands on the source's onset. `start`: its
 * first sound stands there. A sound counts above −60 dB of its own peak; silence stays where it is.
 */
export function placeAtAnchor(result: Clip, anchor: Anchor, source: Clip): Clip {
  if (anchor === 'source') return result;
  const from = audibleRange(source);
  const to = audibleRange(result);
  if (!from || !to) return result;
  const onset = source.origin + from.first;
  return { ...result, origin: onset - (anchor === 'end' ? to.last : to.first) };
}

/** Refuses a clip too long to be held whole, before memory is taken. */
export function refuseTooLong(frames: number, channels: number, stageTitle: string): void {
  if (frames * channels <= LIMITS.clipSamples) return;
  const minutes = LIMITS.clipSamples / 2 / 48000 / 60;
  throw new InputError(
    `${stageTitle} would have to hold ${frames} frames × ${channels} channels; allowed are ${LIMITS.clipSamples} samples ` +
      `(${minutes} minutes of stereo at 48 kHz).`,
  );
}
