import { InputError, shortened } from '../../model/errors.ts';
import type { ParamText, ParamType } from './contract.ts';

export interface ChoiceParam<C extends string = string> extends ParamText {
  readonly type: 'choice';
  readonly options: readonly C[];
  readonly default: C;
}

/** One of several words. */
export const choice = <const C extends string>(
  options: readonly C[],
  p: ParamText & { default: NoInfer<C> },
): ChoiceParam<C> => ({ type: 'choice', options, ...p });

export const choiceType: ParamType<ChoiceParam, string> = {
  unit: '',
  scaled: false,
  resolve: (_param, value) => value,
  print: (_param, value) => value,
  parse({ options }, text) {
    const word = text.trim().toLowerCase();
    const found = options.find((option) => option.toLowerCase() === word);
    if (found === undefined) throw new InputError(`"${shortened(text)}" is not allowed; choose ${options.join(', ')}.`);
    return found;
  },
  range: ({ options }) => options.join(', '),
  schema: ({ options }, z) => z.enum(options as [string, ...string[]]),
  /** Through those that stand between them in the list. */
  blend({ options }, from, to, share) {
    const [first, last] = [options.indexOf(from), options.indexOf(to)];
    return options[Math.round(first + (last - first) * share)];
  },
};
