import { exp, log } from '../../dsp/portableMath.ts';
import type { Ramp } from '../../model/ramp.ts';

/** Seconds of each of the two equal lags; a jump is nine tenths done after four of them. */
const LAG_SECONDS = 0.01;
/** Share of a jump that is left when the value is put on its target: −80 dB. */
const REST = 1e-4;

/**
 * A setting that follows its target without a corner: two lags in a row, moved on once a block, a straight line inside
 * it. Logarithmic settings move in their logarithm, so that an octave up takes as long as an octave down. A value that
 * was never changed stands exactly.
 */
export class SmoothedValue implements Ramp {
  start: number;
  end: number;
  private readonly logarithmic: boolean;
  private readonly share: number;
  private target: number;
  private goal: number;
  private first: number;
  private second: number;
  private nearEnough = 0;
  private moving = false;

  /** `blockSeconds` is the time between two calls of `advance`. */
  constructor(value: number, curve: 'linear' | 'log', blockSeconds: number) {
    this.start = value;
    this.end = value;
    this.target = value;
    this.logarithmic = curve === 'log';
    this.share = 1 - exp(-blockSeconds / LAG_SECONDS);
    this.goal = this.place(value);
    this.first = this.goal;
    this.second = this.goal;
  }

  get settled(): boolean {
    return !this.moving;
  }

  /** Sets where to go from the next block on. */
  aim(target: number): void {
    if (target === this.target) return;
    this.target = target;
    this.goal = this.place(target);
    this.nearEnough = REST * Math.abs(this.goal - this.second);
    this.moving = true;
  }

  /** Puts it where to go at once. */
  jump(target: number): void {
    this.aim(target);
    this.first = this.goal;
    this.second = this.goal;
    this.start = target;
    this.end = target;
    this.moving = false;
  }

  /** Moves on by one block: `start` is where the last one ended. */
  advance(): void {
    this.start = this.end;
    if (!this.moving) return;
    this.first += this.share * (this.goal - this.first);
    this.second += this.share * (this.first - this.second);
    if (Math.abs(this.goal - this.second) <= this.nearEnough && Math.abs(this.goal - this.first) <= this.nearEnough) {
      this.first = this.goal;
      this.second = this.goal;
      this.end = this.target;
      this.moving = false;
    } else {
      this.end = this.logarithmic ? exp(this.second) - OFFSET : this.second;
    }
  }

  private place(value: number): number {
    return this.logarithmic ? log(value + OFFSET) : value;
  }
}

/** Lets logarithmic settings reach zero. */
const OFFSET = 1e-3;
