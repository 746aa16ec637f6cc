import { kaiser } from './kaiser.ts';
import { PI, sin } from './portableMath.ts';

/** Shape of the Kaiser window: 100 dB. */
const BETA = 10;
/**
 * Taps on either side of the middle, counted over the odd ones alone, for the doublings from the sample rate upwards.
 * Multiples of four: the loops take four at a time.
 */
const REACHES = [20, 8, 8];

/** Taps on either side of the middle of the last filter downwards; odd, so that the whole is late by whole frames. */
const SHARP_REACH = 53;
/** Where that filter is half way down, as a share of the doubled rate: between 20 and 24 kHz at 48 kHz. */
const SHARP_EDGE = 22 / 96;
const SHARP_BETA = 8;

/**
 * Raises the sample rate of a block, lets it be worked on, and lowers it again. Each doubling is a half-band filter in
 * two phases (R. Crochiere & L. Rabiner, "Multirate Digital Signal Processing", 1983): images lie below −96 dB from 0.58 of
 * the sample rate on, the pass band is flat to 0.41. The last filter downwards stops at half the sample rate already, so
 * that nothing folds back to where it could be heard or seen: below −80 dB. Mono; allocates nothing once made.
 */
export class Oversampler {
  readonly factor: number;
  /** Frames, at the low rate, by which a sound comes out late; a whole number. */
  readonly latency: number;
  /** The sound at the high rate, between `up` and `down`. */
  readonly buffer: Float64Array;
  private readonly doublings: Doubling[];
  private readonly sharp: SharpHalving;
  private readonly padding: Float64Array;
  private readonly padded: number;

  /** `factor` is 1, 2, 4 or 8; `inside` are the samples by which what is done at the high rate is late. */
  constructor(factor: number, maxFrames: number, inside = 0) {
    this.factor = factor;
    this.buffer = new Float64Array(factor * maxFrames);
    this.doublings = [];
    this.sharp = new SharpHalving(maxFrames);
    let late = inside; // at the high rate
    for (let n = 0; 2 << n <= factor; n++) {
      this.doublings.push(new Doubling(REACHES[n], maxFrames << n));
      late += ((n === 0 ? 2 * REACHES[0] - 1 + SHARP_REACH : 2 * (2 * REACHES[n] - 1)) * factor) / (2 << n);
    }
    // A few frames at the high rate make the whole a multiple of the low one.
    this.latency = Math.ceil(late / factor);
    this.padded = this.latency * factor - late;
    this.padding = new Float64Array(this.padded);
  }

  reset(): void {
    for (let n = 0; n < this.doublings.length; n++) this.doublings[n].reset();
    this.sharp.reset();
    this.padding.fill(0);
  }

  /** Fills the first `factor` · `frames` places of `buffer`. */
  up(samples: Float32Array | Float64Array, frames: number): void {
    const { buffer, doublings } = this;
    for (let i = 0; i < frames; i++) buffer[i] = samples[i];
    for (let n = 0; n < doublings.length; n++) doublings[n].up(buffer, frames << n);
  }

  /** Brings `buffer` back to `frames` frames. */
  down(samples: Float32Array | Float64Array, frames: number): void {
    const { buffer, doublings } = this;
    if (this.padded > 0) this.pad(frames * this.factor);
    for (let n = doublings.length - 1; n >= 1; n--) doublings[n].down(buffer, frames << n);
    if (doublings.length > 0) this.sharp.down(buffer, frames);
    for (let i = 0; i < frames; i++) samples[i] = buffer[i];
  }

  private pad(frames: number): void {
    const { buffer, padding, padded } = this;
    for (let p = 0; p < padded; p++) {
      // A delay by one, as often as needed: at most a few places.
      let before = padding[p];
      padding[p] = buffer[frames - 1];
      for (let i = 0; i < frames; i++) {
        const now = buffer[i];
        buffer[i] = before;
        before = now;
      }
    }
  }
}

/** One half-band filter, upwards and downwards. All its even taps but the middle one are zero. */
class Doubling {
  private readonly taps: Float64Array;
  private readonly reach: number;
  private readonly rising: Float64Array;
  private readonly fallingEven: Float64Array;
  private readonly fallingOdd: Float64Array;

  constructor(reach: number, maxFrames: number) {
    this.reach = reach;
    this.taps = halfBandTaps(reach);
    this.rising = new Float64Array(2 * reach + maxFrames);
    this.fallingEven = new Float64Array(2 * reach + maxFrames);
    this.fallingOdd = new Float64Array(2 * reach + maxFrames);
  }

  reset(): void {
    this.rising.fill(0);
    this.fallingEven.fill(0);
    this.fallingOdd.fill(0);
  }

  up(buffer: Float64Array, frames: number): void {
    const { taps, reach, rising } = this;
    const width = 2 * reach;
    for (let i = 0; i < frames; i++) rising[width + i] = buffer[i];
    for (let i = frames - 1; i >= 0; i--) {
      let sum0 = 0;
      let sum1 = 0;
      const left = i + 1;
      const right = i + width;
      for (let k = 0; k < reach; k += 4) {
        sum0 += taps[k] * (rising[left + k] + rising[right - k]);
        sum1 += taps[k + 1] * (rising[left + k + 1] + rising[right - k - 1]);
        sum0 += taps[k + 2] * (rising[left + k + 2] + rising[right - k - 2]);
        sum1 += taps[k + 3] * (rising[left + k + 3] + rising[right - k - 3]);
      }
      buffer[2 * i] = 2 * (sum0 + sum1);
      buffer[2 * i + 1] = rising[i + 1 + reach];
    }
    rising.copyWithin(0, frames, frames + width);
  }

  down(buffer: Float64Array, frames: number): void {
    const { taps, reach, fallingEven, fallingOdd } = this;
    const width = 2 * reach;
    for (let i = 0; i < frames; i++) {
      fallingEven[width + i] = buffer[2 * i];
      fallingOdd[width + i] = buffer[2 * i + 1];
    }
    for (let i = 0; i < frames; i++) {
      let sum0 = 0;
      let sum1 = 0;
      const left = i + 1;
      const right = i + width;
      for (let k = 0; k < reach; k += 4) {
        sum0 += taps[k] * (fallingEven[left + k] + fallingEven[right - k]);
        sum1 += taps[k + 1] * (fallingEven[left + k + 1] + fallingEven[right - k - 1]);
        sum0 += taps[k + 2] * (fallingEven[left + k + 2] + fallingEven[right - k - 2]);
        sum1 += taps[k + 3] * (fallingEven[left + k + 3] + fallingEven[right - k - 3]);
      }
      buffer[i] = sum0 + sum1 + 0.5 * fallingOdd[i + reach];
    }
    fallingEven.copyWithin(0, frames, frames + width);
    fallingOdd.copyWithin(0, frames, frames + width);
  }
}

/** Halves the rate by a filter that stops at half the lower one. */
class SharpHalving {
  private readonly taps: Float64Array;
  private readonly middle: number;
  private readonly falling: Float64Array;

  constructor(maxFrames: number) {
    const taps = Float64Array.from({ length: SHARP_REACH + 1 }, (_, k) => {
      const x = SHARP_REACH - k; // distance from the middle
      const value = x === 0 ? 2 * SHARP_EDGE : sin(2 * PI * SHARP_EDGE * x) / (PI * x);
      return value * kaiser(x / (SHARP_REACH + 1), SHARP_BETA);
    });
    const sum = taps.reduce((total, tap, k) => total + (k === SHARP_REACH ? tap : 2 * tap), 0);
    this.taps = taps.map((tap) => tap / sum);
    this.middle = this.taps[SHARP_REACH];
    this.falling = new Float64Array(2 * SHARP_REACH + 2 * maxFrames);
  }

  reset(): void {
    this.falling.fill(0);
  }

  down(buffer: Float64Array, frames: number): void {
    const { taps, falling, middle } = this;
    const width = 2 * SHARP_REACH;
    for (let i = 0; i < 2 * frames; i++) falling[width + i] = buffer[i];
    for (let i = 0; i < frames; i++) {
      const left = 2 * i;
      const right = left + width;
      let sum0 = taps[0] * (falling[left] + falling[right]);
      let sum1 = middle * falling[left + SHARP_REACH];
      for (let k = 1; k < SHARP_REACH; k += 4) {
        sum0 += taps[k] * (falling[left + k] + falling[right - k]);
        sum1 += taps[k + 1] * (falling[left + k + 1] + falling[right - k - 1]);
        sum0 += taps[k + 2] * (falling[left + k + 2] + falling[right - k - 2]);
        sum1 += taps[k + 3] * (falling[left + k + 3] + falling[right - k - 3]);
      }
      buffer[i] = sum0 + sum1;
    }
    falling.copyWithin(0, 2 * frames, 2 * frames + width);
  }
}

/** One side of the odd taps, outermost first, so that they and the middle one add up to 1. */
function halfBandTaps(reach: number): Float64Array {
  const taps = Float64Array.from({ length: reach }, (_, k) => {
    const x = 2 * (reach - k) - 1; // distance from the middle
    return (sin((PI * x) / 2) / (PI * x)) * kaiser(x / (2 * reach), BETA);
  });
  const sum = taps.reduce((total, tap) => total + tap, 0);
  return taps.map((tap) => (0.25 * tap) / sum);
}
