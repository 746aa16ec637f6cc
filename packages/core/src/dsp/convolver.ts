import { RealFft } from './realFft.ts';
import { sharedDoubles } from './sharedMemory.ts';

/** Frames of the part that is convolved directly, and of the smallest part that is transformed. */
const HEAD = 64;
/** Sizes of the later parts, in frames. Each begins two of its sizes in, so that its work can be spread over one. */
const SIZES = [512, 4096, 16384];

/** An impulse response as it is convolved with: plain data over memory that threads share. */
export interface ImpulseParts {
  /** Frames. */
  readonly length: number;
  /** The first HEAD frames. */
  readonly head: Float64Array;
  readonly parts: readonly ImpulsePart[];
}

/** A stretch of the impulse response in pieces of `size` frames: their spectra, bins 0 … size, one after another. */
interface ImpulsePart {
  readonly size: number;
  readonly pieces: number;
  readonly re: Float64Array;
  readonly im: Float64Array;
}

/** Works the spectra of an impulse response out: nearly all that there is to do before convolving. */
export function partImpulse(impulse: ArrayLike<number>): ImpulseParts {
  const head = sharedDoubles(HEAD);
  for (let i = 0; i < HEAD; i++) head[i] = impulse[i] ?? 0;
  const parts: ImpulsePart[] = [];
  let from = HEAD;
  [HEAD, ...SIZES].forEach((size, n) => {
    const next = SIZES[n];
    const to = next === undefined ? impulse.length : Math.min(impulse.length, 2 * next);
    if (to > from) parts.push(spectraOf(impulse, from, to, size));
    from = Math.max(from, to);
  });
  return { length: impulse.length, head, parts };
}

function spectraOf(impulse: ArrayLike<number>, from: number, to: number, size: number): ImpulsePart {
  const fft = new RealFft(2 * size);
  const bins = size + 1;
  const pieces = Math.ceil((to - from) / size);
  const re = sharedDoubles(pieces * bins);
  const im = sharedDoubles(pieces * bins);
  const samples = new Float64Array(2 * size);
  for (let piece = 0; piece < pieces; piece++) {
    const start = from + piece * size;
    for (let i = 0; i < size; i++) samples[i] = start + i < to ? impulse[start + i] : 0;
    const at = piece * bins;
    fft.forward(samples, re.subarray(at, at + bins), im.subarray(at, at + bins));
  }
  return { size, pieces, re, im };
}

/** Bins of a product that are worked out in one go at the most. */
const PRODUCT_BINS = 1024;
/** What a point of a step of a transform costs, against a bin of a product. */
const FFT_POINT = 2;

/**
 * Convolution with a long impulse response without latency (W. G. Gardner, "Efficient convolution without input-output
 * delay", 1995): the first frames directly, the rest in parts that grow, by overlap-save in the spectrum. The work of the
 * large parts is spread over the blocks until their output is due. Mono; allocates nothing once made.
 */
export class Convolver {
  /** Frames of the impulse response. */
  readonly length: number;
  private readonly head: Float64Array;
  /** The last HEAD − 1 frames and the block that is coming in, newest last. */
  private readonly recent = new Float64Array(2 * HEAD);
  private readonly parts: Part[];
  /** Frames of the current HEAD-sized block that have come in. */
  private filled = 0;

  constructor({ length, head, parts }: ImpulseParts) {
    this.length = length;
    this.head = head;
    this.parts = parts.map((part) => new Part(part));
  }

  reset(): void {
    this.recent.fill(0);
    this.filled = 0;
    for (let p = 0; p < this.parts.length; p++) this.parts[p].reset();
  }

  /** Convolves `frames` frames; `output` may be `input`. */
  process(input: Float32Array | Float64Array, output: Float32Array | Float64Array, frames: number): void {
    for (let done = 0; done < frames;) {
      const count = Math.min(frames - done, HEAD - this.filled);
      this.run(input, output, done, count);
      done += count;
    }
  }

  private run(
    input: Float32Array | Float64Array,
    output: Float32Array | Float64Array,
    offset: number,
    count: number,
  ): void {
    const { recent, head, filled, parts } = this;
    for (let i = 0; i < count; i++) recent[HEAD + filled + i] = input[offset + i];
    for (let i = 0; i < count; i++) {
      const newest = HEAD + filled + i;
      let sum0 = 0;
      let sum1 = 0;
      let sum2 = 0;
      let sum3 = 0;
      for (let k = 0; k < HEAD; k += 4) {
        sum0 += head[k] * recent[newest - k];
        sum1 += head[k + 1] * recent[newest - k - 1];
        sum2 += head[k + 2] * recent[newest - k - 2];
        sum3 += head[k + 3] * recent[newest - k - 3];
      }
      output[offset + i] = sum0 + sum1 + (sum2 + sum3);
    }
    for (let p = 0; p < parts.length; p++) parts[p].add(output, offset, filled, count);
    this.filled += count;
    if (this.filled < HEAD) return;
    for (let p = 0; p < parts.length; p++) parts[p].take(recent);
    recent.copyWithin(0, HEAD, 2 * HEAD);
    this.filled = 0;
  }
}

/** Convolves with one part, in the spectrum. */
class Part {
  private readonly size: number;
  private readonly fft: RealFft;
  private readonly bins: number;
  private readonly pieces: number;
  /** Spectra of the pieces, one after another. */
  private readonly pieceRe: Float64Array;
  private readonly pieceIm: Float64Array;
  /** Spectra of the input windows, a ring. */
  private readonly windowRe: Float64Array;
  private readonly windowIm: Float64Array;
  private newest = 0;
  /** Windows of two sizes each: one is being read, one comes in, and the first half of the one after it. */
  private readonly windows: readonly Float64Array[];
  private filling = 0;
  private reading = 0;
  private readonly sumRe: Float64Array;
  private readonly sumIm: Float64Array;
  /** What is added now and what is being worked out for the next size of frames, each in its second half. */
  private readonly waves: readonly [Float64Array, Float64Array];
  private coming = 0;
  /** HEAD-sized blocks of the current size that have come in. */
  private blocks = 0;
  private readonly blocksPerSize: number;
  /** What a step of a transform costs, in bins of a product. */
  private readonly stepCost: number;
  /** All that there is to do for a window, in bins of a product, and how much of it is done. */
  private readonly work: number;
  private done = 0;
  /** Steps of the transforms that are done, there and back. */
  private transformed = 0;
  /** Cuts of pieces whose product is already in the sum, and into how many each is cut. */
  private readonly cuts: number;
  private summed = 0;

  /** The part begins one size in where it is the smallest, and two where not. */
  constructor({ size, pieces, re, im }: ImpulsePart) {
    this.size = size;
    this.blocksPerSize = size / HEAD;
    this.fft = new RealFft(2 * size);
    this.bins = size + 1;
    this.cuts = Math.max(1, size / PRODUCT_BINS);
    this.pieces = pieces;
    this.stepCost = FFT_POINT * this.fft.stepPoints;
    this.work = pieces * size + (this.fft.steps + this.fft.inverseSteps) * this.stepCost;
    this.pieceRe = re;
    this.pieceIm = im;
    this.windowRe = new Float64Array(pieces * this.bins);
    this.windowIm = new Float64Array(pieces * this.bins);
    this.windows = [0, 1, 2].map(() => new Float64Array(2 * size));
    this.sumRe = new Float64Array(this.bins);
    this.sumIm = new Float64Array(this.bins);
    this.waves = [new Float64Array(2 * size), new Float64Array(2 * size)];
    this.windowsRe = this.slots(this.windowRe);
    this.windowsIm = this.slots(this.windowIm);
    this.done = this.work;
  }

  /** The ring, slot by slot. */
  private readonly windowsRe: Float64Array[];
  private readonly windowsIm: Float64Array[];

  private slots(ring: Float64Array): Float64Array[] {
    return Array.from({ length: this.pieces }, (_, n) => ring.subarray(n * this.bins, (n + 1) * this.bins));
  }

  reset(): void {
    this.windowRe.fill(0);
    this.windowIm.fill(0);
    for (let w = 0; w < 3; w++) this.windows[w].fill(0);
    this.waves[0].fill(0);
    this.waves[1].fill(0);
    this.sumRe.fill(0);
    this.sumIm.fill(0);
    this.blocks = 0;
    this.newest = 0;
    this.done = this.work;
  }

  /** Adds `count` frames, from `filled` on in the current block, to the output. */
  add(output: Float32Array | Float64Array, offset: number, filled: number, count: number): void {
    const current = this.waves[1 - this.coming];
    const from = this.size + this.blocks * HEAD + filled;
    for (let i = 0; i < count; i++) output[offset + i] += current[from + i];
  }

  /** Takes in a block that is complete; it stands in the second half of `recent`. */
  take(recent: Float64Array): void {
    const { windows, filling, size, blocks } = this;
    const now = windows[filling];
    const next = windows[(filling + 1) % 3];
    const at = blocks * HEAD;
    for (let i = 0; i < HEAD; i++) {
      now[size + at + i] = recent[HEAD + i];
      next[at + i] = recent[HEAD + i];
    }
    this.blocks++;
    const due = this.blocks === this.blocksPerSize;
    if (this.size === HEAD) {
      // Its output is due at once.
      this.begin();
      this.workUpTo(this.work);
      this.swap();
    } else {
      this.workUpTo(Math.ceil((this.work * this.blocks) / this.blocksPerSize));
      if (!due) return;
      this.swap();
      this.begin();
    }
    this.blocks = 0;
  }

  /** Starts on the window that has just been filled. */
  private begin(): void {
    this.newest = (this.newest + this.pieces - 1) % this.pieces;
    this.reading = this.filling;
    this.filling = (this.filling + 1) % 3;
    this.done = 0;
    this.summed = 0;
    this.transformed = 0;
  }

  /** Goes on until so much is done: first the spectrum of the window, then its product with the pieces, then back. */
  private workUpTo(share: number): void {
    const { fft, pieces, cuts } = this;
    while (this.done < share) {
      if (this.transformed < fft.steps) {
        const window = this.windows[this.reading];
        fft.forwardStep(this.transformed++, window, this.windowsRe[this.newest], this.windowsIm[this.newest]);
        this.done += this.stepCost;
      } else if (this.summed < pieces * cuts) {
        this.sum((this.summed / cuts) | 0, this.summed % cuts);
        this.summed++;
        this.done += this.size / cuts;
      } else {
        fft.inverseStep(this.transformed++ - fft.steps, this.sumRe, this.sumIm, this.waves[this.coming]);
        this.done += this.stepCost;
      }
    }
  }

  private sum(piece: number, cut: number): void {
    const { bins, size, cuts, pieceRe, pieceIm, sumRe, sumIm } = this;
    const slot = (this.newest + piece) % this.pieces;
    const re = this.windowsRe[slot];
    const im = this.windowsIm[slot];
    const at = piece * bins;
    // The first begins a new sum.
    const kept = piece === 0 ? 0 : 1;
    const end = cut === cuts - 1 ? bins : ((cut + 1) * size) / cuts;
    for (let k = (cut * size) / cuts; k < end; k++) {
      const a = re[k];
      const b = im[k];
      const c = pieceRe[at + k];
      const d = pieceIm[at + k];
      sumRe[k] = kept * sumRe[k] + a * c - b * d;
      sumIm[k] = kept * sumIm[k] + a * d + b * c;
    }
  }

  private swap(): void {
    this.coming = 1 - this.coming;
  }
}
