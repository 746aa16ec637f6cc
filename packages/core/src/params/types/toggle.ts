import { InputError, shortened } from '../../model/errors.ts';
import type { NumericParam, ParamText, ParamType } from './contract.ts';
import { halfWay } from './scale.ts';

export interface ToggleParam extends ParamText, Pick<NumericParam, 'fixed'> {
  readonly type: 'toggle';
  readonly default: boolean;
  /** Where it is something to do while it plays: what turning it on does, and what turning it off does. */
  readonly act?: { readonly on: string; readonly off: string };
}

/** On or off. */
export const toggle = (p: Omit<ToggleParam, 'type'>): ToggleParam => ({ type: 'toggle', ...p });

export const toggleType: ParamType<ToggleParam, boolean> = {
  unit: '',
  scaled: false,
  resolve: (_param, value) => value,
  print: (_param, value) => (value ? 'on' : 'off'),
  parse(_param, text) {
    const word = text.trim().toLowerCase();
    if (word === 'on' || word === 'true') return true;
    if (word === 'off' || word === 'false') return false;
    throw new InputError(`"${shortened(text)}" is not allowed; write on or off.`);
  },
  range: () => 'on or off',
  schema: (_param, z) => z.boolean(),
  blend: halfWay,
};
