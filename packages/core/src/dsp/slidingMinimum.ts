/**
 * The least of the last `window` values, by a queue of those that can still become the least (D. Lemire, "Streaming
 * maximum-minimum filter", 2006): three comparisons a value whatever the window. Allocates nothing once made.
 */
export class SlidingMinimum {
  private readonly window: number;
  private readonly values: Float64Array;
  private readonly ages: Float64Array;
  private head = 0;
  private count = 0;
  private now = 0;

  constructor(window: number) {
    this.window = window;
    this.values = new Float64Array(window + 1);
    this.ages = new Float64Array(window + 1);
    this.reset(1);
  }

  /** Begins as if only `value` had come before. */
  reset(value: number): void {
    this.head = 0;
    this.count = 1;
    this.now = 0;
    this.values[0] = value;
    this.ages[0] = 0;
  }

  /** Puts the least in place of each value. */
  process(samples: Float64Array, frames: number): void {
    const { values, ages, window } = this;
    const size = window + 1;
    for (let i = 0; i < frames; i++) {
      const sample = samples[i];
      this.now++;
      if (ages[this.head] <= this.now - window) {
        this.head = this.head + 1 === size ? 0 : this.head + 1;
        this.count--;
      }
      let end = this.head + this.count - 1;
      if (end >= size) end -= size;
      while (this.count > 0 && values[end] >= sample) {
        this.count--;
        end = end === 0 ? size - 1 : end - 1;
      }
      end = end + 1 === size ? 0 : end + 1;
      if (this.count === 0) end = this.head;
      values[end] = sample;
      ages[end] = this.now;
      this.count++;
      samples[i] = values[this.head];
    }
  }
}
