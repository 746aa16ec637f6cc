/**
 * Schroeder's all-pass section around a delay of a whole number of frames (M. R. Schroeder, "Natural sounding artificial
 * reverberation", 1962): smears a sound in time and leaves its spectrum alone.
 */
export class AllpassDelay {
  private readonly memory: Float64Array;
  private index = 0;

  constructor(frames: number) {
    this.memory = new Float64Array(Math.max(1, frames));
  }

  /** Processes `frames` frames in place; |gain| below 1. */
  process(samples: Float64Array, frames: number, gain: number): void {
    const memory = this.memory;
    const length = memory.length;
    let index = this.index;
    for (let i = 0; i < frames; i++) {
      const delayed = memory[index];
      const fed = samples[i] - gain * delayed;
      samples[i] = delayed + gain * fed;
      memory[index] = fed;
      if (++index === length) index = 0;
    }
    this.index = index;
  }

  reset(): void {
    this.memory.fill(0);
    this.index = 0;
  }
}
