import * as portable from '../dsp/portableMath.ts';

/**
 * An expression of settings that is worked out wherever a plan is made: plain data, so that threads that read no text have
 * it, too.
 */
export type HeaderExpression =
  | { readonly is: 'value'; readonly value: number | boolean | string }
  | { readonly is: 'setting'; readonly name: string }
  | { readonly is: 'call'; readonly name: string; readonly args: readonly HeaderExpression[] };

export type Value = number | boolean | string;

const two = (work: (a: number, b: number) => Value) => (args: readonly Value[]) =>
  work(Number(args[0]), Number(args[1]));
const one = (work: (a: number) => number) => (args: readonly Value[]) => work(Number(args[0]));

/** What may be called, by operators and by functions of `Math`. */
export const CALLS: ReadonlyMap<string, (args: readonly Value[]) => Value> = new Map([
  ['+', two((a, b) => a + b)],
  ['-', two((a, b) => a - b)],
  ['*', two((a, b) => a * b)],
  ['/', two((a, b) => a / b)],
  ['<', two((a, b) => a < b)],
  ['>', two((a, b) => a > b)],
  ['<=', two((a, b) => a <= b)],
  ['>=', two((a, b) => a >= b)],
  ['===', ([a, b]: readonly Value[]) => a === b],
  ['!==', ([a, b]: readonly Value[]) => a !== b],
  ['&&', ([a, b]: readonly Value[]) => (a ? b : a)],
  ['||', ([a, b]: readonly Value[]) => (a ? a : b)],
  ['!', ([a]: readonly Value[]) => !a],
  ['negative', one((a) => -a)],
  ['?', ([a, b, c]: readonly Value[]) => (a ? b : c)],
  ['Math.min', (args: readonly Value[]) => Math.min(...args.map(Number))],
  ['Math.max', (args: readonly Value[]) => Math.max(...args.map(Number))],
  ['Math.abs', one(Math.abs)],
  ['Math.sqrt', one(Math.sqrt)],
  ['Math.floor', one(Math.floor)],
  ['Math.ceil', one(Math.ceil)],
  ['Math.round', one(Math.round)],
  ['Math.exp', one(portable.exp)],
  ['Math.log', one(portable.log)],
  ['Math.log10', one(portable.log10)],
  ['Math.pow', two(portable.pow)],
]);

/** What an expression gives for settings in their canonical units. */
export function valueOf(expression: HeaderExpression, settings: Readonly<Record<string, unknown>>): Value {
  if (expression.is === 'value') return expression.value;
  if (expression.is === 'setting') return settings[expression.name] as Value;
  return CALLS.get(expression.name)!(expression.args.map((arg) => valueOf(arg, settings)));
}
