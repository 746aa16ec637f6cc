import { parseKey, printKey } from '../../timing/expressions.ts';
import type { NumericParam, ParamType, Scaled } from './contract.ts';
import { plainType } from './scale.ts';

export interface KeyParam extends NumericParam {
  readonly type: 'key';
  readonly default: number;
}

/** A note as its MIDI key, 60 for C4. */
export const key = (p: Scaled<number>): KeyParam => ({ type: 'key', curve: 'linear', ...p });

export const keyType: ParamType<KeyParam, number> = plainType('MIDI key', printKey, parseKey);
