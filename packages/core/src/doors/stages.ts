/** Stages, heads, modulators and their parameters; what is told and drawn of them. */
export { BUILT_INS } from '../catalogue/builtIns.ts';
export { Catalogue, type Script } from '../catalogue/catalogue.ts';
export { SCRIPT_LANGUAGE } from '../script/scriptLanguage.ts';
export { SCRIPT_KIND, type StageLanguage } from '../stages/language.ts';
export { headOfClip } from '../heads/clip/clip.ts';
export type { PlannedHead } from '../heads/contract.ts';
export type {
  Axis,
  ClipPicture,
  CurvePicture,
  CutsPicture,
  PitchPicture,
  RepeatsPicture,
  RoomPicture,
  StagePicture,
  StepsPicture,
  VoicesPicture,
} from '../model/picture.ts';
export { bentWay, type Breakpoints, type Curve, type CurvePoint } from '../modulation/curve.ts';
export { scaledInTime, scaledInValue, snapped } from '../modulation/laneEdits.ts';
export { modulatorOf, MODULATORS } from '../modulation/modulators/index.ts';
export type { Note } from '../modulation/notes.ts';
export { MOST_CYCLES, type Shape, SHAPES, type Stamp } from '../modulation/stamp.ts';
export { breakpointsOf, stampOnto, withShapesOf } from '../modulation/stampedShape.ts';
export { toCanonical, toPlace } from '../params/types/paramScale.ts';
export {
  type CurveParam,
  describeRange,
  isScaled,
  labelOf,
  type Param,
  type Params,
  paramUnder,
  parseSetting,
  printSetting,
  shownOption,
  type ScaledParam,
  type SettingValue,
  type SoundRef,
} from '../params/params.ts';
export { canonical, settingAt, stepped } from '../params/settingPlace.ts';
export { clipPictureOf } from '../pictures/clipPictures.ts';
export { pictureOf, resolvedValues } from '../pictures/pictureOf.ts';
export {
  type ModulatorReference,
  modulatorReferenceOf,
  type ParamReference,
  reference,
  referenceOf,
  searchReference,
  type StageReference,
} from '../reference/reference.ts';
export { loudnessTable } from '../reference/loudnessTable.ts';
export { didYouMean, searchStages } from '../reference/searchStages.ts';
export { stepsText } from '../reference/stepsText.ts';
export { FAMILY_TITLES, type Family, type Prepared, type ResolvedValues, type Stage } from '../stages/contract.ts';
export { STAGE_PARAMS } from '../stages/stageParams.ts';
export { groupsOf, type ParamGroup } from '../stages/groups.ts';
