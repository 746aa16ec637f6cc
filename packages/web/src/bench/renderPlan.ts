import { InputError } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import type { ChainDocument } from '@hexenkessel/core/chain';
import { estimateRender, type RegionRender, type RenderEstimate } from '@hexenkessel/core/engine';
import type { Sound } from '@hexenkessel/core/protocol';
import { UNMARKED, type Marked } from '../chain/playbackSlice.ts';
import { coverageOf, type Coverage } from './coverage.ts';

export interface RenderPlan {
  readonly asked?: RegionRender | undefined;
  readonly note?: string;
  readonly told?: RenderEstimate;
  /** Why it cannot be rendered. */
  readonly refusal?: string;
}

/** What would be rendered of a sound, all of it unless it is marked, and what it takes; or why it cannot be. */
export function renderPlanOf(document: ChainDocument, sound: Sound, marked: Marked = UNMARKED): RenderPlan {
  let coverage: Coverage = { asked: undefined };
  try {
    coverage = coverageOf(marked, sound, document);
    const { start, end } = coverage.asked?.region ?? { start: 0, end: sound.frames };
    return { ...coverage, told: estimateRender(BUILT_INS, document, { ...sound, frames: end - start }) };
  } catch (error) {
    if (error instanceof InputError) return { ...coverage, refusal: error.message };
    throw error;
  }
}
