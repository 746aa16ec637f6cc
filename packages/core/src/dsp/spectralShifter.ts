import { TAU, atan2, cos, sin } from './portableMath.ts';
import { RealFft } from './realFft.ts';
import { SpectralEnvelope } from './spectralEnvelope.ts';

/** Frames of a window, in parts of which a new one begins. */
const OVERLAP = 4;
/** Power below which a bin is nothing. */
const NOTHING = 1e-18;
/** Greatest correction of the formants: 30 dB. More would lift what is no voice. */
const MOST_CORRECTION = 31.6;

/** What becomes of the formants: where they were, or moved by a factor. */
export interface ShiftSettings {
  /** Factor of all frequencies. */
  ratio: number;
  /** Factor of the formants; with `formantsApart` alone. */
  formants: number;
  /** False: the formants move with the pitch, as they do by themselves. */
  formantsApart: boolean;
}

/**
 * Transposes without changing the speed: every peak of the short-time spectrum is moved as a whole, with the bins around
 * it, and its phase turned on by as much as its frequency has risen (J. Laroche & M. Dolson, "New phase-vocoder techniques
 * for pitch-shifting, harmonizing and other exotic effects", 1999). Formants are kept by taking the spectral envelope of a
 * voice from where it was and putting it where it shall be. Where a sound begins suddenly, phases are left
 * as they are, so that the attack stays one. Mono; late by one window; allocates nothing once made.
 */
export class SpectralShifter {
  /** Frames by which the output is late. */
  readonly latency: number;
  private readonly size: number;
  private readonly hop: number;
  private readonly bins: number;
  private readonly fft: RealFft;
  private readonly window: Float64Array;
  private readonly recent: Float64Array;
  private readonly sum: Float64Array;
  private readonly wave: Float64Array;
  /** The spectrum of this window and of the one before. */
  private re: Float64Array;
  private im: Float64Array;
  private lastRe: Float64Array;
  private lastIm: Float64Array;
  private power: Float64Array;
  private lastPower: Float64Array;
  private turned: Float64Array;
  private lastTurned: Float64Array;
  private readonly outRe: Float64Array;
  private readonly outIm: Float64Array;
  private readonly envelope: SpectralEnvelope;
  private readonly peaks: Int32Array;
  private readonly keepsAttacks: boolean;
  private filled = 0;

  /** `size` is a power of two; longer windows resolve more and blur more. */
  constructor(size: number, sampleRate: number, keepsAttacks: boolean) {
    this.size = size;
    this.latency = size;
    this.hop = size / OVERLAP;
    this.bins = size / 2 + 1;
    this.fft = new RealFft(size);
    this.window = Float64Array.from({ length: size }, (_, i) => 0.5 - 0.5 * cos((TAU * i) / size));
    this.recent = new Float64Array(size);
    this.sum = new Float64Array(size);
    this.wave = new Float64Array(size);
    const bins = this.bins;
    this.re = new Float64Array(bins);
    this.im = new Float64Array(bins);
    this.lastRe = new Float64Array(bins);
    this.lastIm = new Float64Array(bins);
    this.power = new Float64Array(bins);
    this.lastPower = new Float64Array(bins);
    this.turned = new Float64Array(bins);
    this.lastTurned = new Float64Array(bins);
    this.outRe = new Float64Array(bins);
    this.outIm = new Float64Array(bins);
    this.envelope = new SpectralEnvelope(this.fft, sampleRate);
    this.peaks = new Int32Array(bins);
    this.keepsAttacks = keepsAttacks;
  }

  reset(): void {
    this.recent.fill(0);
    this.sum.fill(0);
    this.power.fill(0);
    this.lastPower.fill(0);
    this.turned.fill(0);
    this.lastTurned.fill(0);
    this.envelope.reset();
    this.filled = 0;
  }

  /** Transposes `frames` frames in place. */
  process(samples: Float64Array, frames: number, settings: ShiftSettings): void {
    const { recent, sum, size, hop } = this;
    for (let done = 0; done < frames;) {
      const count = Math.min(frames - done, hop - this.filled);
      const at = size - hop + this.filled;
      for (let i = 0; i < count; i++) {
        recent[at + i] = samples[done + i];
        samples[done + i] = sum[this.filled + i];
      }
      this.filled += count;
      done += count;
      if (this.filled < hop) continue;
      this.filled = 0;
      sum.copyWithin(0, hop);
      sum.fill(0, size - hop);
      this.transform(settings);
      recent.copyWithin(0, hop);
    }
  }

  /** Works on the window that is full. */
  private transform(settings: ShiftSettings): void {
    const { recent, window, wave, size, sum } = this;
    const half = size / 2;
    let loud = 0;
    // The middle of the window comes first, so that a peak has one phase over all its bins.
    for (let i = 0; i < half; i++) {
      wave[i] = window[i + half] * recent[i + half];
      wave[i + half] = window[i] * recent[i];
      loud += wave[i] * wave[i] + wave[i + half] * wave[i + half];
    }
    if (loud < NOTHING) {
      this.power.fill(0);
      return;
    }
    this.keepLast();
    this.fft.forward(wave, this.re, this.im);
    if (settings.ratio !== 1 || (settings.formantsApart && settings.formants !== 1)) {
      const count = this.findPeaks();
      if (settings.formantsApart) this.envelope.find(this.power);
      this.movePeaks(count, settings, this.beginsSuddenly());
      this.fft.inverse(this.outRe, this.outIm, wave);
    } else {
      this.power.fill(0);
      this.turned.fill(0);
      this.fft.inverse(this.re, this.im, wave);
    }
    const scale = 2 / 3; // two windows, four times over each other, add up to 3/2
    for (let i = 0; i < half; i++) {
      sum[i] += scale * window[i] * wave[i + half];
      sum[i + half] += scale * window[i + half] * wave[i];
    }
  }

  /** What was this window's becomes the last one's. */
  private keepLast(): void {
    const { re, im, power, turned } = this;
    this.re = this.lastRe;
    this.im = this.lastIm;
    this.power = this.lastPower;
    this.turned = this.lastTurned;
    this.lastRe = re;
    this.lastIm = im;
    this.lastPower = power;
    this.lastTurned = turned;
  }

  /** Powers, and the bins that are higher than two on either side; returns how many. */
  private findPeaks(): number {
    const { re, im, power, bins, peaks } = this;
    for (let k = 0; k < bins; k++) power[k] = re[k] * re[k] + im[k] * im[k];
    let count = 0;
    for (let k = 2; k < bins - 2; k++) {
      const p = power[k];
      if (p <= NOTHING || p < power[k - 1] || p < power[k + 1] || p < power[k - 2] || p < power[k + 2]) continue;
      if (p === power[k - 1] || p === power[k - 2]) continue;
      peaks[count++] = k;
    }
    return count;
  }

  /** True when much more has come than was there, in the upper half of the spectrum above all. */
  private beginsSuddenly(): boolean {
    if (!this.keepsAttacks) return false;
    const { power, lastPower, bins } = this;
    let rise = 0;
    let all = NOTHING;
    for (let k = 4; k < bins; k++) {
      const more = power[k] - 4 * lastPower[k];
      if (more > 0) rise += more * k;
      all += power[k] * k;
    }
    return rise > 0.6 * all;
  }

  private movePeaks(count: number, { ratio, formants, formantsApart }: ShiftSettings, attack: boolean): void {
    const { re, im, power, turned, lastRe, lastIm, lastTurned, lastPower, outRe, outIm, bins, peaks, hop, size } = this;
    const { levels, certainty } = this.envelope;
    const perBin = (TAU * hop) / size;
    outRe.fill(0);
    outIm.fill(0);
    let from = 0;
    for (let n = 0; n < count; n++) {
      const peak = peaks[n];
      // A peak reaches to the lowest bin between it and the next.
      let to = bins - 1;
      if (n + 1 < count) {
        to = peak + 1;
        let least = power[to];
        for (let k = peak + 2; k < peaks[n + 1]; k++) {
          if (power[k] < least) {
            least = power[k];
            to = k;
          }
        }
      }
      const angle = atan2(im[peak], re[peak]);
      let hertz = peak * perBin; // radians a hop
      if (lastPower[peak] > NOTHING) {
        const ahead = angle - atan2(lastIm[peak], lastRe[peak]) - hertz;
        hertz += ahead - TAU * Math.round(ahead / TAU);
      }
      const moved = (ratio - 1) * hertz;
      let turn = attack ? 0 : lastTurned[peak] + moved;
      turn -= TAU * Math.round(turn / TAU);
      const c = cos(turn);
      const s = sin(turn);
      // The window moves by parts of a bin: read between bins, in straight lines through four of them.
      const way = moved / perBin;
      const first = Math.max(0, Math.ceil(from + way));
      const last = Math.min(bins - 1, Math.floor(to + way));
      for (let k = first; k <= last; k++) {
        const place = k - way;
        let whole = Math.floor(place);
        const t = place - whole;
        let x = re[whole < 0 ? 0 : whole];
        let y = im[whole < 0 ? 0 : whole];
        if (t > 1e-9) {
          if (whole < 1) whole = 1;
          if (whole > bins - 3) whole = bins - 3;
          const w0 = (-t * (t - 1) * (t - 2)) / 6;
          const w1 = ((t + 1) * (t - 1) * (t - 2)) / 2;
          const w2 = (-(t + 1) * t * (t - 2)) / 2;
          const w3 = ((t + 1) * t * (t - 1)) / 6;
          x = w0 * re[whole - 1] + w1 * re[whole] + w2 * re[whole + 1] + w3 * re[whole + 2];
          y = w0 * im[whole - 1] + w1 * im[whole] + w2 * im[whole + 1] + w3 * im[whole + 2];
        }
        if (formantsApart) {
          const wanted = k / formants;
          const at = wanted < bins - 1 ? wanted : bins - 1;
          const low = at | 0;
          let gain = (levels[low] + (at - low) * (levels[low + 1] - levels[low])) / levels[place | 0];
          if (gain > MOST_CORRECTION) gain = MOST_CORRECTION;
          if (gain < 1 / MOST_CORRECTION) gain = 1 / MOST_CORRECTION;
          // Where there is no voice there are no formants to be kept.
          gain = 1 + certainty * (gain - 1);
          x *= gain;
          y *= gain;
        }
        outRe[k] += c * x - s * y;
        outIm[k] += s * x + c * y;
      }
      for (let k = from; k <= to; k++) turned[k] = turn;
      from = to + 1;
    }
    outRe[0] = 0; // what was no tone becomes no direct current
    outIm[0] = 0;
    outIm[bins - 1] = 0;
    if (count === 0) turned.fill(0);
  }
}

/** Frames of a window that lasts about as long at any sample rate as `frames` do at 48 kHz. */
export function windowFrames(frames: number, sampleRate: number): number {
  let size = frames;
  while (size > 64 && size / 2 >= (frames * sampleRate) / 48000 / 1.5) size /= 2;
  while (size * 1.5 < (frames * sampleRate) / 48000) size *= 2;
  return size;
}
