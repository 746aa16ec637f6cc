import { ringSize } from '../../../dsp/lagrange.ts';
import type { Ramp } from '../../../model/ramp.ts';
import { SHARP_REACH, readSharp, sharpTable } from '../../../dsp/sharpRead.ts';
import { smoothStep } from '../../../dsp/smoothStep.ts';
import { EchoTime, type Change } from './echoTime.ts';
import { settled } from '../../../dsp/settled.ts';

/** Seconds in which a line that has come to rest passes over to a sharper reading, and back. */
const SETTLE_SECONDS = 0.005;

/**
 * One delay line of an echo. While it moves it is read by a cubic; at rest between frames by a windowed sinc, which loses
 * no treble; at rest on a frame both give the sample itself.
 */
export class EchoLine {
  readonly time: EchoTime;
  private readonly memory: Float32Array;
  private readonly mask: number;
  private readonly weights = sharpTable();
  private readonly settleStep: number;
  private readonly sharp = new Float64Array(1);
  private position = 0;
  /** How far the reading is the sharp one, 0…1; not yet known at the very beginning. */
  private settled = NaN;

  /** Holds `frames`. */
  constructor(frames: number, change: Change, sampleRate: number) {
    this.memory = new Float32Array(ringSize(frames));
    this.mask = this.memory.length - 1;
    this.time = new EchoTime(change, sampleRate);
    this.settleStep = 1 / (SETTLE_SECONDS * sampleRate);
  }

  reset(): void {
    this.memory.fill(0);
    this.time.reset();
    this.position = 0;
    this.settled = NaN;
  }

  /** The shortest delay, in frames, that is read in this block, but for swings. */
  get shortest(): number {
    const { now, before, fading } = this.time;
    return Math.min(now.start, now.end, fading ? before : Infinity);
  }

  /**
   * Reads the frames `done` … `done + count` of a block of `frames` at the delay, moved by `swing` where it `moves`. None
   * of them may lie among those that are still to be written.
   */
  read(out: Float64Array, swing: Float64Array, moves: boolean, done: number, count: number, frames: number): void {
    const { memory, mask, time, weights, sharp } = this;
    const step = (time.now.end - time.now.start) / frames;
    let delay = time.now.start + step * done;
    const at = this.position + mask + 1;
    const rests = step === 0 && !moves;
    if (rests && Number.isInteger(delay)) {
      const first = at - delay;
      for (let i = 0; i < count; i++) out[i] = memory[(first + i) & mask];
      this.settled = 0;
    } else {
      const way = rests && delay >= 2 * SHARP_REACH ? this.settleStep : -this.settleStep;
      let settled = Number.isNaN(this.settled) && way > 0 ? 1 : this.settled || 0;
      for (let i = 0; i < count; i++) {
        const place = at + i - delay - (moves ? swing[done + i] : 0);
        const whole = place | 0;
        const t = place - whole;
        const before = memory[(whole - 1) & mask];
        const here = memory[whole & mask];
        const next = memory[(whole + 1) & mask];
        const after = memory[(whole + 2) & mask];
        const cubic = (after - before) * (1 / 6) + (here - next) * 0.5;
        const square = (before + next) * 0.5 - here;
        const slope = next - before * (1 / 3) - here * 0.5 - after * (1 / 6);
        const smooth = ((cubic * t + square) * t + slope) * t + here;
        settled += way;
        settled = settled < 0 ? 0 : settled > 1 ? 1 : settled;
        if (settled > 0) {
          readSharp(sharp, 0, weights, memory, mask, place);
          out[i] = smooth + settled * (sharp[0] - smooth);
        } else {
          out[i] = smooth;
        }
        delay += step;
      }
      this.settled = settled;
    }
    if (time.fading) this.fadeFrom(time, swing, moves, out, done, count, frames);
  }

  /** Appends what comes in and a share, ramping from `share` by `step`, of what comes back. */
  write(come: Float64Array, from: number, back: Float64Array, count: number, share: number, step: number): void {
    const { memory, mask, position } = this;
    let now = share;
    for (let i = 0; i < count; i++) {
      memory[(position + i) & mask] = settled(come[from + i] + now * back[i]);
      now += step;
    }
    this.position = (position + count) & mask;
  }

  /** Lets what is read at the time before fade out under it. */
  private fadeFrom(
    { before, share }: { readonly before: number; readonly share: Ramp },
    swing: Float64Array,
    moves: boolean,
    out: Float64Array,
    done: number,
    count: number,
    frames: number,
  ): void {
    const { memory, mask } = this;
    const at = this.position + mask + 1;
    const step = (share.end - share.start) / frames;
    for (let i = 0; i < count; i++) {
      const place = at + i - before - (moves ? swing[done + i] : 0);
      const whole = place | 0;
      const t = place - whole;
      const old = memory[whole & mask] + t * (memory[(whole + 1) & mask] - memory[whole & mask]);
      out[i] = old + smoothStep(share.start + step * (done + i)) * (out[i] - old);
    }
  }
}
