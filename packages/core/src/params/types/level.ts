import { parseLevel, printLevel } from '../../timing/expressions.ts';
import type { NumericParam, ParamType, Scaled } from './contract.ts';
import { plainType } from './scale.ts';

export interface LevelParam extends NumericParam {
  readonly type: 'level';
  readonly default: number;
}

/** A level in decibels. */
export const level = (p: Scaled<number>): LevelParam => ({ type: 'level', curve: 'linear', ...p });

export const levelType: ParamType<LevelParam, number> = plainType('decibels', printLevel, parseLevel);
