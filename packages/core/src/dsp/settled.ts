/**
 * Takes a state that has all but died for dead. Numbers near the least that a double can hold cost a machine many times
 * the work, and with some machines' shortcuts they would not give the same bits everywhere; this far below hearing they
 * are told apart from nothing by neither.
 */
export function settled(x: number): number {
  return x < NOTHING && x > -NOTHING ? 0 : x;
}

export const NOTHING = 1e-30;
