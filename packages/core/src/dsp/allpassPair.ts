import type { Ramp } from '../model/ramp.ts';
import { exp } from './portableMath.ts';
import { NOTHING } from './settled.ts';

/**
 * Schroeder's all-pass sections around delays of a whole number of frames (M. R. Schroeder, "Natural sounding artificial
 * reverberation", 1962): smear a sound in time and leave its spectrum alone. One section for the left and one for the
 * right, of unlike lengths, run in one loop.
 */
export class AllpassPair {
  private readonly left: Float64Array;
  private readonly right: Float64Array;
  /** What is left of a sound that has been through a delay, and what shall be. */
  private leftKept = 1;
  private rightKept = 1;
  private leftGoal = 1;
  private rightGoal = 1;
  private fresh = true;
  private leftIndex = 0;
  private rightIndex = 0;

  constructor(leftFrames: number, rightFrames: number) {
    this.left = new Float64Array(leftFrames);
    this.right = new Float64Array(rightFrames);
  }

  reset(): void {
    this.left.fill(0);
    this.right.fill(0);
    this.leftIndex = 0;
    this.rightIndex = 0;
    this.fresh = true;
  }

  /**
   * Lets a section lose something in its delay, so that it rings no longer than what it stands in front of. `loss` is the
   * natural logarithm of what a frame leaves. Takes effect over the next block.
   */
  lose(loss: number): void {
    this.leftGoal = exp(loss * this.left.length);
    this.rightGoal = exp(loss * this.right.length);
    if (!this.fresh) return;
    this.leftKept = this.leftGoal;
    this.rightKept = this.rightGoal;
  }

  /** Share of the energy of a sound that comes out again at this gain, for what it is set to lose. */
  energyAt(gain: number): number {
    return 0.5 * (energyOf(gain, this.leftGoal) + energyOf(gain, this.rightGoal));
  }

  /** Processes `frames` frames in place; |gain| below 1, moving in a straight line. */
  process(left: Float64Array, right: Float64Array, frames: number, { start, end }: Ramp): void {
    const a = this.left;
    const b = this.right;
    const step = (end - start) / frames;
    let gain = start;
    let leftKept = this.leftKept;
    let rightKept = this.rightKept;
    const leftStep = (this.leftGoal - leftKept) / frames;
    const rightStep = (this.rightGoal - rightKept) / frames;
    this.leftKept = this.leftGoal;
    this.rightKept = this.rightGoal;
    this.fresh = false;
    for (let done = 0; done < frames;) {
      // Up to where one of the rings comes round: no test for it inside the loop.
      const i = this.leftIndex;
      const j = this.rightIndex;
      const count = Math.min(frames - done, a.length - i, b.length - j);
      for (let n = 0; n < count; n++) {
        const leftOld = leftKept * a[i + n];
        const rightOld = rightKept * b[j + n];
        let leftFed = left[done + n] - gain * leftOld;
        let rightFed = right[done + n] - gain * rightOld;
        if (leftFed < NOTHING && leftFed > -NOTHING) leftFed = 0;
        if (rightFed < NOTHING && rightFed > -NOTHING) rightFed = 0;
        left[done + n] = leftOld + gain * leftFed;
        right[done + n] = rightOld + gain * rightFed;
        a[i + n] = leftFed;
        b[j + n] = rightFed;
        gain += step;
        leftKept += leftStep;
        rightKept += rightStep;
      }
      this.leftIndex = i + count === a.length ? 0 : i + count;
      this.rightIndex = j + count === b.length ? 0 : j + count;
      done += count;
    }
  }
}

/** The first echo is the gain itself, all others fall by gain × kept. */
function energyOf(gain: number, kept: number): number {
  const square = gain * gain;
  return square + ((1 - square) * (1 - square) * kept * kept) / (1 - square * kept * kept);
}
