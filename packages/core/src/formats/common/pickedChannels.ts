import { InputError } from '../../model/errors.ts';

/** Which channels of a file with `all` are taken, from 0: those asked for, else the first two. InputError for others. */
export function pickedChannels(all: number, wanted?: readonly number[]): readonly number[] {
  if (wanted === undefined) return all === 1 ? [0] : [0, 1];
  const outside = wanted.some((channel) => !Number.isInteger(channel) || channel < 0 || channel >= all);
  if (outside || wanted.length < 1 || wanted.length > 2)
    throw new InputError(
      `Channels ${wanted.map((channel) => channel + 1).join(' and ')} cannot be taken: the file has ${all}; one or two of 1 to ${all} are allowed.`,
    );
  return wanted;
}

/** Reads `3` or `1,2`, counted from 1. */
export function parseChannels(text: string): readonly number[] {
  const numbers = text.split(',').map((part) => Number(part.trim()) - 1);
  if (!numbers.every(Number.isInteger))
    throw new InputError(`"${text}" names no channels; write one or two numbers, such as 3 or 1,2.`);
  return numbers;
}
