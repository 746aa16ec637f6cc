/** A value over one block: it moves in a straight line from `start` at the first frame towards `end` after the last. */
export interface Ramp {
  start: number;
  end: number;
}

/** A ramp that stands still. */
export function constant(value: number): Ramp {
  return { start: value, end: value };
}

/** The value at a share of the block, 0…1. */
export function valueAt({ start, end }: Ramp, share: number): number {
  return start + share * (end - start);
}
