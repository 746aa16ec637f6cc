import { parseInterval, printInterval } from '../../timing/expressions.ts';
import type { NumericParam, ParamType, Scaled } from './contract.ts';
import { plainType } from './scale.ts';

export interface SemitonesParam extends NumericParam {
  readonly type: 'semitones';
  readonly default: number;
}

/** An interval in semitones. */
export const semitones = (p: Scaled<number>): SemitonesParam => ({ type: 'semitones', curve: 'linear', ...p });

export const semitonesType: ParamType<SemitonesParam, number> = plainType('semitones', printInterval, parseInterval);
