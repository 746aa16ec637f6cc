/**
 * Settings on their way from the page to the audio thread, in shared memory. The newest wins; neither side ever waits.
 * The page counts up before and after it writes; a reader that sees an odd count, or another one afterwards, tries again
 * a block later.
 */
const HEADER_BYTES = 16;
const COUNT = 0;
const PLAN = 1;
const LENGTH = 2;
const CAPACITY = 8192;

export function createSharedSettings(): SharedArrayBuffer {
  return new SharedArrayBuffer(HEADER_BYTES + CAPACITY * 8);
}

export class SettingsWriter {
  private readonly header: Int32Array;
  private readonly values: Float64Array;

  constructor(memory: SharedArrayBuffer) {
    this.header = new Int32Array(memory, 0, HEADER_BYTES / 4);
    this.values = new Float64Array(memory, HEADER_BYTES);
  }

  /**
   * Writes the numbers of a plan, in the order of `flatValues`. `plan` tells which plan they belong to. RangeError, with
   * nothing written, when there are more than it holds.
   */
  write(plan: number, numbers: readonly number[]): void {
    // Looked at first: a write that breaks off would leave the count odd, and nothing would be read any more.
    if (numbers.length > CAPACITY)
      throw new RangeError(`The chain has ${numbers.length} settings that can move; ${CAPACITY} is the most.`);
    Atomics.add(this.header, COUNT, 1);
    this.header[PLAN] = plan;
    this.header[LENGTH] = numbers.length;
    this.values.set(numbers);
    Atomics.add(this.header, COUNT, 1);
  }
}

export class SettingsReader {
  /** The numbers read last. */
  readonly numbers = new Float64Array(CAPACITY);
  private readonly header: Int32Array;
  private readonly values: Float64Array;
  private seen = 0;

  constructor(memory: SharedArrayBuffer) {
    this.header = new Int32Array(memory, 0, HEADER_BYTES / 4);
    this.values = new Float64Array(memory, HEADER_BYTES);
  }

  /** Takes in what is new for this plan; false when there is nothing. Allocates nothing. */
  read(plan: number): boolean {
    const count = Atomics.load(this.header, COUNT);
    if (count === this.seen || (count & 1) !== 0 || this.header[PLAN] !== plan) return false;
    const length = this.header[LENGTH];
    for (let i = 0; i < length; i++) this.numbers[i] = this.values[i];
    if (Atomics.load(this.header, COUNT) !== count) return false;
    this.seen = count;
    return true;
  }
}
