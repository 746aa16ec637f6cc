import { InputError, shortened } from '../../model/errors.ts';
import type { ParamText, ParamType } from './contract.ts';

export interface ChoiceParam<C extends string = string> extends ParamText {
  readonly type: 'choice';
  readonly options: readonly C[];
  readonly default: C;
  /** What an option is called where its word in documents is not the trade's. */
  readonly shown?: Readonly<Partial<Record<C, string>>>;
}

/** One of several words. */
export const choice = <const C extends string>(
  options: readonly C[],
  p: ParamText & { default: NoInfer<C>; shown?: NoInfer<Readonly<Partial<Record<C, string>>>> },
): ChoiceParam<C> => ({ type: 'choice', options, ...p });

/** What an option is called on the page, in the reference and on the sheet. */
export function shownOption<C extends string>({ shown }: ChoiceParam<C>, option: C): string {
  return shown?.[option] ?? option;
}

export const choiceType: ParamType<ChoiceParam, string> = {
  unit: '',
  scaled: false,
  resolve: (_param, value) => value,
  print: (param, value) => shownOption(param, value),
  /** What is shown counts before what stands in documents, so that what was printed is read as the same. */
  parse(param, text) {
    const word = text.trim().toLowerCase();
    const shown = param.options.map((option) => shownOption(param, option));
    const found =
      param.options.find((_option, index) => shown[index].toLowerCase() === word) ??
      param.options.find((option) => option.toLowerCase() === word);
    if (found === undefined) throw new InputError(`"${shortened(text)}" is not allowed; choose ${shown.join(', ')}.`);
    return found;
  },
  range: (param) => param.options.map((option) => shownOption(param, option)).join(', '),
  schema: ({ options }, z) => z.enum(options as [string, ...string[]]),
  /** Through those that stand between them in the list. */
  blend({ options }, from, to, share) {
    const [first, last] = [options.indexOf(from), options.indexOf(to)];
    return options[Math.round(first + (last - first) * share)];
  },
};
