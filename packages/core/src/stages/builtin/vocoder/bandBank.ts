import { TAU, cos, exp, log, sin } from '../../../dsp/portableMath.ts';
import { settled } from '../../../dsp/settled.ts';

/** Floats of state a band: two sections with two each. */
const STATE = 4;

/**
 * Band passes side by side, each two second-order sections in a row, all of the same width as the ear has it. Every
 * band is run over a whole block at once. Allocates nothing once made.
 */
export class BandBank {
  readonly bands: number;
  private readonly sampleRate: number;
  /** Per band: b0, a1, a2; the numerator is b0 (1 − z⁻²). */
  private readonly coefficients: Float64Array;
  private readonly states: Float64Array;

  constructor(bands: number, sampleRate: number) {
    this.bands = bands;
    this.sampleRate = sampleRate;
    this.coefficients = new Float64Array(3 * bands);
    this.states = new Float64Array(STATE * bands);
  }

  reset(): void {
    this.states.fill(0);
  }

  /** Tunes a band; a frequency that the rate cannot hold silences it. */
  tune(band: number, frequency: number, q: number): void {
    const at = 3 * band;
    if (frequency > 0.47 * this.sampleRate) {
      this.coefficients.fill(0, at, at + 3);
      return;
    }
    const w = (TAU * frequency) / this.sampleRate;
    const alpha = sin(w) / (2 * q);
    this.coefficients[at] = alpha / (1 + alpha);
    this.coefficients[at + 1] = (-2 * cos(w)) / (1 + alpha);
    this.coefficients[at + 2] = (1 - alpha) / (1 + alpha);
  }

  /** Writes what lies in a band to `into` from `offset` on. */
  run(band: number, samples: Float64Array, into: Float64Array, offset: number, frames: number): void {
    const { coefficients, states } = this;
    const b0 = coefficients[3 * band];
    const a1 = coefficients[3 * band + 1];
    const a2 = coefficients[3 * band + 2];
    const at = STATE * band;
    let s1 = states[at];
    let s2 = states[at + 1];
    let t1 = states[at + 2];
    let t2 = states[at + 3];
    for (let i = 0; i < frames; i++) {
      const x = samples[i];
      const y = b0 * x + s1;
      s1 = s2 - a1 * y;
      s2 = -b0 * x - a2 * y;
      const z = b0 * y + t1;
      t1 = t2 - a1 * z;
      t2 = -b0 * y - a2 * z;
      into[offset + i] = z;
    }
    states[at] = settled(s1);
    states[at + 1] = settled(s2);
    states[at + 2] = settled(t1);
    states[at + 3] = settled(t2);
  }
}

const LOWEST_BAND = 90;
const HIGHEST_BAND = 9500;
/** Hz up to which the scale is nearly straight. */
const BEND = 700;

/**
 * Edge of a band in Hz, evenly spaced on the scale of pitch as it is heard (S. S. Stevens, J. Volkmann & E. B. Newman, "A
 * scale for the measurement of the psychological magnitude pitch", 1937): narrower bands in the lows would ring for longer
 * than a syllable lasts. `edge` may lie between two.
 */
function bandEdge(edge: number, bands: number): number {
  const way = log((HIGHEST_BAND + BEND) / (LOWEST_BAND + BEND));
  return (LOWEST_BAND + BEND) * exp((way * edge) / bands) - BEND;
}

/** Middle of a band in Hz, which may lie between two. */
export function bandMiddle(band: number, bands: number): number {
  return Math.sqrt(bandEdge(band, bands) * bandEdge(band + 1, bands));
}

/** Quality of one of the two sections, so that neighbours meet 3 dB down. */
export function bandQuality(band: number, bands: number): number {
  const ratio = Math.sqrt(bandEdge(band + 1, bands) / bandEdge(band, bands));
  // Two sections in a row are narrower than one by √(√2 − 1).
  return 0.6435942529055826 / (ratio - 1 / ratio);
}
