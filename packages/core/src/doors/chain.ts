/** The chain document: read, checked, changed. */
export {
  addBranch,
  allStages,
  branchesBefore,
  branchLetter,
  branchTitle,
  changeBranch,
  changeList,
  changeStage,
  idsOf,
  placeOf,
  removeBranch,
  takesClipStages,
  withBranches,
  withSolos,
} from '../chain/branches.ts';
export { checkEdit } from '../chain/checkEdit.ts';
export { type ChainEdit } from '../chain/edits/chainEdit.ts';
export * as edits from '../chain/edits/index.ts';
export { assign, newStage, stageTitle } from '../chain/edit.ts';
export { chainJsonSchema, describedChain } from '../chain/jsonSchema.ts';
export {
  addModulator,
  addRoute,
  changeModulator,
  changeRoute,
  firstLane,
  removeModulator,
  withLane,
} from '../chain/movement.ts';
export type { ControlDocument, Driven, LaneDocument, ModulatorDocument, Route } from '../chain/movementSchema.ts';
export { checkName, fillNameTemplate, regionInName } from '../chain/nameTemplate.ts';
export {
  changeControl,
  controlAt,
  controlFor,
  controlPlace,
  controlText,
  parseControl,
  driverOf,
  pinSetting,
  turnControl,
  unpinSetting,
} from '../chain/panel.ts';
export { differences, type Difference } from '../chain/differences.ts';
export { changeDriven, movedByControl, reshapeControl, sameNamed } from '../chain/controlShape.ts';
export {
  type About,
  type Anchor,
  type Beyond,
  BEYONDS,
  type BranchDocument,
  CHAIN_FORMAT,
  CHAIN_VERSION,
  type ChainDocument,
  type LeadIn,
  REGION_TIMES,
  type RegionSettings,
  type RegionTime,
  type RenderChannels,
  type RenderLevel,
  SPLICE_TAILS,
  type StageDocument,
  type Tail,
} from '../chain/schema.ts';
export {
  changeScript,
  lostByScript,
  scriptTitles,
  type ScriptText,
  withScript,
  withScriptStage,
} from '../chain/scripts.ts';
export { chainFor, setSetting, syncSwitched } from '../chain/setSetting.ts';
export { findTarget, modulatorTitle, splitTarget, type Target, targetsOf, withoutDangling } from '../chain/targets.ts';
export { stageAsChain, withSoundFor } from '../chain/stagePart.ts';
export { type TempoEffect, underTempo } from '../chain/underTempo.ts';
export { emptyChain, parseChain, parseChainText } from '../chain/validate.ts';
export { freeSettings, morphed, type Variation, varied } from '../chain/variation.ts';
