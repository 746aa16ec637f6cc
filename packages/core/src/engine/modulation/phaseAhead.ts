import { NO_INPUT } from '../../modulation/modulators/contract.ts';
import type { PhaseTable } from '../../modulation/modulators/phaseAccumulator.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';

/** Something that runs modulators, as `Movement` does. */
interface Runner {
  reset(): void;
  setValues(flat: ArrayLike<number>, from: number): number;
  advance(input: readonly Float32Array[], position: number): void;
}

/** What is counted: how far it has come by now, and where that is written down. */
export interface Counted {
  readonly turns: { readonly turns: number };
  readonly table: PhaseTable;
}

interface Extent {
  /** As far as it goes. */
  readonly blocks: number;
  /** How many numbers and depths its modulators have. */
  readonly numbers: number;
  /** How many modulators there are. */
  readonly size: number;
}

/**
 * Sums up how far modulators whose own rate is moved have come, from the beginning of the timeline, so that they stand
 * where they stand in a render of the whole wherever playing begins, however a loop goes round, and after the tempo or
 * anything else about them has been changed. It runs them, and those that move them, once more, ahead of the sound.
 */
export class PhaseAhead {
  /** How many modulators it runs. */
  readonly size: number;
  private readonly runner: Runner;
  private readonly counted: readonly Counted[];
  private readonly blocks: number;
  /** Blocks summed up so far. */
  private done = 0;
  /** The numbers of its modulators as they were given last. */
  private readonly numbers: Float64Array;
  private given = 0;
  private changed = false;

  constructor(runner: Runner, counted: readonly Counted[], { blocks, numbers, size }: Extent) {
    this.runner = runner;
    this.counted = counted;
    this.blocks = blocks;
    this.size = size;
    this.numbers = new Float64Array(numbers).fill(NaN);
  }

  /** Takes the next `count` numbers of its modulators, which begin at `from` of a list; `endNumbers` follows the last. */
  giveNumbers(flat: ArrayLike<number>, from: number, count: number): void {
    const { numbers } = this;
    for (let n = 0; n < count; n++, this.given++) {
      if (numbers[this.given] === flat[from + n]) continue;
      numbers[this.given] = flat[from + n];
      this.changed = true;
    }
  }

  /** Begins anew if any number was another one. */
  endNumbers(): void {
    this.given = 0;
    if (!this.changed) return;
    this.changed = false;
    this.runner.setValues(this.numbers, 0);
    this.done = 0;
    for (let c = 0; c < this.counted.length; c++) this.counted[c].table.clear();
  }

  /** Sums up at most `most` blocks more. Allocates nothing. */
  run(most: number): void {
    const end = Math.min(this.blocks, this.done + most);
    for (; this.done < end; this.done++) {
      if (this.done === 0) this.runner.reset();
      this.runner.advance(NO_INPUT, this.done * BLOCK_FRAMES);
      for (let c = 0; c < this.counted.length; c++) this.counted[c].table.push(this.counted[c].turns.turns);
    }
  }

  /** True from the block on in which the sum reaches what is heard. */
  covers(position: number): boolean {
    return position >= 0 && position <= this.done * BLOCK_FRAMES;
  }
}
