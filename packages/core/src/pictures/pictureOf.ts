/** The pictures of the stages, by kind. */
import type { StageDocument } from '../chain/schema.ts';
import type { ResolvedValues } from '../stages/contract.ts';
import { duckerGain } from '../stages/builtin/dynamics/ducker.ts';
import { stageOf } from '../stages/builtin/index.ts';
import { resolveSetting, type Params } from '../params/params.ts';
import type { Timing } from '../timing/tempo.ts';
import type { StagePicture } from './model.ts';
import { echoPicture, pitchEchoPicture, stutterPicture } from './repeatsPictures.ts';
import { responsePicture, equaliserPicture, movingPicture, bandsPicture, shiftPicture } from './responsePictures.ts';
import { compressorLevel, transferPicture, dynamicsPicture } from './levelPictures.ts';
import {
  speedPicture,
  decayPicture,
  movementPicture,
  vibratoPicture,
  tonePicture,
  windowPicture,
} from './timePictures.ts';
import { roomPicture, voicesPicture, stepsPicture } from './shapePictures.ts';
import { RATE, type Numbers, type Words } from './values.ts';

/** The values of a stage in their canonical units. */
export function resolvedValues(stage: StageDocument, timing: Timing, sampleRate = RATE): ResolvedValues<Params> {
  const { params } = stageOf(stage.kind);
  return Object.fromEntries(
    Object.entries(params).map(([key, param]) => [key, resolveSetting(param, stage.settings[key], timing, sampleRate)]),
  );
}

/** The picture that belongs to a stage as it is set; undefined when its kind has none. */
export function pictureOf(stage: StageDocument, timing: Timing): StagePicture | undefined {
  const values = resolvedValues(stage, timing);
  return PICTURES[stage.kind]?.(values, stage, timing);
}

/** The kinds of stage that have a picture. */
export const hasPicture = (kind: string): boolean => kind in PICTURES;

type Draw = (values: ResolvedValues<Params>, stage: StageDocument, timing: Timing) => StagePicture;

const PICTURES: Readonly<Record<string, Draw>> = {
  echo: (values, stage, timing) => echoPicture(values as Numbers & Words, stage, timing),
  pitchEcho: (values, _, timing) => pitchEchoPicture(values as Numbers, timing),
  room: (values) => roomPicture(values as never),
  ensemble: (values) => voicesPicture(values as Numbers & Words),
  pattern: (values) => stepsPicture(values as Numbers),
  equaliser: (values, stage) => equaliserPicture(values, stage),
  filter: (values, stage) =>
    responsePicture('Response', stage, [['response', values, 0]], [{ label: 'cutoff', xParam: 'cutoff' }], values),
  flanger: (values, stage) => movingPicture('Notches, at four moments of the movement', values, stage),
  phaser: (values, stage) => movingPicture('Notches, at four moments of the movement', values, stage),
  drive: (values, stage) => transferPicture(values, stage),
  crush: (values, stage) => transferPicture(values, stage),
  compressor: (values) => dynamicsPicture(values as Numbers, 'threshold', compressorLevel),
  ducker: (values) =>
    dynamicsPicture(values as Numbers, 'threshold', (v, at) => at + duckerGain(at, v['threshold'], v['amount'])),
  gate: (values) =>
    dynamicsPicture(values as Numbers, 'threshold', (v, at) => at + (at < v['threshold'] ? v['floor'] : 0)),
  limiter: (values) => dynamicsPicture(values as Numbers, 'ceiling', (v, at) => Math.min(v['ceiling'], at + v['gain'])),
  tapeStop: (values, _, timing) => speedPicture(values as Numbers & Words, timing),
  hall: (values, stage) => decayPicture(values, stage),
  plate: (values, stage) => decayPicture(values, stage),
  tremolo: (values, stage) => movementPicture(values, stage),
  vibrato: (values) => vibratoPicture(values as Numbers),
  ringMod: (values) => tonePicture(values as Numbers & Words),
  shifter: (values) => shiftPicture(values as Numbers & Words),
  vocoder: (values) => bandsPicture(values as Numbers),
  stutter: (values, _, timing) => stutterPicture(values as Numbers, timing),
  halfTime: (values, _, timing) => windowPicture(values as Numbers & Words, timing),
};
