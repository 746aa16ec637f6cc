import { exp } from '../../../dsp/portableMath.ts';
import { constant, type Ramp } from '../../../model/ramp.ts';

export const CHANGES = ['glide', 'crossfade', 'cut'] as const;
export type Change = (typeof CHANGES)[number];

/** Frames a frame by which a delay may shrink, which is two octaves up, and grow, which is backwards. */
const SHRINKS = 3;
const GROWS = 2;
const START_SECONDS = 0.03;
const FADE_SECONDS = { crossfade: 0.05, cut: 0.006 } as const;
/** Frames beside the goal at which it is there. */
const NEAR = 1e-3;

/**
 * The delay of one line of an echo, in frames, on its way to where it is set: it glides there and bends the pitch, fades
 * over from one place to the other, or cuts. Moved on once a block.
 */
export class EchoTime {
  /** Where the line is read. */
  readonly now: Ramp = constant(NaN);
  /** While it fades: where it is read as well, and the share of `now` at the first frame and behind the last. */
  before = 0;
  readonly share: Ramp = constant(1);
  private readonly change: Change;
  private readonly sampleRate: number;
  private speed = 0;
  private faded = 0;

  constructor(change: Change, sampleRate: number) {
    this.change = change;
    this.sampleRate = sampleRate;
  }

  get fading(): boolean {
    return this.share.start < 1;
  }

  reset(): void {
    this.now.end = NaN;
    this.share.start = 1;
    this.share.end = 1;
    this.speed = 0;
  }

  /** `settled` is true when the goal does not move any more; `glide` is the time of a glide in seconds. */
  advance(goal: number, settled: boolean, glide: number, frames: number): void {
    const { now } = this;
    if (Number.isNaN(now.end)) now.end = goal;
    now.start = now.end;
    if (this.change === 'glide') this.glide(goal, glide, frames);
    else this.fade(goal, settled, FADE_SECONDS[this.change] * this.sampleRate, frames);
  }

  private glide(goal: number, seconds: number, frames: number): void {
    const { now } = this;
    const way = goal - now.end;
    if (way === 0 && this.speed === 0) return;
    // Three time constants make up a glide: it is then within a twentieth of where it goes.
    const wanted = Math.max(-SHRINKS, Math.min(GROWS, (3 * way) / (seconds * this.sampleRate)));
    this.speed += (1 - exp(-frames / (START_SECONDS * this.sampleRate))) * (wanted - this.speed);
    now.end += this.speed * frames;
    if (Math.abs(goal - now.end) > NEAR || Math.abs(this.speed) * frames > NEAR) return;
    now.end = goal;
    this.speed = 0;
  }

  private fade(goal: number, settled: boolean, length: number, frames: number): void {
    const { now, share } = this;
    share.start = share.end;
    if (share.end === 1 && settled && goal !== now.end) {
      this.before = now.end;
      now.start = goal;
      now.end = goal;
      this.faded = 0;
      share.start = 0;
    }
    if (share.start === 1) return;
    this.faded += frames;
    share.end = Math.min(1, this.faded / length);
  }
}
