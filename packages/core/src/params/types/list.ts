import { InputError, shortened } from '../../model/errors.ts';
import { refuseLong } from '../../modulation/writtenCurve.ts';
import type { ParamText, ParamType } from './contract.ts';
import { halfWay } from './scale.ts';

/** Numbers in a row. */
export interface ListParam extends ParamText {
  readonly type: 'list';
  readonly unit: 'seconds' | 'whole' | 'plain';
  readonly min: number;
  readonly max: number;
  /** How many there may be. */
  readonly most: number;
  readonly default: readonly number[];
}

/** Numbers in a row; none by default. */
export const list = (p: Omit<ListParam, 'type' | 'default'> & { default?: readonly number[] }): ListParam => ({
  type: 'list',
  default: [],
  ...p,
});

export const listType: ParamType<ListParam, readonly number[]> = {
  unit: '',
  scaled: false,
  resolve: (_param, value) => value,
  print: (_param, value) => value.join(' ') || 'none',
  parse(_param, text) {
    refuseLong(text);
    const words = text
      .replaceAll('\u2212', '-')
      .split(/[\s,;]+/)
      .filter((word) => word !== '');
    if (words.length === 1 && words[0].toLowerCase() === 'none') return [];
    return words.map((word) => {
      const value = Number(word);
      if (!Number.isFinite(value))
        throw new InputError(`"${shortened(word)}" is not a number; write numbers with spaces between them, or none.`);
      return value;
    });
  },
  range({ unit, min, max, most }) {
    const kind = { whole: 'whole numbers', seconds: 'times in seconds', plain: 'numbers' }[unit];
    return `none or up to ${most} ${kind} from ${min} to ${max}`;
  },
  schema({ unit, min, max, most }, z) {
    const entry = z.number().min(min).max(max);
    return z.array(unit === 'whole' ? entry.int() : entry).max(most);
  },
  blend: halfWay,
};
