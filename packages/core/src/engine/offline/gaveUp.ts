import type { UnitAtWork } from '../run/row.ts';
import { HELD } from '../../stages/contract.ts';

/** A stage that passes its input on from somewhere in a render, since its own text does not go on, or whose output had to be held. */
export interface GaveUp {
  readonly id: string;
  readonly title: string;
  /** See `LiveProcessor.givenUp`. */
  readonly why: number;
}

/** Those of stages that have given up. */
export function gaveUpOf(units: readonly UnitAtWork[]): GaveUp[] {
  return units.flatMap(({ id, title, givenUp }) => (givenUp === 0 ? [] : [{ id, title, why: givenUp }]));
}

/** The same in a sentence. */
export function gaveUpText({ title, why }: GaveUp): string {
  if (why === HELD) return `“${title}” went beyond ±64 (36 dB above full scale) and was held there.`;
  const reason = why > 0 ? `worked too long (line ${why} of its text)` : 'came to a value that is no number';
  return `“${title}” ${reason}; from there on it passes the sound on as it is.`;
}
