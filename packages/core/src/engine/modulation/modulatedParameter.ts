import { exp } from '../../dsp/portableMath.ts';
import { smoothStep } from '../../dsp/smoothStep.ts';
import type { Ramp } from '../../model/ramp.ts';
import { bentWay } from '../../modulation/curve.ts';
import { CONTROL_FRAMES } from '../../modulation/modulators/contract.ts';
import { BLOCK_FRAMES } from '../../stages/contract.ts';
import { toCanonical, toPlace, type Scale } from '../../stages/paramScale.ts';
import { Lane } from './laneReader.ts';
import type { Mover, ModulationBus } from './modulationBus.ts';
import type { PlannedMove } from '../plan/plannedModulation.ts';
import { SmoothedValue } from '../run/smoothedValue.ts';

/** Steps of the scale at the ends of the pieces of a block. */
const PIECES = BLOCK_FRAMES / CONTROL_FRAMES;
/** Seconds in which a value passes over to another when what moves it is exchanged, or playing jumps. */
export const PASS_SECONDS = 0.03;
/** How far from a straight line, in shares of the scale, a value may move in a block before the block is cut. */
const STRAIGHT = 0.001;

/** Modulators that move one thing, and by how much. */
class RouteSum {
  private readonly movement: ModulationBus;
  private readonly side: number;
  private readonly count: number;
  /** Held on to: a chain that is changed may know them no more while this one fades out. */
  private readonly movers: readonly Mover[];
  private readonly depths: Float64Array;
  private readonly bends: Float64Array;
  /** What a modulator's value is multiplied with and what is added: to get from its polarity to the route's. */
  private readonly factors: Float64Array;
  private readonly offsets: Float64Array;
  /** Share of the way to a new value that a control step takes; 1 without smoothing. */
  private readonly shares: Float64Array;
  private readonly smoothed: Float64Array;
  /** Sum at the beginning, at each inner step and at the end of the block. */
  readonly sums = new Float64Array(PIECES + 1);
  private fresh = true;

  constructor({ routes }: PlannedMove, movement: ModulationBus, side: number) {
    const known = routes.flatMap((route) => {
      const mover = movement.find(route.from);
      return mover ? [{ ...route, mover, same: mover.polarity === route.polarity }] : [];
    });
    this.movement = movement;
    this.side = side;
    this.count = known.length;
    this.movers = known.map(({ mover }) => mover);
    this.depths = Float64Array.from(known, ({ depth }) => depth);
    this.bends = Float64Array.from(known, ({ bend }) => bend);
    this.factors = Float64Array.from(known, ({ same, polarity }) => (same ? 1 : polarity === 'up' ? 0.5 : 2));
    this.offsets = Float64Array.from(known, ({ same, polarity }) => (same ? 0 : polarity === 'up' ? 0.5 : -1));
    this.shares = Float64Array.from(known, ({ smoothing }) =>
      smoothing > 0 ? 1 - exp(-CONTROL_FRAMES / (smoothing * movement.sampleRate)) : 1,
    );
    this.smoothed = new Float64Array(known.length);
  }

  get still(): boolean {
    return this.count === 0;
  }

  reset(): void {
    this.fresh = true;
  }

  /** True when it is another one. */
  setDepth(index: number, depth: number): boolean {
    if (index >= this.count || this.depths[index] === depth) return false;
    this.depths[index] = depth;
    // The sums begin anew; whoever uses them passes over.
    this.fresh = true;
    return true;
  }

  /** Works out the sums of a block of `frames` frames that begins at `position`. */
  advance(position: number, frames: number): void {
    const { sums } = this;
    sums[0] = this.fresh ? this.sumAt(position, true) : sums[PIECES];
    this.fresh = false;
    let last = sums[0];
    for (let piece = 1; piece <= PIECES; piece++) {
      const at = piece * CONTROL_FRAMES;
      if (at < frames + CONTROL_FRAMES) last = this.sumAt(position + Math.min(at, frames), false);
      sums[piece] = last;
    }
  }

  private sumAt(position: number, first: boolean): number {
    let sum = 0;
    for (let r = 0; r < this.count; r++) {
      const x = this.factors[r] * this.movement.value(this.movers[r], this.side, position) + this.offsets[r];
      const bend = this.bends[r];
      const bent = bend === 0 ? x : x < 0 ? -bentWay(-x, bend) : bentWay(x, bend);
      const value = first ? bent : this.smoothed[r] + this.shares[r] * (bent - this.smoothed[r]);
      this.smoothed[r] = value;
      sum += this.depths[r] * value;
    }
    return sum;
  }

  /** True when the sums of a whole block lie on a straight line, near enough. */
  isStraight(): boolean {
    const { sums } = this;
    const step = (sums[PIECES] - sums[0]) / PIECES;
    for (let piece = 1; piece < PIECES; piece++) {
      const off = sums[piece] - sums[0] - piece * step;
      if (off > STRAIGHT || off < -STRAIGHT) return false;
    }
    return true;
  }

  /** The sum at a frame of the block. */
  at(frame: number, frames: number): number {
    const { sums } = this;
    const piece = Math.min(PIECES - 1, Math.floor(frame / CONTROL_FRAMES));
    const begin = piece * CONTROL_FRAMES;
    const length = Math.min(CONTROL_FRAMES, Math.max(1, frames - begin));
    return sums[piece] + ((sums[piece + 1] - sums[piece]) * (frame - begin)) / length;
  }
}

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
  setMove(move: PlannedMove | undefined, movement: ModulationBus, side: number): void {
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

/** A switch that a lane or modulators may throw: on from a half on. */
export class ModulatedSwitch {
  private on: boolean;
  private lane: Lane | undefined;
  private pull: RouteSum | undefined;
  private position = 0;
  private frames = BLOCK_FRAMES;

  constructor(on: boolean) {
    this.on = on;
  }

  setMove(move: PlannedMove | undefined, movement: ModulationBus, side: number): void {
    this.lane = move?.lane && new Lane(move.lane, undefined, movement.sampleRate, movement.span);
    const pull = move && new RouteSum(move, movement, side);
    this.pull = pull?.still === false ? pull : undefined;
  }

  aim(on: boolean): void {
    this.on = on;
  }

  setDepth(index: number, depth: number): void {
    this.pull?.setDepth(index, depth);
  }

  reset(): void {
    this.pull?.reset();
  }

  advance(position: number, frames: number): void {
    this.position = position;
    this.frames = frames;
    this.pull?.advance(position, frames);
  }

  /** Marks the frames on which it is thrown. */
  mark(marks: Uint8Array): boolean {
    const byLane = this.lane !== undefined && this.lane.mark(this.position, this.frames, marks);
    const { pull } = this;
    if (!pull) return byLane;
    let last = this.valueAt(0) >= 0.5;
    let any = byLane;
    for (let frame = 1; frame < this.frames; frame++) {
      const now = this.valueAt(frame) >= 0.5;
      if (now !== last) {
        marks[frame] = 1;
        any = true;
      }
      last = now;
    }
    return any;
  }

  /** How it stands from a frame of the block on. */
  standsAt(frame: number): boolean {
    return this.valueAt(frame) >= 0.5;
  }

  private valueAt(frame: number): number {
    const under = this.lane ? this.lane.valueAt(this.position + frame) : this.on ? 1 : 0;
    return this.pull ? under + this.pull.at(frame, this.frames) : under;
  }
}
