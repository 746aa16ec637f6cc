import type { Ramp } from '../model/ramp.ts';
import { SINE, SINE_POINTS } from './sineTable.ts';

export const OSCILLATOR_SHAPES = ['sine', 'triangle', 'square', 'saw'] as const;
export type OscillatorShape = (typeof OSCILLATOR_SHAPES)[number];

/**
 * An oscillator for audible frequencies. Steps and corners are rounded over the samples beside them, so that little folds
 * back (V. Välimäki & A. Huovilainen, "Antialiasing oscillators in subtractive synthesis", 2007: polynomial band-limited
 * steps and ramps). Allocates nothing once made.
 */
export class Oscillator {
  /** 0…1, in turns. */
  phase: number;
  private readonly first: number;
  private fresh = true;
  private readonly sampleRate: number;

  constructor(sampleRate: number, phase = 0) {
    this.sampleRate = sampleRate;
    this.first = phase;
    this.phase = phase;
  }

  reset(): void {
    this.phase = this.first;
    this.fresh = true;
  }

  /**
   * Before its first block since it was made or reset: puts it where it would be had it run from frame 0 on at `frequency`, in Hz.
   */
  begin(position: number, frequency: number): void {
    if (!this.fresh) return;
    this.fresh = false;
    const turns = this.first + (frequency * position) / this.sampleRate;
    this.phase = turns - Math.floor(turns);
  }

  /** Writes `frames` values of −1…1; `frequency` in Hz, below half the sample rate. */
  fill(into: Float64Array, frames: number, shape: OscillatorShape, frequency: Ramp): void {
    let step = frequency.start / this.sampleRate;
    const growth = (frequency.end - frequency.start) / this.sampleRate / frames;
    let phase = this.phase;
    if (shape === 'sine') {
      for (let i = 0; i < frames; i++) {
        const place = phase * SINE_POINTS;
        const at = place | 0;
        into[i] = SINE[at] + (place - at) * (SINE[at + 1] - SINE[at]);
        phase += step;
        if (phase >= 1) phase -= 1;
        step += growth;
      }
    } else if (shape === 'saw') {
      for (let i = 0; i < frames; i++) {
        into[i] = 2 * phase - 1 - roundedStep(phase, step);
        phase += step;
        if (phase >= 1) phase -= 1;
        step += growth;
      }
    } else if (shape === 'square') {
      for (let i = 0; i < frames; i++) {
        const half = phase < 0.5 ? phase + 0.5 : phase - 0.5;
        into[i] = (phase < 0.5 ? 1 : -1) + roundedStep(phase, step) - roundedStep(half, step);
        phase += step;
        if (phase >= 1) phase -= 1;
        step += growth;
      }
    } else {
      for (let i = 0; i < frames; i++) {
        const quarter = phase < 0.75 ? phase + 0.25 : phase - 0.75;
        const half = quarter < 0.5 ? quarter + 0.5 : quarter - 0.5;
        into[i] =
          1 - 4 * Math.abs(quarter - 0.5) + 8 * step * (roundedCorner(quarter, step) - roundedCorner(half, step));
        phase += step;
        if (phase >= 1) phase -= 1;
        step += growth;
      }
    }
    this.phase = phase;
  }
}

/** What a step of height 2 at phase 0 has to be changed by to hold no more than the sample rate can. */
function roundedStep(phase: number, step: number): number {
  if (phase < step) {
    const t = phase / step - 1;
    return -t * t;
  }
  if (phase > 1 - step) {
    const t = (phase - 1) / step + 1;
    return t * t;
  }
  return 0;
}

/** The same for a corner: the step's integral, in samples. */
function roundedCorner(phase: number, step: number): number {
  if (phase < step) {
    const t = 1 - phase / step;
    return (t * t * t) / 6;
  }
  if (phase > 1 - step) {
    const t = 1 + (phase - 1) / step;
    return (t * t * t) / 6;
  }
  return 0;
}
