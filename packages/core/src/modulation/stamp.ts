export const SHAPES = ['line', 'sine', 'triangle', 'square', 'saw', 'parabola', 'random'] as const;
export type Shape = (typeof SHAPES)[number];

/** A shape between two places of a curve. */
export interface Stamp {
  readonly shape: Shape;
  /** The two places it is fitted between. */
  readonly start: number;
  readonly end: number;
  /** The value it begins with and the one it goes to. */
  readonly from: number;
  readonly to: number;
  /** How often it is repeated; a line and a parabola go once unless more is said. */
  readonly cycles: number;
  readonly seed: number;
}

/** As often as a shape may be repeated. */
export const MOST_CYCLES = 200;
