/** Plans, and rendering by them. */
export { resample, RESAMPLER } from '../dsp/resample.ts';
export { resampled } from '../dsp/resampleStream.ts';
export { layOut, MIX_LAYS, type MixLay } from '../mix/layOut.ts';
export { Mix, type MixPart } from '../mix/mix.ts';
export { type MovementTrace, traceMovement } from '../engine/modulation/trace.ts';
export { atRate } from '../engine/offline/atRate.ts';
export { ClipCache } from '../engine/offline/cache.ts';
export { estimateRender, type RenderEstimate } from '../engine/offline/estimate.ts';
export { gaveUpText, type GaveUp } from '../engine/offline/gaveUp.ts';
export { gainOfFinish } from '../engine/offline/finish.ts';
export { anchorShift, applyLeadIn } from '../engine/offline/overhang.ts';
export { beyondOf, refuseRegion, type RegionRender, renderRegion } from '../engine/offline/region.ts';
export type { Output, TapWatch } from '../engine/offline/outputs.ts';
export { finishRender, renderChain } from '../engine/offline/renderer.ts';
export { renderJob, wayOf, type RenderJob } from '../engine/renderJob.ts';
export type { Splice } from '../engine/offline/splice.ts';
export {
  contentKey,
  cutIntoRuns,
  lastClipStage,
  liveEnd,
  planModulators,
  planStages,
  shapeOf,
  tailOf,
} from '../engine/plan/plan.ts';
export { flatValues } from '../engine/plan/valueLayout.ts';
export type { Planned } from '../engine/plan/planned.ts';
export { modulatorDefinition } from '../engine/plan/plannedModulation.ts';
export { plannedStages, type Preparable, preparedKey, prepareStage, withPrepared } from '../engine/plan/prepare.ts';
export {
  bankOf,
  type FoundSound,
  isMeant,
  NO_SOUNDS,
  type SoundBank,
  soundFault,
  soundUses,
} from '../engine/plan/soundBank.ts';
