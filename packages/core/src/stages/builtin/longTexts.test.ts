/** Whatever is typed for a parameter of any kind, however long, is refused at once and in few words. */
import { BUILT_INS } from '../../catalogue/builtIns.ts';
import { expect, test } from 'vitest';
import { assign } from '../../chain/edit.ts';
import { InputError } from '../../model/errors.ts';
import { chainOf } from '../../testing/chains.ts';
import { parseSetting, type Param } from '../../params/params.ts';

/** One parameter of every type that stages have. */
const KINDS = [
  ...new Map(
    BUILT_INS.stages
      .flatMap(({ params }) => Object.values(params))
      .filter(({ type }) => type !== 'sound')
      .map((param): [string, Param] => [param.type, param]),
  ),
];

/** A reader that goes back over what it has read would take hours for these. */
const LONG = 400_000;
const TEXTS: readonly (readonly [string, string])[] = [
  ['digits', '1'.repeat(LONG)],
  ['digits and a word', `${'1'.repeat(LONG)}!`],
  ['a place of digits', `0:${'1'.repeat(LONG)}!`],
  ['spaces', `1${' '.repeat(LONG)}!`],
  ['points', '.'.repeat(LONG)],
  ['colons', '0:'.repeat(LONG / 2)],
];

const messageOf = (work: () => unknown): string => {
  try {
    work();
  } catch (error) {
    expect(error).toBeInstanceOf(InputError);
    return (error as InputError).message;
  }
  throw new Error('it was taken');
};

test.each(KINDS)('%s', (_, param) => {
  for (const [name, text] of TEXTS) {
    const message = messageOf(() => parseSetting(param, text));
    expect([name, message.length < 400]).toEqual([name, true]);
  }
});

test('assignments', () => {
  const chain = chainOf([{ kind: 'gain' }]);
  const written = [
    '1'.repeat(LONG),
    `${' '.repeat(LONG)}gain`,
    `gain.gain=${'1'.repeat(LONG)}`,
    `a${' '.repeat(LONG)}=1`,
  ];
  for (const text of written) expect(messageOf(() => assign(BUILT_INS, chain, text)).length).toBeLessThan(400);
  expect(assign(BUILT_INS, chain, ' gain.gain = -6 dB').stages[0].settings['gain']).toBe(-6);
});
