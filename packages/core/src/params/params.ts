/**
 * The parameters that a stage, modulator or head declares. A declaration is the single source for the parameter's type,
 * validation, JSON Schema, row in the interface, command-line form, reference and sheet; what each type of parameter does
 * with it stands in `types/`, a file each.
 */
import type { Meter, Timing } from '../timing/tempo.ts';
import type { Resolved, Settings, SettingValue } from './types/contract.ts';
import { levelUnder } from './types/level.ts';
import { typeOf, type Param, type ScaledParam } from './types/index.ts';

export type { SettingValue, Settings, SoundRef } from './types/contract.ts';
export type { Param, ScaledParam } from './types/index.ts';
export { time, type TimeParam } from './types/time.ts';
export { rate, type RateParam } from './types/rate.ts';
export { frequency, type FrequencyParam } from './types/frequency.ts';
export { level, type LevelParam } from './types/level.ts';
export { ratio, type RatioParam } from './types/ratio.ts';
export { semitones, type SemitonesParam } from './types/semitones.ts';
export { degrees, type DegreesParam } from './types/degrees.ts';
export { number, type NumberParam } from './types/number.ts';
export { key, type KeyParam } from './types/key.ts';
export { choice, shownOption, type ChoiceParam } from './types/choice.ts';
export { toggle, type ToggleParam } from './types/toggle.ts';
export { branchWord, sound, type SoundParam } from './types/sound.ts';
export { curve, type CurveParam } from './types/curve.ts';
export { list, type ListParam } from './types/list.ts';
export { notes, type NotesParam } from './types/notes.ts';

export type Params = Readonly<Record<string, Param>>;

export function isScaled(param: Param): param is ScaledParam {
  return typeOf(param).scaled;
}

/** `preDelay` → `pre delay`, unless the declaration gives a label. */
export function labelOf(key: string, param: Param): string {
  return param.label ?? key.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`);
}

/**
 * The value in its canonical unit under a tempo and sample rate. Choices, switches and lists stay as they are; a sound
 * becomes the text that stands for it, a curve over beats one over seconds.
 */
export function resolveSetting(param: Param, value: SettingValue, timing: Timing, sampleRate: number): Resolved {
  return typeOf(param).resolve(param, value, timing, sampleRate);
}

/** A declaration as it is under the settings of its stage: a level may have another unit by them. */
export function paramUnder(param: Param, settings: Settings): Param {
  return param.type === 'level' ? levelUnder(param, settings) : param;
}

/** The exact written form of a value; `off` at the end of the scale at which the parameter does nothing. */
export function printSetting(param: Param, value: SettingValue): string {
  return isScaled(param) && param.off && value === param[param.off] ? 'off' : typeOf(param).print(param, value);
}

/**
 * Reads what a user typed for this parameter. The range is checked with the whole chain, where the tempo is known; the
 * meter says how many beats "2 bars 1 beat" are.
 */
export function parseSetting(param: Param, text: string, meter?: Meter): SettingValue {
  if (isScaled(param) && param.off && text.trim().toLowerCase() === 'off') return param[param.off];
  return typeOf(param).parse(param, text, meter);
}

/** The parameter's range in words: `100 ms to 60 s`, `low, band, high or notch`. */
export function describeRange(param: Param): string {
  return typeOf(param).range(param);
}

/**
 * A setting on the way from one to another, along the parameter's scale; 0 gives the first, 1 the second. Two musical
 * lengths stay musical. Words and switches change half-way, words through those that stand between them in the list.
 * What has no way between (sounds, curves, rows) changes half-way.
 */
export function blendSettings(
  param: Param,
  from: SettingValue,
  to: SettingValue,
  share: number,
  timing: Timing,
): SettingValue {
  if (share <= 0 || JSON.stringify(from) === JSON.stringify(to)) return from;
  if (share >= 1) return to;
  return typeOf(param).blend(param, from, to, share, timing);
}

/**
 * Says what is wrong with a value that has the right shape but, under this tempo, the wrong size.
 * Returns undefined when it is in range.
 */
export function rangeFault(param: Param, value: SettingValue, timing: Timing, sampleRate: number): string | undefined {
  if (!isScaled(param)) return undefined;
  const resolved = resolveSetting(param, value, timing, sampleRate) as number;
  if (resolved >= param.min && resolved <= param.max) return undefined;
  const written = printSetting(param, value);
  const canonical = printSetting(param, Number(resolved.toPrecision(6)));
  const under = typeof value === 'object' && !('samples' in value) ? ` (${canonical} at ${timing.tempo} bpm)` : '';
  return `is ${written}${under}; allowed is ${describeRange(param)}`;
}
