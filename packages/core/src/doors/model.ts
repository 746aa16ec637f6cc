/** What everything else speaks of: clips, errors, limits, times. */
export { diskFault } from '../diskFault.ts';
export { exp, gainToDecibels, sin, TAU } from '../dsp/portableMath.ts';
export { createRandom, type Random } from '../dsp/random.ts';
export { type Clip, clipEnd, cropClip, frameCount, type Span } from '../model/clip.ts';
export { InputError } from '../model/errors.ts';
export { LIMITS } from '../model/limits.ts';
export { mapShared, remembered, sameValue } from '../model/sharing.ts';
export { written } from '../timing/quantity.ts';
export {
  showBarsBeats,
  showFrequency,
  showLevel,
  showLoudness,
  showOtherUnits,
  showSeconds,
} from '../timing/display.ts';
export {
  keyToFrequency,
  parseKey,
  parseLevel,
  parseNumber,
  parseRatio,
  parseTime,
  printKey,
  printLevel,
  printTime,
} from '../timing/expressions.ts';
export { tappedTempo } from '../timing/tapTempo.ts';
export {
  barSeconds,
  beatSeconds,
  isSynced,
  noteInWholes,
  resolveTime,
  TEMPO_RANGE,
  type TimeValue,
  type Meter,
  type Timing,
} from '../timing/tempo.ts';
export { TempoMap } from '../timing/tempoMap.ts';
export { tempoTable } from '../timing/tempoTable.ts';
