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

  private look(into: Float64Array, from: number, to: number): void {
    const { taps, recent } = this;
    const width = 2 * REACH;
    let y0 = this.before[0];
    let y1 = this.before[1];
    for (let i = from; i < to; i++) {
      const first = i + 1;
      const y2 = recent[first + REACH - 1];
      let y3 = 0;
      let y4 = 0;
      let y5 = 0;
      for (let k = 0; k < width; k++) {
        const x = recent[first + k];
        y3 += taps[k] * x;
        y4 += taps[width + k] * x;
        y5 += taps[2 * width + k] * x;
      }
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
      y0 = y4;
      y1 = y5;
    }
    this.before[0] = y0;
    this.before[1] = y1;
  }
}
