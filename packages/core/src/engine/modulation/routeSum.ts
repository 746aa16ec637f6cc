import { exp } from '../../dsp/portableMath.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import { bentWay } from '../../modulation/curve.ts';
import { CONTROL_FRAMES } from '../../modulation/modulators/contract.ts';
import type { PlannedMove } from '../plan/plannedModulation.ts';
import type { ModulationSource, Mover } from './modulationSource.ts';

/** Steps of the scale at the ends of the pieces of a block. */
const PIECES = BLOCK_FRAMES / CONTROL_FRAMES;
/** How far from a straight line, in shares of the scale, a value may move in a block before the block is cut. */
const STRAIGHT = 0.001;

/** Modulators that move one thing, and by how much. */
export class RouteSum {
  private readonly movement: ModulationSource;
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

  constructor({ routes }: PlannedMove, movement: ModulationSource, side: number) {
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
