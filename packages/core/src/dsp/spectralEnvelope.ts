import { exp, log } from './portableMath.ts';
import type { RealFft } from './realFft.ts';
import { smoothStep } from './smoothStep.ts';

/** Power below which a bin is nothing. */
const NOTHING = 1e-18;
/** Voices lie between these, in Hz. */
const LOWEST_VOICE = 70;
const HIGHEST_VOICE = 500;
/** Height of the peak of the cepstrum that tells a period. */
const PERIODIC = 0.08;
/** Without a period the spectrum is looked at in bands as wide as this, in Hz. */
const BAND = 100;
/** How far from its place a partial is looked for, in parts of the distance between two. */
const NEAR = 0.3;
/** Up to here, in Hz, and to so many partials at least, a voice is full; below so much of the loudest, one is missing. */
const FULL_TO = 2500;
const FULL_COUNT = 5;
const MISSING = 1.6e-5;
/** Shares of the partials from which on it may be a voice, and from which on it is one. */
const DOUBTFUL = 0.55;
const CERTAIN = 0.8;
/** A formant rises no further between two partials than this makes of the inverse. */
const MOST_RISE = 0.5;
/** How far it goes to a new opinion with every window. */
const CHANGE = 0.3;

/**
 * The spectral envelope of a voice: a smooth curve, in decibels, through its partials, whose distance is told by the
 * peak of the cepstrum (A. M. Noll, "Cepstrum pitch determination", 1967). It says how certain it is that there is one:
 * the partials of a voice, as the bands of a whisper, are all there, while between the tones of an instrument or a chord
 * lies nothing that would have a colour. Allocates nothing once made.
 */
export class SpectralEnvelope {
  /** Magnitude at every bin, and once more at the last. */
  readonly levels: Float64Array;
  /** 0…1: whether what it stands for is a voice. */
  certainty = 0;
  private readonly fft: RealFft;
  private readonly bins: number;
  private readonly hertzPerBin: number;
  private readonly sampleRate: number;
  private readonly logs: Float64Array;
  private readonly zeros: Float64Array;
  private readonly cepstrum: Float64Array;
  /** The points that the envelope goes through: bins and the inverse of their magnitudes. */
  private readonly places: Int32Array;
  private readonly heights: Float64Array;
  private fresh = true;

  constructor(fft: RealFft, sampleRate: number) {
    this.fft = fft;
    this.sampleRate = sampleRate;
    this.hertzPerBin = sampleRate / fft.size;
    this.bins = fft.size / 2 + 1;
    this.levels = new Float64Array(this.bins + 1).fill(1);
    this.logs = new Float64Array(this.bins);
    this.zeros = new Float64Array(this.bins);
    this.cepstrum = new Float64Array(fft.size);
    this.places = new Int32Array(this.bins);
    this.heights = new Float64Array(this.bins);
  }

  reset(): void {
    this.certainty = 0;
    this.fresh = true;
  }

  /** Looks at a window's powers, one a bin. */
  find(power: Float64Array): void {
    const { logs, bins, hertzPerBin } = this;
    let loudest = NOTHING;
    for (let k = 0; k < bins; k++) {
      const p = power[k] > NOTHING ? power[k] : NOTHING;
      if (p > loudest) loudest = p;
      logs[k] = 0.5 * log(p);
    }
    const period = this.findPeriod();
    const distance = (period > 0 ? this.sampleRate / period : BAND) / hertzPerBin;
    const opinion = smoothStep((this.fullness(power, loudest, distance) - DOUBTFUL) / (CERTAIN - DOUBTFUL));
    this.certainty = this.fresh ? opinion : this.certainty + CHANGE * (opinion - this.certainty);
    this.fresh = false;
    this.draw(power, distance, period > 0);
  }

  /** Frames of a period; 0 when there is none. */
  private findPeriod(): number {
    const { cepstrum, sampleRate, fft } = this;
    fft.inverse(this.logs, this.zeros, cepstrum);
    const first = Math.round(sampleRate / HIGHEST_VOICE);
    const last = Math.min(fft.size / 2 - 1, Math.round(sampleRate / LOWEST_VOICE));
    let best = first;
    for (let i = first; i <= last; i++) if (cepstrum[i] > cepstrum[best]) best = i;
    return cepstrum[best] > PERIODIC ? best : 0;
  }

  /** The share of partials that are there. */
  private fullness(power: Float64Array, loudest: number, distance: number): number {
    const count = Math.max(FULL_COUNT, Math.floor(FULL_TO / (distance * this.hertzPerBin)));
    let there = 0;
    for (let n = 1; n <= count; n++)
      if (power[this.partialAt(power, n * distance, distance)] > MISSING * loudest) there++;
    return there / count;
  }

  /** The loudest bin near a place. */
  private partialAt(power: Float64Array, place: number, distance: number): number {
    const from = Math.max(1, Math.ceil(place - NEAR * distance));
    const to = Math.min(this.bins - 1, Math.floor(place + NEAR * distance));
    let best = Math.min(this.bins - 1, Math.round(place));
    for (let k = from; k <= to; k++) if (power[k] > power[best]) best = k;
    return best;
  }

  /** Draws the curve: through partials at their height, or through bands at the mean of theirs. */
  private draw(power: Float64Array, distance: number, partials: boolean): void {
    const { levels, logs, bins, places, heights } = this;
    let count = 0;
    for (let n = 1; n * distance <= bins - 1; n++) {
      const place = n * distance;
      const at = partials ? this.partialAt(power, place, distance) : Math.round(place);
      if (count > 0 && at <= places[count - 1]) continue;
      places[count] = at;
      heights[count] = exp(-(partials ? logs[at] : this.meanOf(power, place, distance)));
      count++;
    }
    for (let k = 0; k <= places[0]; k++) levels[k] = heights[0];
    for (let n = 0; n + 1 < count; n++) {
      const from = places[n];
      const way = places[n + 1] - from;
      const rise = heights[n + 1] - heights[n];
      // A cubic with the slopes of its neighbours (E. Catmull & R. Rom, 1974): a formant may lie between two partials.
      // Of the inverse, which around a resonance is a parabola.
      let before = n > 0 ? (way * (heights[n + 1] - heights[n - 1])) / (places[n + 1] - places[n - 1]) : rise;
      const after = n + 2 < count ? (way * (heights[n + 2] - heights[n])) / (places[n + 2] - from) : rise;
      if (n === 0) before = 2 * rise - after;
      const least = MOST_RISE * Math.min(heights[n], heights[n + 1]);
      for (let k = 1; k <= way; k++) {
        const t = k / way;
        const y = heights[n] + t * (before + t * (3 * rise - 2 * before - after + t * (before + after - 2 * rise)));
        levels[from + k] = y > least ? y : least;
      }
    }
    for (let k = places[count - 1] + 1; k <= bins; k++) levels[k] = heights[count - 1];
    for (let k = 0; k <= bins; k++) levels[k] = 1 / levels[k];
  }

  private meanOf(power: Float64Array, place: number, distance: number): number {
    const from = Math.max(0, Math.ceil(place - distance));
    const to = Math.min(this.bins - 1, Math.floor(place + distance));
    let sum = NOTHING;
    for (let k = from; k <= to; k++) sum += power[k];
    return 0.5 * log(sum / Math.max(1, to - from + 1));
  }
}
