/** Every type of parameter. A new one is a file, and a line in each of the three lists here. */
import { timeType, type TimeParam } from './time.ts';
import { rateType, type RateParam } from './rate.ts';
import { frequencyType, type FrequencyParam } from './frequency.ts';
import { levelType, type LevelParam } from './level.ts';
import { ratioType, type RatioParam } from './ratio.ts';
import { semitonesType, type SemitonesParam } from './semitones.ts';
import { degreesType, type DegreesParam } from './degrees.ts';
import { numberType, type NumberParam } from './number.ts';
import { keyType, type KeyParam } from './key.ts';
import { choiceType, type ChoiceParam } from './choice.ts';
import { toggleType, type ToggleParam } from './toggle.ts';
import { soundType, type SoundParam } from './sound.ts';
import { curveType, type CurveParam } from './curve.ts';
import { listType, type ListParam } from './list.ts';
import { notesType, type NotesParam } from './notes.ts';
import type { ParamType, SettingValue } from './contract.ts';

export type ScaledParam =
  | TimeParam
  | RateParam
  | FrequencyParam
  | LevelParam
  | RatioParam
  | SemitonesParam
  | DegreesParam
  | NumberParam
  | KeyParam;
export type Param = ScaledParam | ChoiceParam | ToggleParam | SoundParam | CurveParam | ListParam | NotesParam;

const TYPES: { readonly [T in Param['type']]: ParamType<Extract<Param, { type: T }>, SettingValue> } = {
  time: timeType,
  rate: rateType,
  frequency: frequencyType,
  level: levelType,
  ratio: ratioType,
  semitones: semitonesType,
  degrees: degreesType,
  number: numberType,
  key: keyType,
  choice: choiceType,
  toggle: toggleType,
  sound: soundType,
  curve: curveType,
  list: listType,
  notes: notesType,
};

/** What a parameter's type says of it. */
export function typeOf(param: Param): ParamType<Param, SettingValue> {
  return TYPES[param.type] as ParamType<Param, SettingValue>;
}
