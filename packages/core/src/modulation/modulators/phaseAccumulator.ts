import type { Ramp } from '../../model/ramp.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';

/** How far something that goes round has come by each block of the timeline, from 0 on; filled from the front. */
export class PhaseTable {
  private readonly turns: Float64Array;
  private filled = 0;

  constructor(blocks: number) {
    this.turns = new Float64Array(blocks + 1);
  }

  /** Forgets all but the beginning. */
  clear(): void {
    this.filled = 0;
  }

  /** Says where the next block ends. */
  push(turns: number): void {
    if (this.filled < this.turns.length - 1) this.turns[++this.filled] = turns;
  }

  covers(position: number): boolean {
    return position >= 0 && position <= this.filled * BLOCK_FRAMES;
  }

  /** Turns at a place that it covers. Within a block the rate hardly changes, so a straight line is within 1e-5 turns. */
  at(position: number): number {
    const place = position / BLOCK_FRAMES;
    const whole = Math.floor(place);
    const from = this.turns[whole];
    return place === whole ? from : from + (place - whole) * (this.turns[whole + 1] - from);
  }
}

/**
 * Counts the turns of something that goes round, from the beginning of the timeline. At a rate that nothing moves they
 * follow from the place alone, exactly, however long it runs. A moved rate is summed up: by whoever fills `table`, and
 * beyond what that covers from wherever the run began.
 */
export class PhaseAccumulator {
  turns = 0;
  /** Turns where the frames of the last `advance` begin. */
  before = 0;
  readonly moved: boolean;
  table: PhaseTable | undefined;
  /** Turns where the run begins, where somebody has summed them up. */
  begun: number | undefined;
  private readonly sampleRate: number;

  constructor(sampleRate: number, moved: boolean) {
    this.sampleRate = sampleRate;
    this.moved = moved;
  }

  start(position: number, rate: Ramp): void {
    const { table, begun, moved, sampleRate } = this;
    if (moved && begun !== undefined) this.turns = begun;
    else if (table?.covers(position)) this.turns = table.at(position);
    else this.turns = (rate.start * position) / sampleRate;
  }

  advance(frames: number, position: number, rate: Ramp): void {
    const { table, sampleRate } = this;
    if (!this.moved) {
      this.before = (rate.start * position) / sampleRate;
      this.turns = (rate.end * (position + frames)) / sampleRate;
    } else if (table !== undefined && table.covers(position) && table.covers(position + frames)) {
      this.before = table.at(position);
      this.turns = table.at(position + frames);
    } else {
      this.before = this.turns;
      this.turns += (0.5 * (rate.start + rate.end) * frames) / sampleRate;
    }
  }
}

/** Seconds that a jump from one value to another takes, so that nothing clicks that follows it. */
const EDGE_SECONDS = 0.008;

/** The same as a share of a turn. */
export function edgeOf(rate: number): number {
  return Math.min(0.2, rate * EDGE_SECONDS);
}
