import { parseFrequency, printFrequency } from '../../timing/expressions.ts';
import type { NumericParam, ParamType, Scaled } from './contract.ts';
import { plainType } from './scale.ts';

export interface FrequencyParam extends NumericParam {
  readonly type: 'frequency';
  readonly default: number;
}

/** A place in the spectrum, in hertz. */
export const frequency = (p: Scaled<number>): FrequencyParam => ({ type: 'frequency', curve: 'log', ...p });

export const frequencyType: ParamType<FrequencyParam, number> = plainType('hertz', printFrequency, parseFrequency);
