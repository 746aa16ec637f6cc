import type { BiquadCoefficients } from './biquad.ts';
import { settled } from './settled.ts';

/**
 * A second-order section whose coefficients move in a straight line over a block, so that a setting that is turned makes
 * no click. Between two stable sections all on the line are stable: the coefficients that are lie in a triangle.
 */
export class MovingBiquad {
  private s1 = 0;
  private s2 = 0;
  private readonly now = new Float64Array(5);
  private fresh = true;

  reset(): void {
    this.s1 = 0;
    this.s2 = 0;
    this.fresh = true;
  }

  /** Filters in place, on the way to `goal`. */
  process(samples: Float64Array, frames: number, goal: BiquadCoefficients): void {
    const { now } = this;
    if (this.fresh) {
      this.fresh = false;
      this.arrive(goal);
    }
    const moving =
      now[0] !== goal.b0 || now[1] !== goal.b1 || now[2] !== goal.b2 || now[3] !== goal.a1 || now[4] !== goal.a2;
    if (moving) this.move(samples, frames, goal);
    else this.rest(samples, frames);
  }

  private arrive(goal: BiquadCoefficients): void {
    const { now } = this;
    now[0] = goal.b0;
    now[1] = goal.b1;
    now[2] = goal.b2;
    now[3] = goal.a1;
    now[4] = goal.a2;
  }

  private rest(samples: Float64Array, frames: number): void {
    const { now } = this;
    const b0 = now[0];
    const b1 = now[1];
    const b2 = now[2];
    const a1 = now[3];
    const a2 = now[4];
    let s1 = this.s1;
    let s2 = this.s2;
    for (let i = 0; i < frames; i++) {
      const x = samples[i];
      const y = b0 * x + s1;
      s1 = b1 * x - a1 * y + s2;
      s2 = b2 * x - a2 * y;
      samples[i] = y;
    }
    this.s1 = settled(s1);
    this.s2 = settled(s2);
  }

  private move(samples: Float64Array, frames: number, goal: BiquadCoefficients): void {
    const { now } = this;
    let b0 = now[0];
    let b1 = now[1];
    let b2 = now[2];
    let a1 = now[3];
    let a2 = now[4];
    const b0Step = (goal.b0 - b0) / frames;
    const b1Step = (goal.b1 - b1) / frames;
    const b2Step = (goal.b2 - b2) / frames;
    const a1Step = (goal.a1 - a1) / frames;
    const a2Step = (goal.a2 - a2) / frames;
    let s1 = this.s1;
    let s2 = this.s2;
    for (let i = 0; i < frames; i++) {
      const x = samples[i];
      const y = b0 * x + s1;
      s1 = b1 * x - a1 * y + s2;
      s2 = b2 * x - a2 * y;
      samples[i] = y;
      b0 += b0Step;
      b1 += b1Step;
      b2 += b2Step;
      a1 += a1Step;
      a2 += a2Step;
    }
    this.s1 = settled(s1);
    this.s2 = settled(s2);
    this.arrive(goal);
  }
}
