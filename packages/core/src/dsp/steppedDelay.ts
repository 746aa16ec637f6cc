import { smoothStep } from './smoothStep.ts';
import { ringSize } from './lagrange.ts';

/** Seconds that the change from one delay to another takes. */
const FADE_SECONDS = 0.025;

/**
 * A delay of a whole number of frames whose length can be set at any time: the place it is read at does not move, which
 * would bend the pitch, but fades over to the new one.
 */
export class SteppedDelay {
  private readonly memory: Float32Array;
  private readonly mask: number;
  private readonly fadeFrames: number;
  private position = 0;
  private from = -1;
  private to = -1;
  private faded = 0;

  /** Holds delays up to `maxDelay` frames. */
  constructor(maxDelay: number, maxBlock: number, sampleRate: number) {
    this.memory = new Float32Array(ringSize(Math.ceil(maxDelay) + maxBlock + 1));
    this.mask = this.memory.length - 1;
    this.fadeFrames = Math.max(1, Math.round(FADE_SECONDS * sampleRate));
  }

  /** Forgets what is in it; the next delay asked for holds at once. */
  reset(): void {
    this.memory.fill(0);
    this.from = -1;
  }

  /**
   * Writes `frames` samples and puts what lies `delay` frames behind them in their place. A new delay is taken up when
   * the fade to the last one is over.
   */
  pass(samples: Float64Array, frames: number, delay: number): void {
    const memory = this.memory;
    const mask = this.mask;
    const start = this.position;
    for (let i = 0; i < frames; i++) memory[(start + i) & mask] = samples[i];
    this.position = (start + frames) & mask;
    if (this.from < 0) {
      this.from = delay;
      this.to = delay;
    }
    if (this.from === this.to && delay !== this.to) {
      this.to = delay;
      this.faded = 0;
    }
    const old = (start + mask + 1 - this.from) | 0;
    if (this.from === this.to) {
      for (let i = 0; i < frames; i++) samples[i] = memory[(old + i) & mask];
      return;
    }
    const next = (start + mask + 1 - this.to) | 0;
    const step = 1 / this.fadeFrames;
    for (let i = 0; i < frames; i++) {
      const share = smoothStep((this.faded + i) * step);
      const before = memory[(old + i) & mask];
      samples[i] = before + share * (memory[(next + i) & mask] - before);
    }
    this.faded += frames;
    if (this.faded >= this.fadeFrames) this.from = this.to;
  }
}
