import { kaiser } from './kaiser.ts';
import { PI, sin } from './portableMath.ts';

/** Places between two samples that are looked at. */
const PLACES = 4;
/** Samples on either side that a place is worked out from. */
const REACH = 16;
const BETA = 5;
/** Frames that are passed over together when none around them can reach the ceiling. */
const STRETCH = 16;
/** A parabola through three points rises above the middle one by an eighth of how far they lie apart at most. */
const PARABOLA = 1.25;

/**
 * Finds how high the wave rises around every sample, between the samples too: by a windowed sinc at four places each, and
 * by a parabola between those. Late by `latency` frames.
 */
export class PeakFinder {
  /** Frames by which what is found lags the sound. */
  readonly latency = REACH;
  /** The taps of each place, one after another. */
  private readonly taps: Float64Array;
  /** No height exceeds the largest sample around it by more than this factor. */
  private readonly greatestRise: number;
  private readonly recent: Float64Array;
  /** The last two places of the frame before. */
  private readonly before = new Float64Array(2);
  /** The wave at the first, second and third place behind up to four frames. */
  private readonly between = new Float64Array(3 * 4);

  constructor(maxFrames: number) {
    const width = 2 * REACH;
    this.taps = new Float64Array((PLACES - 1) * width);
    for (let p = 1; p < PLACES; p++) {
      for (let k = 0; k < width; k++) {
        const x = k - REACH + 1 - p / PLACES; // from the place to the sample
        this.taps[(p - 1) * width + k] = (sin(PI * x) / (PI * x)) * kaiser(x / REACH, BETA);
      }
    }
    let rise = 0;
    for (let p = 0; p < PLACES - 1; p++) {
      const sum = this.taps.subarray(p * width, (p + 1) * width).reduce((total, tap) => total + Math.abs(tap), 0);
      if (sum > rise) rise = sum;
    }
    this.greatestRise = rise * PARABOLA;
    this.recent = new Float64Array(width + maxFrames);
  }

  reset(): void {
    this.recent.fill(0);
    this.before.fill(0);
  }

  /**
   * Raises `into` to the height of the wave around the samples of `latency` frames ago, where it can be above `ceiling`;
   * elsewhere it may stay lower than the wave.
   */
  raise(samples: Float64Array, into: Float64Array, frames: number, ceiling: number): void {
    const { recent, greatestRise } = this;
    const width = 2 * REACH;
    for (let i = 0; i < frames; i++) recent[width + i] = samples[i];
    for (let from = 0; from < frames; from += STRETCH) {
      const to = Math.min(frames, from + STRETCH);
      let largest = 0;
      for (let k = from; k < to + width; k++) {
        const size = recent[k] < 0 ? -recent[k] : recent[k];
        if (size > largest) largest = size;
      }
      // The last frame is always looked at: the next one needs what lies behind it.
      const heard = largest * greatestRise > ceiling;
      this.look(into, heard ? from : to - 1, to);
    }
    recent.copyWithin(0, frames, frames + width);
  }

  /** Frames [from, to), by fours and then one by one. */
  private look(into: Float64Array, from: number, to: number): void {
    const { between } = this;
    let i = from;
    for (; i + 3 < to; i += 4) {
      this.fourFrames(i + 1);
      for (let n = 0; n < 4; n++) this.rise(into, i + n, between[n], between[4 + n], between[8 + n]);
    }
    for (; i < to; i++) {
      this.oneFrame(i + 1);
      this.rise(into, i, between[0], between[4], between[8]);
    }
  }

  /** The wave at the three places behind each of four frames; each sum in the order of the taps. */
  private fourFrames(first: number): void {
    const { taps, recent, between } = this;
    const width = 2 * REACH;
    let a0 = 0;
    let a1 = 0;
    let a2 = 0;
    let a3 = 0;
    let b0 = 0;
    let b1 = 0;
    let b2 = 0;
    let b3 = 0;
    let c0 = 0;
    let c1 = 0;
    let c2 = 0;
    let c3 = 0;
    let x0 = recent[first];
    let x1 = recent[first + 1];
    let x2 = recent[first + 2];
    for (let k = 0; k < width; k++) {
      const x3 = recent[first + k + 3];
      const a = taps[k];
      const b = taps[width + k];
      const c = taps[2 * width + k];
      a0 += a * x0;
      a1 += a * x1;
      a2 += a * x2;
      a3 += a * x3;
      b0 += b * x0;
      b1 += b * x1;
      b2 += b * x2;
      b3 += b * x3;
      c0 += c * x0;
      c1 += c * x1;
      c2 += c * x2;
      c3 += c * x3;
      x0 = x1;
      x1 = x2;
      x2 = x3;
    }
    between[0] = a0;
    between[1] = a1;
    between[2] = a2;
    between[3] = a3;
    between[4] = b0;
    between[5] = b1;
    between[6] = b2;
    between[7] = b3;
    between[8] = c0;
    between[9] = c1;
    between[10] = c2;
    between[11] = c3;
  }

  private oneFrame(first: number): void {
    const { taps, recent, between } = this;
    const width = 2 * REACH;
    let a = 0;
    let b = 0;
    let c = 0;
    for (let k = 0; k < width; k++) {
      const x = recent[first + k];
      a += taps[k] * x;
      b += taps[width + k] * x;
      c += taps[2 * width + k] * x;
    }
    between[0] = a;
    between[4] = b;
    between[8] = c;
  }

  /** Raises frame `i` to the height of the wave from the place before its sample to its own last place. */
  private rise(into: Float64Array, i: number, y3: number, y4: number, y5: number): void {
    const { before } = this;
    const y0 = before[0];
    const y1 = before[1];
    const y2 = this.recent[i + REACH];
    let peak = into[i];
    // The height of the parabola through three neighbours whose middle one stands out.
    for (let n = 0; n < PLACES; n++) {
      const a = n === 0 ? y0 : n === 1 ? y1 : n === 2 ? y2 : y3;
      const b = n === 0 ? y1 : n === 1 ? y2 : n === 2 ? y3 : y4;
      const c = n === 0 ? y2 : n === 1 ? y3 : n === 2 ? y4 : y5;
      let height = b < 0 ? -b : b;
      if (height > 0.9 * peak && (b - a) * (b - c) > 0) {
        const lean = a - c;
        height += (lean * lean) / (8 * (2 * height - (b < 0 ? -a - c : a + c)));
      }
      if (height > peak) peak = height;
    }
    into[i] = peak;
    before[0] = y4;
    before[1] = y5;
  }
}
