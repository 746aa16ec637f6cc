import { parseRatio, printRatio } from '../../timing/expressions.ts';
import type { NumericParam, ParamType, Scaled } from './contract.ts';
import { plainType } from './scale.ts';

export interface RatioParam extends NumericParam {
  readonly type: 'ratio';
  readonly default: number;
}

/** A share or factor, 1 = 100 %. */
export const ratio = (p: Omit<Scaled<number>, 'min' | 'max'> & { min?: number; max?: number }): RatioParam => ({
  type: 'ratio',
  curve: 'linear',
  min: 0,
  max: 1,
  ...p,
});

export const ratioType: ParamType<RatioParam, number> = plainType('shares', printRatio, parseRatio);
