import { smoothStep } from '../../dsp/smoothStep.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import type { Ramp } from '../../model/ramp.ts';
import { toCanonical, toPlace, type Scale } from '../../params/types/paramScale.ts';
import type { PlannedMove } from '../plan/plannedModulation.ts';
import { Lane } from './laneReader.ts';
import type { ModulationSource } from './modulationSource.ts';
import { RouteSum } from './routeSum.ts';
import { SmoothedValue } from './smoothedValue.ts';

/** Seconds in which a value passes over to another when what moves it is exchanged, or playing jumps. */
export const PASS_SECONDS = 0.03;

/**
 * A number on its way: where the designer has put it, smoothed, or a lane in its place, and around that what modulators
 * add on the parameter's scale. Read as a ramp by whoever uses it.
 */
export class ModulatedParameter implements Ramp {
  start: number;
  end: number;
  private readonly base: SmoothedValue;
  private readonly scale: Scale;
  private lane: Lane | undefined;
  private pull: RouteSum | undefined;
  private position = 0;
  private frames = BLOCK_FRAMES;
  private fresh = true;
  /** What modulators added to last, and where on the scale that lies. */
  private under = NaN;
  private place = 0;
  /** What it passes over from, and how many frames ago that began. */
  private from = 0;
  private passed: number;
  private readonly passFrames: number;
  private exchanged = false;

  constructor(value: number, scale: Scale, sampleRate: number) {
    this.passFrames = PASS_SECONDS * sampleRate;
    this.passed = this.passFrames;
    this.start = value;
    this.end = value;
    this.scale = scale;
    this.base = new SmoothedValue(value, scale.curve, BLOCK_FRAMES / sampleRate);
  }

  /** Takes on what moves it; allocates. */
  setMove(move: PlannedMove | undefined, movement: ModulationSource, side: number): void {
    this.lane = move?.lane && new Lane(move.lane, this.scale, movement.sampleRate, movement.span);
    const pull = move && new RouteSum(move, movement, side);
    this.pull = pull?.still === false ? pull : undefined;
    this.exchanged = true;
  }

  aim(target: number): void {
    this.base.aim(target);
  }

  jump(target: number): void {
    this.base.jump(target);
  }

  setDepth(index: number, depth: number): void {
    if (this.pull?.setDepth(index, depth) === true) this.exchanged = true;
  }

  reset(): void {
    this.fresh = true;
    this.passed = this.passFrames;
    this.pull?.reset();
  }

  /** Goes to a block of `frames` frames at `position`; true when it has to be cut at the control steps. */
  advance(position: number, frames: number): boolean {
    const jumped = position !== this.position + this.frames && (this.lane !== undefined || this.pull !== undefined);
    this.base.advance();
    if (this.passed < this.passFrames) this.passed += this.frames;
    this.position = position;
    this.frames = frames;
    this.pull?.advance(position, frames);
    if ((this.exchanged || jumped) && !this.fresh) {
      this.from = this.end;
      this.passed = this.from === this.unpassed(0) ? this.passFrames : 0;
    }
    this.exchanged = false;
    return this.passed < this.passFrames || this.pull?.isStraight() === false;
  }

  /** See `Lane.mark`. */
  mark(marks: Uint8Array): boolean {
    return this.lane !== undefined && this.lane.mark(this.position, this.frames, marks);
  }

  /** Sets the ramp for `count` frames from frame `at` of the block on. */
  over(at: number, count: number): void {
    if (!this.lane && !this.pull && this.passed >= this.passFrames) {
      const { start, end } = this.base;
      if (count === this.frames || start === end) {
        this.start = start;
        this.end = end;
      } else {
        const step = (end - start) / this.frames;
        this.start = start + at * step;
        this.end = start + (at + count) * step;
      }
      this.fresh = false;
      return;
    }
    // It goes on from where it was, also where playing jumps.
    this.start = this.fresh ? this.valueAt(at) : this.end;
    this.end = this.valueAt(at + count);
    this.fresh = false;
  }

  private valueAt(frame: number): number {
    const value = this.unpassed(frame);
    if (this.passed >= this.passFrames) return value;
    return this.from + (value - this.from) * smoothStep((this.passed + frame) / this.passFrames);
  }

  private unpassed(frame: number): number {
    const { base, pull, scale } = this;
    const under = this.lane
      ? this.lane.valueAt(this.position + frame)
      : base.start + ((base.end - base.start) * frame) / this.frames;
    if (!pull) return under;
    // Most stand where they were put; a logarithm is the dearest part of this.
    if (under !== this.under) {
      this.under = under;
      this.place = toPlace(scale, under);
    }
    return toCanonical(scale, this.place + pull.at(frame, this.frames));
  }
}
