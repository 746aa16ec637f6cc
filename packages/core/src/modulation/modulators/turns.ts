import type { Ramp } from '../../dsp/ramp.ts';

/**
 * Counts the turns of something that goes round. At a rate that nothing moves they follow from the place on the timeline
 * alone, exactly, however long it runs; a moved rate is summed up from where the run began.
 */
export class Turns {
  turns = 0;
  private readonly sampleRate: number;
  private readonly moved: boolean;

  constructor(sampleRate: number, moved: boolean) {
    this.sampleRate = sampleRate;
    this.moved = moved;
  }

  start(position: number, rate: Ramp): void {
    this.turns = (rate.start * position) / this.sampleRate;
  }

  advance(frames: number, position: number, rate: Ramp): void {
    if (this.moved) this.turns += (0.5 * (rate.start + rate.end) * frames) / this.sampleRate;
    else this.turns = (rate.end * (position + frames)) / this.sampleRate;
  }
}

/** Seconds that a jump from one value to another takes, so that nothing clicks that follows it. */
const EDGE_SECONDS = 0.008;

/** The same as a share of a turn. */
export function edgeOf(rate: number): number {
  return Math.min(0.2, rate * EDGE_SECONDS);
}
