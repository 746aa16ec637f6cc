import { readCubic, ringSize } from './lagrange.ts';
import { settled } from './settled.ts';

/** A ring of past samples that is read at a moving, fractional distance. */
export class DelayLine {
  private readonly memory: Float32Array;
  private readonly mask: number;
  private position = 0;

  /** Holds enough for delays up to `maxDelay` frames behind blocks of at most `maxBlock`. */
  constructor(maxDelay: number, maxBlock: number) {
    this.memory = new Float32Array(ringSize(Math.ceil(maxDelay) + maxBlock + 4));
    this.mask = this.memory.length - 1;
  }

  /** Forgets what is in it. */
  reset(): void {
    this.memory.fill(0);
  }

  /** Appends `frames` samples. */
  write(samples: Float64Array, frames: number): void {
    const memory = this.memory;
    const mask = this.mask;
    const start = this.position;
    for (let i = 0; i < frames; i++) memory[(start + i) & mask] = settled(samples[i]);
    this.position = (start + frames) & mask;
  }

  /**
   * Reads the `frames` samples that lie a delay behind the last `frames` written ones; the delay moves in a straight
   * line from `delayStart` to `delayEnd` frames. Whole delays are copied unchanged.
   */
  read(into: Float64Array, frames: number, delayStart: number, delayEnd: number): void {
    const memory = this.memory;
    const mask = this.mask;
    const base = this.position - frames + mask + 1; // one turn on, so that no place is negative
    if (delayStart === delayEnd && Number.isInteger(delayStart)) {
      const first = (base - delayStart) | 0;
      for (let i = 0; i < frames; i++) into[i] = memory[(first + i) & mask];
      return;
    }
    const step = (delayEnd - delayStart) / frames;
    for (let i = 0; i < frames; i++) into[i] = readCubic(memory, 0, mask, base + i - (delayStart + i * step));
  }

  /** Reads `frames` samples towards the past, every one; the first lies `behind` + 1 samples behind what was written last. */
  readBackwards(into: Float64Array, frames: number, behind: number): void {
    const memory = this.memory;
    const mask = this.mask;
    const first = this.position + mask - behind;
    for (let i = 0; i < frames; i++) into[i] = memory[(first - i) & mask];
  }

  /** Writes `samples` and puts what lies a whole `delay` behind them in their place, in one go. */
  pass(samples: Float64Array, frames: number, delay: number): void {
    const memory = this.memory;
    const mask = this.mask;
    const start = this.position;
    const behind = (start + mask + 1 - delay) | 0;
    for (let i = 0; i < frames; i++) {
      memory[(start + i) & mask] = samples[i];
      samples[i] = memory[(behind + i) & mask];
    }
    this.position = (start + frames) & mask;
  }
}
