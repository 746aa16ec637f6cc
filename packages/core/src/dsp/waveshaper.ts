import { PI, exp, sin, tanh } from './portableMath.ts';
import type { Ramp } from '../model/ramp.ts';

export const SHAPES = ['soft', 'hard', 'fold', 'fuzz', 'diode'] as const;
export type Shape = (typeof SHAPES)[number];

/** The curve is kept between −REACH and REACH and is straight beyond. */
const REACH = 64;
const POINTS_PER_UNIT = 128;
const POINTS = 2 * REACH * POINTS_PER_UNIT;
const STEP = 1 / POINTS_PER_UNIT;
/** Where folding ends: at the top of a fold, so that the curve goes on straight without a corner. */
const LAST_FOLD = 8.5 * PI;

/** A shape's curve for a ceiling of 1: slope 1 at the middle, never beyond ±1. */
export function bend(shape: Shape, x: number): number {
  switch (shape) {
    case 'soft':
      return tanh(x);
    case 'hard':
      return Math.max(-1, Math.min(1, x));
    case 'fold':
      return x > LAST_FOLD ? 1 : x < -LAST_FOLD ? -1 : sin(x);
    case 'fuzz':
      // One side gives way at once, the other holds until it is cut.
      return x > 0 ? x / (1 + x) : Math.max(-1, x);
    case 'diode':
      return x > 0 ? 1 - exp(-x) : (exp(1.6 * x) - 1) / 1.6;
  }
}

/** The curve at every point, straight between them, and its first and second antiderivative. */
interface Tables {
  readonly curve: Float64Array;
  readonly integral: Float64Array;
  readonly second: Float64Array;
}

const tables = new Map<Shape, Tables>();

function tablesOf(shape: Shape): Tables {
  let found = tables.get(shape);
  if (!found) {
    const at = (point: number) => (point - POINTS / 2) / POINTS_PER_UNIT;
    const curve = Float64Array.from({ length: POINTS + 2 }, (_, i) => bend(shape, at(i)));
    const integral = new Float64Array(POINTS + 2);
    for (let i = 1; i < integral.length; i++) integral[i] = integral[i - 1] + (STEP * (curve[i - 1] + curve[i])) / 2;
    // Counted from the middle, where sounds mostly are, so that it is exact there.
    const middle = integral[POINTS / 2];
    for (let i = 0; i < integral.length; i++) integral[i] -= middle;
    const second = new Float64Array(POINTS + 2);
    for (let i = POINTS / 2 + 1; i < second.length; i++)
      second[i] = second[i - 1] + STEP * (integral[i - 1] + (STEP * (2 * curve[i - 1] + curve[i])) / 6);
    for (let i = POINTS / 2 - 1; i >= 0; i--)
      second[i] = second[i + 1] - STEP * (integral[i] + (STEP * (2 * curve[i] + curve[i + 1])) / 6);
    found = { curve, integral, second };
    tables.set(shape, found);
  }
  return found;
}

/** Ways between samples that are shorter are taken for none: their quotients would be noise. */
const SHORT = 1e-3;

/**
 * Bends a wave by a shape. With antiderivatives, what would fold back is held down by giving, instead of the curve's value
 * at a sample, its mean over two samples either side, weighed by a triangle (J. Parker, V. Zavalishin & E. Le Bivic,
 * "Reducing the aliasing of nonlinear waveshaping using continuous-time convolution", 2016; second order: S. Bilbao,
 * F. Esqueda, J. Parker & V. Välimäki, "Antiderivative antialiasing for memoryless nonlinearities", 2017). That comes one
 * sample late. Reads tables; allocates nothing once made.
 */
export class Waveshaper {
  private readonly shape: Shape;
  private readonly averaged: boolean;
  private readonly curve: Float64Array;
  private readonly integral: Float64Array;
  private readonly second: Float64Array;
  private last = 0;
  private beforeLast = 0;
  private fresh = true;

  constructor(shape: Shape, averaged: boolean) {
    this.shape = shape;
    this.averaged = averaged;
    const { curve, integral, second } = tablesOf(shape);
    this.curve = curve;
    this.integral = integral;
    this.second = second;
  }

  /** Samples by which what comes out is late. */
  get latency(): number {
    return this.averaged ? 1 : 0;
  }

  reset(): void {
    this.last = 0;
    this.beforeLast = 0;
    this.fresh = true;
  }

  /**
   * In place. `ceiling` scales the curve in both directions; `bias` is added, in ceilings, before it. What the bias alone
   * would make of silence is taken away.
   */
  process(samples: Float64Array, frames: number, gain: Ramp, ceiling: Ramp, bias: Ramp): void {
    const { averaged } = this;
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
      this.beforeLast = lift;
    }
    let last = this.last;
    let beforeLast = this.beforeLast;
    let lastQuotient = averaged ? this.quotient(last, beforeLast) : 0;
    for (let i = 0; i < frames; i++) {
      const x = Math.max(-REACH + 1, Math.min(REACH - 1, push * samples[i] + lift));
      let y: number;
      if (averaged) {
        const quotient = this.quotient(x, last);
        const way = x - beforeLast;
        y =
          way > SHORT || way < -SHORT
            ? (2 * (quotient - lastQuotient)) / way
            : this.turning(0.5 * (x + beforeLast), last);
        lastQuotient = quotient;
        beforeLast = last;
        last = x;
      } else {
        y = this.at(x);
      }
      samples[i] = top * y - rest;
      push += pushStep;
      top += topStep;
      lift += liftStep;
      rest += restStep;
    }
    this.last = last;
    this.beforeLast = beforeLast;
  }

  /** Slope of the second antiderivative between two points. */
  private quotient(a: number, b: number): number {
    const way = a - b;
    return way > SHORT || way < -SHORT ? (this.secondAt(a) - this.secondAt(b)) / way : this.integralAt(0.5 * (a + b));
  }

  /** The mean where the wave comes back to where it was: from `end` to `turn` and to `end` again. */
  private turning(end: number, turn: number): number {
    const way = end - turn;
    return way > SHORT || way < -SHORT
      ? (2 * (this.integralAt(end) + (this.secondAt(turn) - this.secondAt(end)) / way)) / way
      : this.at(0.5 * (end + turn));
  }

  /** The curve at a point. */
  at(x: number): number {
    if (this.shape === 'hard') return x > 1 ? 1 : x < -1 ? -1 : x;
    const place = (x + REACH) * POINTS_PER_UNIT;
    const whole = place | 0;
    return this.curve[whole] + (place - whole) * (this.curve[whole + 1] - this.curve[whole]);
  }

  /** The same for any number. */
  reaching(x: number): number {
    return this.at(Math.max(-REACH + 1, Math.min(REACH - 1, x)));
  }

  private integralAt(x: number): number {
    const { curve, integral } = this;
    const place = (x + REACH) * POINTS_PER_UNIT;
    const at = place | 0;
    const t = place - at;
    return integral[at] + STEP * t * (curve[at] + 0.5 * t * (curve[at + 1] - curve[at]));
  }

  private secondAt(x: number): number {
    const { curve, integral, second } = this;
    const place = (x + REACH) * POINTS_PER_UNIT;
    const at = place | 0;
    const t = place - at;
    return (
      second[at] + STEP * t * (integral[at] + STEP * t * (0.5 * curve[at] + (t * (curve[at + 1] - curve[at])) / 6))
    );
  }
}
