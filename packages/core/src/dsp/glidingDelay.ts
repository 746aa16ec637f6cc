import { exp } from './portableMath.ts';
import type { Ramp } from '../model/ramp.ts';

/** Frames a frame that a delay may move by: about a minor third in pitch. */
const FASTEST = 0.2;
/** Seconds in which it comes up to that speed, and in which it nears its goal. */
const START_SECONDS = 0.03;
const ARRIVE_SECONDS = 0.06;
/** Frames beside the goal at which it is there. */
const NEAR = 1e-4;

/**
 * A delay in frames that glides to where it is set. One that jumped would bend the pitch out of all hearing; one that
 * started at once would click, because the pitch itself would jump. Moved on once a block.
 */
export class GlidingDelay implements Ramp {
  start = NaN;
  end = NaN;
  private speed = 0;
  private readonly pull: number;
  private readonly sampleRate: number;

  constructor(sampleRate: number, blockFrames: number) {
    this.sampleRate = sampleRate;
    this.pull = 1 - exp(-blockFrames / (START_SECONDS * sampleRate));
  }

  /** Begins again at the next goal. */
  reset(): void {
    this.end = NaN;
    this.speed = 0;
  }

  advance(goal: number, frames: number): void {
    if (Number.isNaN(this.end)) this.end = goal;
    this.start = this.end;
    const way = goal - this.end;
    if (way === 0 && this.speed === 0) return;
    const wanted = Math.max(-FASTEST, Math.min(FASTEST, way / (ARRIVE_SECONDS * this.sampleRate)));
    this.speed += this.pull * (wanted - this.speed);
    this.end += this.speed * frames;
    if (Math.abs(goal - this.end) > NEAR || Math.abs(this.speed) * frames > NEAR) return;
    this.end = goal;
    this.speed = 0;
  }
}
