import { parseLevel, printLevel } from '../../timing/expressions.ts';
import type { NumericParam, ParamType, Scaled, Settings } from './contract.ts';
import { plainType } from './scale.ts';

/** Against what a level is measured: full scale, full scale of the true peak, loudness; plain for a change of level. */
export type LevelUnit = 'dB' | 'dBFS' | 'dBTP' | 'LUFS';

export interface LevelParam extends NumericParam {
  readonly type: 'level';
  readonly default: number;
  /** Plain decibels when left out. */
  readonly unit?: LevelUnit;
  /** The unit where it depends on other settings. */
  readonly unitBy?: (settings: Settings) => LevelUnit;
}

/** A level in decibels. */
export const level = (p: Scaled<number> & Pick<LevelParam, 'unit' | 'unitBy'>): LevelParam => ({
  type: 'level',
  curve: 'linear',
  ...p,
});

export const levelType: ParamType<LevelParam, number> = plainType(
  'decibels',
  (value, { unit }) => printLevel(value, unit),
  (text) => parseLevel(text),
);

/** The same declaration with each unit, made once: a row that gets another one has work to do. */
const inUnits = new WeakMap<LevelParam, Map<LevelUnit, LevelParam>>();

/** The declaration with the unit that it has under these settings. */
export function levelUnder(param: LevelParam, settings: Settings): LevelParam {
  const unit = param.unitBy?.(settings);
  if (unit === undefined) return param;
  const made = inUnits.get(param) ?? new Map<LevelUnit, LevelParam>();
  inUnits.set(param, made);
  const there = made.get(unit) ?? { ...param, unit };
  made.set(unit, there);
  return there;
}
