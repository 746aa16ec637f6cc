/** How long it is looked at, in seconds, and the share of that time that a stage may take. */
const WINDOW = 0.05;
const MOST = 0.6;

/** Finds out, while it plays, that a stage takes more of the time than there is to spare. Allocates nothing once made. */
export class TimeGuard {
  /** True once it took too long; until it is reset. */
  overdue = false;
  private readonly sampleRate: number;
  private frames = 0;
  private seconds = 0;

  constructor(sampleRate: number) {
    this.sampleRate = sampleRate;
  }

  reset(): void {
    this.overdue = false;
    this.frames = 0;
    this.seconds = 0;
  }

  /** Takes in what a block took. True where that made it overdue. */
  note(microseconds: number, frames: number): boolean {
    this.frames += frames;
    // A block counts for no more than it lasts: where the whole machine stood still for a while, that is one block.
    this.seconds += Math.min(microseconds / 1e6, frames / this.sampleRate);
    if (this.overdue || this.frames < WINDOW * this.sampleRate) return false;
    this.overdue = this.seconds * this.sampleRate > MOST * this.frames;
    this.frames = 0;
    this.seconds = 0;
    return this.overdue;
  }
}
