import { InputError } from '../../model/errors.ts';
import type { Modulator } from './contract.ts';
import { envelope } from './envelope.ts';
import { follower } from './follower.ts';
import { lfo } from './lfo.ts';
import { playedNotes } from './notes.ts';
import { random } from './random.ts';
import { sequence } from './sequence.ts';
import { trigger } from './trigger.ts';

/** All modulators, in the order in which they are shown. */
export const MODULATORS: readonly Modulator[] = [lfo, follower, sequence, envelope, trigger, random, playedNotes];

const byKind = new Map(MODULATORS.map((modulator) => [modulator.kind, modulator]));

/** The modulator of a kind; InputError when there is none. */
export function modulatorOf(kind: string): Modulator {
  const modulator = byKind.get(kind);
  if (!modulator)
    throw new InputError(`There is no modulator of kind "${kind}". Known kinds: ${[...byKind.keys()].join(', ')}.`);
  return modulator;
}
