/**
 * Schroeder's all-pass sections around delays of a whole number of frames (M. R. Schroeder, "Natural sounding artificial
 * reverberation", 1962): smear a sound in time and leave its spectrum alone. One section for the left and one for the
 * right, of unlike lengths, run in one loop.
 */
export class AllpassPair {
  private readonly left: Float64Array;
  private readonly right: Float64Array;
  private leftIndex = 0;
  private rightIndex = 0;

  constructor(leftFrames: number, rightFrames: number) {
    this.left = new Float64Array(leftFrames);
    this.right = new Float64Array(rightFrames);
  }

  /** Processes `frames` frames in place; |gain| below 1. */
  process(left: Float64Array, right: Float64Array, frames: number, gain: number): void {
    const a = this.left;
    const b = this.right;
    let i = this.leftIndex;
    let j = this.rightIndex;
    for (let n = 0; n < frames; n++) {
      const leftOld = a[i];
      const rightOld = b[j];
      const leftFed = left[n] - gain * leftOld;
      const rightFed = right[n] - gain * rightOld;
      left[n] = leftOld + gain * leftFed;
      right[n] = rightOld + gain * rightFed;
      a[i] = leftFed;
      b[j] = rightFed;
      if (++i === a.length) i = 0;
      if (++j === b.length) j = 0;
    }
    this.leftIndex = i;
    this.rightIndex = j;
  }
}
