import { PI, cos, sin } from '../dsp/portableMath.ts';
import type { Clip } from '../model/clip.ts';

const REACH = 12; // samples on either side of an interpolated point
const TAPS = 2 * REACH;
const STRETCH = 64; // samples that are passed over together when they cannot hold a new peak

/** Weights of the 24 samples around the points ¼, ½ and ¾ of the way between two samples (windowed sinc). */
const [QUARTER, HALF, THREE_QUARTERS] = [0.25, 0.5, 0.75].map((offset) => {
  const weights = new Float64Array(TAPS);
  for (let k = 0; k < TAPS; k++) {
    const x = offset + REACH - 1 - k;
    weights[k] = (sin(PI * x) / (PI * x)) * (0.5 + 0.5 * cos((PI * x) / (REACH + 0.5)));
  }
  const sum = weights.reduce((total, weight) => total + weight, 0);
  return weights.map((weight) => weight / sum);
});

/** No point between samples exceeds the largest of its neighbours by more than this factor. */
const GREATEST_RISE = HALF.reduce((sum, weight) => sum + Math.abs(weight), 0);

/**
 * Largest value of a sound between its samples, block by block: fourfold oversampling as ITU-R BS.1770 Annex 2 describes.
 * Never less than the sample peak. `process` allocates nothing.
 */
export class TruePeakMeter {
  /** As an amplitude, since the start or the last `take`. */
  private peak = 0;
  /** The last samples of each channel, then the block. */
  private readonly windows: Float32Array[];

  constructor(channels: number) {
    this.windows = Array.from({ length: channels }, () => new Float32Array(TAPS + LONGEST_BLOCK));
  }

  /** Takes in `frames` frames of each channel, from `offset` on. */
  process(channels: readonly Float32Array[], frames: number, offset = 0): void {
    for (let c = 0; c < this.windows.length; c++) {
      const window = this.windows[c];
      for (let done = 0; done < frames;) {
        const count = Math.min(LONGEST_BLOCK, frames - done);
        for (let i = 0; i < count; i++) {
          const sample = channels[c][offset + done + i];
          window[TAPS + i] = sample;
          const size = Math.abs(sample);
          if (size > this.peak) this.peak = size;
        }
        this.search(window, count);
        window.copyWithin(0, count, count + TAPS);
        done += count;
      }
    }
  }

  /** Lets the end of a sound ring out, so that what lies just before it is seen. */
  finish(): void {
    const silence = this.windows.map(() => new Float32Array(TAPS));
    this.process(silence, TAPS);
  }

  /** The peak so far. */
  get value(): number {
    return this.peak;
  }

  /** The peak so far; begins anew. */
  take(): number {
    const peak = this.peak;
    this.peak = 0;
    return peak;
  }

  private search(window: Float32Array, count: number): void {
    for (let start = 1; start <= count; start += STRETCH) {
      const end = Math.min(start + STRETCH, count + 1);
      if (largest(window, start, end + TAPS - 1) * GREATEST_RISE > this.peak)
        this.peak = Math.max(this.peak, peakBetween(window, start, end));
    }
  }
}

const LONGEST_BLOCK = 4096;

/** True peak of a whole clip as an amplitude. */
export function truePeakOf(clip: Clip): number {
  const meter = new TruePeakMeter(clip.channels.length);
  meter.process(clip.channels, clip.channels[0].length);
  meter.finish();
  return meter.take();
}

function largest(padded: Float32Array, from: number, to: number): number {
  let size = 0;
  for (let i = from; i < to; i++) {
    const candidate = Math.abs(padded[i]);
    if (candidate > size) size = candidate;
  }
  return size;
}

/** Largest interpolated value whose first neighbour lies in [from, to). */
function peakBetween(padded: Float32Array, from: number, to: number): number {
  let peak = 0;
  for (let i = from; i < to; i++) {
    let a = 0;
    let b = 0;
    let c = 0;
    for (let k = 0; k < TAPS; k++) {
      const sample = padded[i + k];
      a += QUARTER[k] * sample;
      b += HALF[k] * sample;
      c += THREE_QUARTERS[k] * sample;
    }
    peak = Math.max(peak, Math.abs(a), Math.abs(b), Math.abs(c));
  }
  return peak;
}
