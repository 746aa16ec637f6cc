import { parseDegrees, printDegrees } from '../../timing/expressions.ts';
import type { NumericParam, ParamType, Scaled } from './contract.ts';
import { plainType } from './scale.ts';

export interface DegreesParam extends NumericParam {
  readonly type: 'degrees';
  readonly default: number;
}

/** An angle in degrees. */
export const degrees = (p: Scaled<number>): DegreesParam => ({ type: 'degrees', curve: 'linear', ...p });

export const degreesType: ParamType<DegreesParam, number> = plainType('degrees', printDegrees, parseDegrees);
