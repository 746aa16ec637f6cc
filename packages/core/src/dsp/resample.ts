import { kaiser } from './kaiser.ts';
import { PI, sin } from './portableMath.ts';

/** Zero crossings of the kernel on either side at the lower of the two rates. */
const CROSSINGS = 48;
/** Places between two zero crossings that the kernel is worked out for; read in straight lines between them. */
const FINENESS = 2048;
/** Kaiser window: 110 dB. */
const BETA = 11;
/** Share of the lower rate's band that passes: flat to 0.45 of the rate, gone at half of it. */
const BAND = 0.95;

/** Rows of weights between two frames; between two rows lies a straight line, which is then off by less than −130 dB. */
const ROWS = 2048;
/** How near to a row a place lies that is read by it alone. */
const ON_A_ROW = 1e-7;

let kernel: Float64Array | undefined;

/**
 * Reads a sound between its samples, by a windowed sinc evaluated at every place (J. O. Smith, "Digital audio
 * resampling", 2002). `density` is the number of frames written for each frame of the sound that is passed: below 1 the
 * band is narrowed as far, so that nothing folds. Flat to 0.45 of the lower rate, images and aliases below −96 dB. For a
 * density that moves; `BetweenReader` is several times as fast for one that stands.
 */
export function readBetween(samples: Float32Array, place: number, density: number): number {
  if (density >= 1) return (full ??= new BetweenReader(1, 0)).read(samples, place);
  const table = (kernel ??= kernelTable());
  const scale = BAND * density;
  const reach = CROSSINGS / scale;
  const first = Math.max(0, Math.ceil(place - reach));
  const last = Math.min(samples.length - 1, Math.floor(place + reach));
  let sum = 0;
  for (let k = first; k <= last; k++) {
    const at = Math.abs(place - k) * scale * FINENESS;
    const whole = at | 0;
    sum += samples[k] * (table[whole] + (at - whole) * (table[whole + 1] - table[whole]));
  }
  return sum * scale;
}

let full: BetweenReader | undefined;

/** The same at one density: rows of weights are worked out beforehand for places evenly spread between two frames. */
export class BetweenReader {
  private readonly rows: number;
  /** Of a row; as many before the place as behind it. */
  private readonly taps: number;
  private readonly weights: Float64Array;
  private blended: Float64Array | undefined;

  /** `step`: frames of the sound from one place to the next, 0 when that is not known. Where it is a ratio of small numbers every place falls on a row. */
  constructor(density: number, step: number) {
    const table = (kernel ??= kernelTable());
    const scale = BAND * Math.min(1, density);
    const half = Math.floor(CROSSINGS / scale) + 1;
    // A wide kernel is as much smoother.
    const places = evenPlaces(step);
    this.rows = places * Math.ceil((ROWS * scale) / places);
    this.taps = 2 * half;
    this.weights = new Float64Array((this.rows + 1) * this.taps);
    for (let row = 0; row <= this.rows; row++) {
      for (let k = 0; k < this.taps; k++) {
        const at = Math.abs(k - half + 1 - row / this.rows) * scale * FINENESS;
        const whole = at | 0;
        if (whole >= CROSSINGS * FINENESS) continue;
        this.weights[row * this.taps + k] = scale * (table[whole] + (at - whole) * (table[whole + 1] - table[whole]));
      }
    }
  }

  /** Frames on either side of a place that are read for it. */
  get reach(): number {
    return this.taps / 2;
  }

  /**
   * Values at `count` places, each a frame behind the last, to the beginning of `into`: all lie between rows alike, so that
   * their weights are worked out once.
   */
  readRun(samples: Float32Array, place: number, count: number, into: Float64Array): void {
    const { rows, taps, weights } = this;
    const blended = (this.blended ??= new Float64Array(taps));
    const whole = Math.floor(place);
    const phase = (place - whole) * rows;
    const row = Math.floor(phase);
    const t = phase - row;
    for (let k = 0; k < taps; k++) {
      const weight = weights[row * taps + k];
      blended[k] = weight + t * (weights[(row + 1) * taps + k] - weight);
    }
    for (let i = 0; i < count; i++) {
      const start = whole + i - taps / 2 + 1;
      into[i] = dot(blended, 0, samples, start, Math.max(0, -start), Math.min(taps, samples.length - start));
    }
  }

  read(samples: Float32Array, place: number): number {
    const { rows, taps, weights } = this;
    let whole = Math.floor(place);
    const phase = (place - whole) * rows;
    let row = Math.floor(phase);
    let t = phase - row;
    if (t > 1 - ON_A_ROW) {
      row++;
      t = 0;
    }
    if (row === rows) {
      row = 0;
      whole++;
    }
    const start = whole - taps / 2 + 1;
    const from = start < 0 ? -start : 0;
    const to = Math.min(taps, samples.length - start);
    const first = row * taps;
    if (t < ON_A_ROW) return dot(weights, first, samples, start, from, to);
    const near = dot(weights, first, samples, start, from, to);
    return near + t * (dot(weights, first + taps, samples, start, from, to) - near);
  }
}

/** Σ of weights and samples over taps [from, to). */
function dot(
  weights: Float64Array,
  first: number,
  samples: Float32Array,
  start: number,
  from: number,
  to: number,
): number {
  let a = 0;
  let b = 0;
  let c = 0;
  let d = 0;
  let k = from;
  for (; k + 3 < to; k += 4) {
    a += weights[first + k] * samples[start + k];
    b += weights[first + k + 1] * samples[start + k + 1];
    c += weights[first + k + 2] * samples[start + k + 2];
    d += weights[first + k + 3] * samples[start + k + 3];
  }
  for (; k < to; k++) a += weights[first + k] * samples[start + k];
  return a + b + (c + d);
}

/** Into how many places steps of this length divide a frame; 1 when those are too many to tell. */
function evenPlaces(step: number): number {
  for (let places = 1; places <= ROWS; places++) {
    const whole = step * places;
    if (Math.abs(whole - Math.round(whole)) < 1e-9) return places;
  }
  return 1;
}

/** A sound at another rate. `ratio` is the new rate by the old one. */
export function resample(samples: Float32Array, ratio: number): Float32Array {
  if (ratio === 1) return samples;
  const out = new Float32Array(Math.max(1, Math.round(samples.length * ratio)));
  const reader = new BetweenReader(ratio, 1 / ratio);
  for (let i = 0; i < out.length; i++) out[i] = reader.read(samples, i / ratio);
  return out;
}

/** What the resampler is, for those who want to know. */
export const RESAMPLER = 'windowed sinc, 96 taps at the lower rate, Kaiser 110 dB, flat to 0.45 of it';

function kernelTable(): Float64Array {
  const points = CROSSINGS * FINENESS;
  return Float64Array.from({ length: points + 2 }, (_, i) => {
    const x = i / FINENESS;
    const t = i / points;
    if (t >= 1) return 0;
    return i === 0 ? 1 : (kaiser(t, BETA) * sin(PI * x)) / (PI * x);
  });
}
