import { kaiser } from './kaiser.ts';
import { PI, sin } from './portableMath.ts';

/** Taps of a sharp reading; as many on either side of the place. */
export const SHARP_TAPS = 16;
/** Frames that have to lie on the newer side of a place that is read sharply. */
export const SHARP_REACH = SHARP_TAPS / 2;
const PHASES = 256;
/** Shape of the Kaiser window: the gain is never over 1.0006, and at 0.34 of the sample rate within 0.01 dB of 1. */
const BETA = 7;

let table: Float64Array | undefined;

/** Weights at every 256th of a frame, one more than there are, a row of taps each. */
export function sharpTable(): Float64Array {
  if (table) return table;
  const rows = new Float64Array((PHASES + 1) * SHARP_TAPS);
  for (let phase = 0; phase <= PHASES; phase++) {
    let sum = 0;
    for (let k = 0; k < SHARP_TAPS; k++) {
      const x = k - SHARP_REACH + 1 - phase / PHASES;
      const weight = (x === 0 ? 1 : sin(PI * x) / (PI * x)) * kaiser(x / SHARP_REACH, BETA);
      rows[phase * SHARP_TAPS + k] = weight;
      sum += weight;
    }
    for (let k = 0; k < SHARP_TAPS; k++) rows[phase * SHARP_TAPS + k] /= sum;
  }
  return (table = rows);
}

/**
 * Value between samples by a windowed sinc of 16 taps, whose weights lie in a straight line between those of the table;
 * written to place `slot` of `into`. The ring has `mask` + 1 values; `place` counts round it and is not negative.
 */
export function readSharp(
  into: Float64Array,
  slot: number,
  weights: Float64Array,
  memory: Float32Array,
  mask: number,
  place: number,
): void {
  const whole = place | 0;
  const phase = (place - whole) * PHASES;
  const row = phase | 0;
  const t = phase - row;
  const first = row * SHARP_TAPS;
  const second = first + SHARP_TAPS;
  const start = whole - SHARP_REACH + 1;
  let sum = 0;
  for (let k = 0; k < SHARP_TAPS; k++) {
    const weight = weights[first + k];
    sum += (weight + t * (weights[second + k] - weight)) * memory[(start + k) & mask];
  }
  into[slot] = sum;
}
