import { decibelsToGain, gainToDecibels } from '../../../dsp/portableMath.ts';

/** Frames between two moments at which the curve is asked; in between the gain moves in a straight line. */
const STEP = 8;
/** Levels below count as this one. */
const FLOOR = 1e-6;

/** A gain in decibels for a level in decibels; plain data, so that the audio thread makes no function for it. */
export interface GainCurve {
  /** Takes its settings as they are at this share of the block, 0…1. */
  moveTo(share: number): void;
  gainAt(level: number): number;
}

/**
 * Turns a level, frame by frame, into a gain by a static curve in decibels. The curve is asked every few frames, counted
 * from the beginning, so the block length changes nothing. Allocates nothing once made.
 */
export class GainTrack {
  private readonly state = new Float64Array(3); // gain now, its step, frames until the next question
  /** The deepest reduction of the last block in dB, negative. */
  deepest = 0;

  reset(): void {
    this.state[0] = 1;
    this.state[1] = 0;
    this.state[2] = 0;
  }

  constructor() {
    this.reset();
  }

  /** Puts the gain in place of the level. */
  process(levels: Float64Array, frames: number, curve: GainCurve): void {
    const { state } = this;
    let gain = state[0];
    let step = state[1];
    let left = state[2];
    let deepest = 0;
    for (let i = 0; i < frames; i++) {
      if (left === 0) {
        curve.moveTo(i / frames);
        const decibels = curve.gainAt(gainToDecibels(levels[i] > FLOOR ? levels[i] : FLOOR));
        if (decibels < deepest) deepest = decibels;
        step = (decibelsToGain(decibels) - gain) / STEP;
        left = STEP;
      }
      levels[i] = gain;
      gain += step;
      left--;
    }
    state[0] = gain;
    state[1] = step;
    state[2] = left;
    this.deepest = deepest;
  }
}

/** Multiplies what comes in by a gain, frame by frame. */
export function applyGain(
  input: readonly Float32Array[],
  output: readonly Float32Array[],
  gains: Float64Array,
  frames: number,
): void {
  for (let c = 0; c < output.length; c++) {
    const from = input[c < input.length ? c : 0];
    const out = output[c];
    for (let i = 0; i < frames; i++) out[i] = gains[i] * from[i];
  }
}
