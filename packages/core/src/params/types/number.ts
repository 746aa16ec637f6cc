import { parseNumber } from '../../timing/expressions.ts';
import type { NumericParam, ParamType, Scaled } from './contract.ts';
import { plainType } from './scale.ts';

export interface NumberParam extends NumericParam {
  readonly type: 'number';
  readonly default: number;
}

/** A plain number without a unit. */
export const number = (p: Scaled<number>): NumberParam => ({ type: 'number', curve: 'linear', ...p });

export const numberType: ParamType<NumberParam, number> = plainType('', String, parseNumber);
