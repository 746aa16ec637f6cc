import { InputError } from '../model/errors.ts';

/** A place in the text of a script: both count from 1. */
export interface Place {
  readonly line: number;
  readonly column: number;
}

/** Something in a script that is not allowed: where, what, and what is allowed instead. */
export interface ScriptFault extends Place {
  readonly message: string;
}

/** A script that cannot be compiled, with everything that was found wrong in it. */
export class ScriptError extends InputError {
  readonly places: readonly ScriptFault[];

  constructor(places: readonly ScriptFault[]) {
    const faults = places.map(({ line, column, message }) => `line ${line}, column ${column}: ${message}`);
    super(`The script is not allowed: ${faults[0]}`, { faults });
    this.places = places;
  }
}

/** Ends the work on something whose fault has been noted already. */
export class NotedAlready extends Error {}
