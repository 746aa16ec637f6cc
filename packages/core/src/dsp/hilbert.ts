import { PI, TAU, cos, pow, sin, tan } from './portableMath.ts';
import { settled } from './settled.ts';

/** Sections of each of the two paths. */
const SECTIONS = 12;
/** Lowest frequency at which the two paths are a quarter of a turn apart, in Hz. */
const LOWEST = 16;

/**
 * Splits a sound into two that are a quarter of a turn apart at every frequency, from 20 Hz to nearly half the sample
 * rate, by two rows of all-pass sections. Coefficients of an elliptic half-band filter (R. A. Valenzuela & A. G.
 * Constantinides, "Digital signal processing schemes for efficient interpolation and decimation", 1983), moved by a
 * quarter of the sample rate. Allocates nothing once made.
 */
export class HilbertPair {
  private readonly coefficients: Float64Array;
  /** Per section: the last two inputs and outputs. */
  private readonly states: Float64Array;
  private late = 0;

  constructor(sampleRate: number) {
    this.coefficients = halfBand(2 * SECTIONS, (2 * LOWEST) / sampleRate);
    this.states = new Float64Array(2 * SECTIONS * 4);
  }

  reset(): void {
    this.states.fill(0);
    this.late = 0;
  }

  /** Writes the sound turned by some angle into `real` and by a quarter more into `imaginary`. */
  process(samples: Float64Array, real: Float64Array, imaginary: Float64Array, frames: number): void {
    let late = this.late;
    for (let i = 0; i < frames; i++) {
      real[i] = samples[i];
      imaginary[i] = late;
      late = samples[i];
    }
    this.late = late;
    for (let s = 0; s < 2 * SECTIONS; s += 2) {
      this.section(real, frames, s);
      this.section(imaginary, frames, s + 1);
    }
  }

  /** y[n] = c (x[n] + y[n−2]) − x[n−2], in place. */
  private section(samples: Float64Array, frames: number, s: number): void {
    const { states } = this;
    const c = this.coefficients[s];
    const at = 4 * s;
    let x1 = states[at];
    let x2 = states[at + 1];
    let y1 = states[at + 2];
    let y2 = states[at + 3];
    for (let i = 0; i < frames; i++) {
      const x = samples[i];
      const y = c * (x + y2) - x2;
      x2 = x1;
      x1 = x;
      y2 = y1;
      y1 = y;
      samples[i] = y;
    }
    states[at] = settled(x1);
    states[at + 1] = settled(x2);
    states[at + 2] = settled(y1);
    states[at + 3] = settled(y2);
  }
}

/** Coefficients of a half-band filter made of `count` all-pass sections; `transition` as a share of the sample rate. */
function halfBand(count: number, transition: number): Float64Array {
  const root = tan(((1 - 2 * transition) * PI) / 4);
  const k = root * root;
  const kk = pow(1 - k * k, 0.25);
  const e = (0.5 * (1 - kk)) / (1 + kk);
  const e4 = e * e * e * e;
  const q = e * (1 + e4 * (2 + e4 * (15 + 150 * e4)));
  const order = 2 * count + 1;
  return Float64Array.from({ length: count }, (_, n) => {
    const c = n + 1;
    let above = 0;
    for (let i = 0, sign = 1; i < 40; i++, sign = -sign)
      above += sign * pow(q, i * (i + 1)) * sin(((2 * i + 1) * c * PI) / order);
    let below = 0.5;
    for (let i = 1, sign = -1; i < 40; i++, sign = -sign) below += sign * pow(q, i * i) * cos((c * i * TAU) / order);
    const ratio = (above * pow(q, 0.25)) / below;
    const square = ratio * ratio;
    const x = Math.sqrt((1 - square * k) * (1 - square / k)) / (1 + square);
    return (1 - x) / (1 + x);
  });
}
