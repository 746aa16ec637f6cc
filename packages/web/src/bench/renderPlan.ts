import {
  BUILT_INS,
  InputError,
  estimateRender,
  type ChainDocument,
  type RegionRender,
  type RenderEstimate,
  type Sound,
} from '@hexenkessel/core';
import { UNMARKED, type Marked } from '../chain/benchSlice.ts';
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
