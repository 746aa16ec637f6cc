import { exp, sin, tanh } from './portableMath.ts';
import type { Ramp } from './ramp.ts';

export const SHAPES = ['soft', 'hard', 'fold', 'fuzz', 'diode'] as const;
export type Shape = (typeof SHAPES)[number];

/** The curve is kept between −REACH and REACH and is straight beyond. */
const REACH = 64;
const POINTS_PER_UNIT = 128;
const POINTS = 2 * REACH * POINTS_PER_UNIT;

/** A shape's curve for a ceiling of 1: slope 1 at the middle, never beyond ±1. */
export function bend(shape: Shape, x: number): number {
  switch (shape) {
    case 'soft':
      return tanh(x);
    case 'hard':
      return Math.max(-1, Math.min(1, x));
    case 'fold':
      return sin(x);
    case 'fuzz':
      // One side gives way at once, the other holds until it is cut.
      return x > 0 ? x / (1 + x) : Math.max(-1, x);
    case 'diode':
      return x > 0 ? 1 - exp(-x) : (exp(1.6 * x) - 1) / 1.6;
  }
}

/** The curve at every point, straight between them, and its antiderivative. */
interface Tables {
  readonly curve: Float64Array;
  readonly integral: Float64Array;
}

const tables = new Map<Shape, Tables>();

function tablesOf(shape: Shape): Tables {
  let found = tables.get(shape);
  if (!found) {
    const at = (point: number) => (point - POINTS / 2) / POINTS_PER_UNIT;
    const curve = Float64Array.from({ length: POINTS + 2 }, (_, i) => bend(shape, at(i)));
    const integral = new Float64Array(POINTS + 2);
    for (let i = 1; i < integral.length; i++)
      integral[i] = integral[i - 1] + (0.5 * (curve[i - 1] + curve[i])) / POINTS_PER_UNIT;
    found = { curve, integral };
    tables.set(shape, found);
  }
  return found;
}

/**
 * Bends a wave by a shape. With antiderivatives, what would fold back is held down by giving the curve's mean between two
 * samples instead of its value at one (J. Parker, V. Zavalishin & E. Le Bivic, "Reducing the aliasing of nonlinear
 * waveshaping using continuous-time convolution", 2016). Reads tables; allocates nothing once made.
 */
export class Waveshaper {
  private readonly shape: Shape;
  private readonly averaged: boolean;
  private readonly curve: Float64Array;
  private readonly integral: Float64Array;
  private last = 0;
  private fresh = true;

  constructor(shape: Shape, averaged: boolean) {
    this.shape = shape;
    this.averaged = averaged;
    const { curve, integral } = tablesOf(shape);
    this.curve = curve;
    this.integral = integral;
  }

  reset(): void {
    this.last = 0;
    this.fresh = true;
  }

  /**
   * In place. `ceiling` scales the curve in both directions; `bias` is added, in ceilings, before it. What the bias alone
   * would make of silence is taken away.
   */
  process(samples: Float64Array, frames: number, gain: Ramp, ceiling: Ramp, bias: Ramp): void {
    const { curve, integral, averaged } = this;
    const hard = this.shape === 'hard';
    let push = gain.start / ceiling.start;
    const pushStep = (gain.end / ceiling.end - push) / frames;
    let top = ceiling.start;
    const topStep = (ceiling.end - top) / frames;
    let lift = bias.start;
    const liftStep = (bias.end - lift) / frames;
    let rest = ceiling.start * this.at(bias.start);
    const restStep = (ceiling.end * this.at(bias.end) - rest) / frames;
    if (this.fresh) {
      this.fresh = false;
      this.last = lift;
    }
    let last = this.last;
    for (let i = 0; i < frames; i++) {
      const x = Math.max(-REACH + 1, Math.min(REACH - 1, push * samples[i] + lift));
      let y: number;
      const way = x - last;
      if (averaged && (way > 1e-3 || way < -1e-3)) {
        y = (read(integral, curve, x) - read(integral, curve, last)) / way;
      } else if (hard) {
        const middle = averaged ? 0.5 * (x + last) : x;
        y = middle > 1 ? 1 : middle < -1 ? -1 : middle;
      } else {
        const place = ((averaged ? 0.5 * (x + last) : x) + REACH) * POINTS_PER_UNIT;
        const at = place | 0;
        y = curve[at] + (place - at) * (curve[at + 1] - curve[at]);
      }
      samples[i] = top * y - rest;
      last = x;
      push += pushStep;
      top += topStep;
      lift += liftStep;
      rest += restStep;
    }
    this.last = last;
  }

  /** The curve at a point. */
  private at(x: number): number {
    if (this.shape === 'hard') return x > 1 ? 1 : x < -1 ? -1 : x;
    const place = (x + REACH) * POINTS_PER_UNIT;
    const whole = place | 0;
    return this.curve[whole] + (place - whole) * (this.curve[whole + 1] - this.curve[whole]);
  }
}

/** The antiderivative between two points. */
function read(integral: Float64Array, curve: Float64Array, x: number): number {
  const place = (x + REACH) * POINTS_PER_UNIT;
  const at = place | 0;
  const t = place - at;
  return integral[at] + (t * (curve[at] + 0.5 * t * (curve[at + 1] - curve[at]))) / POINTS_PER_UNIT;
}
