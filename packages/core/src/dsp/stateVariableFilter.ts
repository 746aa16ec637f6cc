import { PI, tan } from './portableMath.ts';
import { saturate } from './saturate.ts';
import type { Ramp } from '../model/ramp.ts';
import { settled } from './settled.ts';

export type FilterType = 'low' | 'band' | 'high' | 'notch';

/**
 * State-variable filter by trapezoidal integration, 12 dB/octave (V. Zavalishin, "The Art of VA Filter Design", 2012).
 * It stays stable while its frequency moves at audio rate, because the integrators keep their charge, not coefficients'
 * products. The band output has unit gain at the centre.
 */
export class StateVariableFilter {
  /** Resonance; 0.707: flat. */
  q = 0.7071067811865476;
  /** Above 1 it saturates the input softly, at unit gain for small signals. */
  drive = 1;
  private readonly sampleRate: number;
  private integrator1 = 0;
  private integrator2 = 0;
  /** The frequency that was warped last, and what it gave. */
  private tuned = -1;
  private warped = 0;

  constructor(sampleRate: number) {
    this.sampleRate = sampleRate;
  }

  reset(): void {
    this.integrator1 = 0;
    this.integrator2 = 0;
  }

  private tune(frequency: number): void {
    if (frequency === this.tuned) return;
    this.tuned = frequency;
    this.warped = tan((PI * Math.min(frequency, 0.49 * this.sampleRate)) / this.sampleRate);
  }

  /** Filters in place. `frequency` in Hz, ramped across the block. */
  process(samples: Float32Array | Float64Array, frames: number, type: FilterType, frequency: Ramp): void {
    if (this.drive > 1) saturate(samples, frames, this.drive);
    const k = 1 / this.q;
    // The output is a sum of the input, the band and the low output, weighed by type.
    const ofInput = type === 'high' || type === 'notch' ? 1 : 0;
    const ofBand = type === 'low' ? 0 : type === 'band' ? k : -k;
    const ofLow = type === 'low' ? 1 : type === 'high' ? -1 : 0;
    const moving = frequency.end !== frequency.start;
    this.tune(frequency.start);
    let g = this.warped;
    if (moving) this.tune(frequency.end);
    const step = (this.warped - g) / frames;
    let a1 = 1 / (1 + g * (g + k));
    let a2 = g * a1;
    let ic1 = this.integrator1;
    let ic2 = this.integrator2;
    for (let i = 0; i < frames; i++) {
      const x = samples[i];
      const v3 = x - ic2;
      const band = a1 * ic1 + a2 * v3;
      const low = ic2 + g * band;
      ic1 = 2 * band - ic1;
      ic2 = 2 * low - ic2;
      samples[i] = ofInput * x + ofBand * band + ofLow * low;
      if (moving) {
        g += step;
        a1 = 1 / (1 + g * (g + k));
        a2 = g * a1;
      }
    }
    this.integrator1 = settled(ic1);
    this.integrator2 = settled(ic2);
  }
}
