import type { Stage } from '../contract.ts';
import { bed } from './bed.ts';
import { convolve } from './convolve.ts';
import { crush } from './crush.ts';
import { compressor } from './dynamics/compressor.ts';
import { ducker } from './dynamics/ducker.ts';
import { gate } from './dynamics/gate.ts';
import { limiter } from './dynamics/limiter.ts';
import { equaliser } from './equaliser.ts';
import { phaser } from './phaser.ts';
import { shifter } from './shifter.ts';
import { dcBlock } from './dcBlock.ts';
import { drive } from './drive.ts';
import { ensemble } from './ensemble/ensemble.ts';
import { echo } from './echo/echo.ts';
import { fades } from './clip/fades.ts';
import { filter } from './filter.ts';
import { flanger } from './flanger.ts';
import { gain } from './gain.ts';
import { grains } from './grain/grains.ts';
import { halfSpeed } from './grain/halfSpeed.ts';
import { pattern } from './grain/pattern.ts';
import { stutter } from './grain/stutter.ts';
import { tapeStop } from './grain/tapeStop.ts';
import { hall } from './hall/hall.ts';
import { pan } from './pan.ts';
import { pitchEcho } from './pitchEcho.ts';
import { plate } from './plate.ts';
import { reverse } from './clip/reverse.ts';
import { bend } from './clip/bend.ts';
import { crossfade } from './clip/crossfade.ts';
import { normalise } from './clip/normalise.ts';
import { silence } from './clip/silence.ts';
import { settlePitch } from './clip/settle/settlePitch.ts';
import { slices } from './clip/slices.ts';
import { smear } from './clip/smear.ts';
import { stretch } from './clip/stretch.ts';
import { speed } from './clip/speed.ts';
import { trim } from './clip/trim.ts';
import { ringMod } from './ringMod.ts';
import { room } from './room/room.ts';
import { split } from './split.ts';
import { swap } from './swap.ts';
import { tremolo } from './tremolo.ts';
import { transpose } from './transpose.ts';
import { vibrato } from './vibrato.ts';
import { vocoder } from './vocoder/vocoder.ts';
import { width } from './width.ts';

/** Every stage there is. Adding one here makes it known to the schema, the interface, the reference and the tools. */
export const STAGES: readonly Stage[] = [
  reverse,
  echo,
  pitchEcho,
  hall,
  plate,
  room,
  convolve,
  ensemble,
  flanger,
  phaser,
  vibrato,
  tremolo,
  ringMod,
  shifter,
  filter,
  equaliser,
  drive,
  crush,
  compressor,
  limiter,
  gate,
  ducker,
  transpose,
  vocoder,
  stutter,
  grains,
  pattern,
  tapeStop,
  halfSpeed,
  gain,
  pan,
  width,
  swap,
  dcBlock,
  bed,
  split,
  bend,
  stretch,
  smear,
  speed,
  settlePitch,
  trim,
  silence,
  fades,
  crossfade,
  normalise,
  slices,
];
