/** A value over one block: it moves in a straight line from `start` at the first frame towards `end` after the last. */
export interface Ramp {
  start: number;
  end: number;
}

/** A ramp that stands still. */
export function constant(value: number): Ramp {
  return { start: value, end: value };
}
