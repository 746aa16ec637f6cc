import { parseLevel, printLevel } from '../../timing/expressions.ts';
import type { NumericParam, ParamType, Scaled } from './contract.ts';
import { plainType } from './scale.ts';

/** Against what a level is measured: full scale, full scale of the true peak, loudness; plain for a change of level. */
export type LevelUnit = 'dB' | 'dBFS' | 'dBTP' | 'LUFS';

export interface LevelParam extends NumericParam {
  readonly type: 'level';
  readonly default: number;
  /** Plain decibels when left out. */
  readonly unit?: LevelUnit;
}

/** A level in decibels. */
export const level = (p: Scaled<number> & { readonly unit?: LevelUnit }): LevelParam => ({
  type: 'level',
  curve: 'linear',
  ...p,
});

export const levelType: ParamType<LevelParam, number> = plainType(
  'decibels',
  (value, { unit }) => printLevel(value, unit),
  (text) => parseLevel(text),
);
