import { InputError, type ChainDocument, type RegionRender, type Sound } from '@hexenkessel/core';
import type { Marked } from '../chain/benchSlice.ts';
import { coverageOf, type Coverage } from './coverage.ts';
import { estimateOf, type Told } from './Estimate.tsx';

interface RenderPlan {
  readonly asked?: RegionRender | undefined;
  readonly note?: string;
  readonly told?: Told;
  /** Why it cannot be rendered. */
  readonly refusal?: string;
}

/** What would be rendered, and what it takes; or why it cannot be. */
export function renderPlanOf(document: ChainDocument, sound: Sound, marked: Marked): RenderPlan {
  let coverage: Coverage = { asked: undefined };
  try {
    coverage = coverageOf(marked, sound, document);
    return { ...coverage, told: estimateOf(document, sound, coverage.asked) };
  } catch (error) {
    if (error instanceof InputError) return { ...coverage, refusal: error.message };
    throw error;
  }
}
