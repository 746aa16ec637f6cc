import { TAU, cos } from './portableMath.ts';
import { RealFft } from './realFft.ts';
import type { Random } from './random.ts';
import { SINE, SINE_POINTS } from './sineTable.ts';

/** Parts of a window in which the next begins: enough of them over each other that no rhythm of theirs is heard. */
const OVERLAP = 4;
/** Parts of a window after which its strengths are taken anew. */
const STEPS = 16;

export interface Smearing {
  readonly factor: number;
  /** Frames. */
  readonly window: number;
  /** True when all channels get the same phases. */
  readonly alike: boolean;
  readonly random: Random;
}

/**
 * Stretches a sound into a texture: windows of it follow each other slowly, each with the strengths of its spectrum and
 * with phases of chance, so that what is heard has the sound's colour and no attack. Windows are faded so that their
 * powers add up to one. Gives the result in pieces, and holds no more of it than one window.
 */
export function* smearedPieces(
  channels: readonly Float32Array[],
  { factor, window: length, alike, random }: Smearing,
): Generator<Float32Array[], void> {
  const total = smearedFrames(channels[0].length, factor);
  let size = 64;
  while (size < length) size *= 2;
  const fft = new RealFft(size);
  const bins = size / 2 + 1;
  const wave = new Float64Array(size);
  const re = new Float64Array(bins);
  const im = new Float64Array(bins);
  const window = Float64Array.from({ length }, (_, i) => 0.5 - 0.5 * cos((TAU * (i + 0.5)) / length));
  const strengths = channels.map((samples) => new Strengths(samples, window, fft));
  const phases = new Uint16Array(bins);
  const hop = length / OVERLAP;
  // The windows' squares add up to 3/2 at every frame; a window's own sum of squares is 3/8 of its length.
  const scale = Math.sqrt(size / (0.375 * length * 1.5));
  /** Sums of the windows from frame `given` on. */
  const sums = channels.map(() => new Float64Array(length + Math.ceil(hop) + 1));
  let given = -(length >> 1);
  for (let n = 0; given < total; n++) {
    const centre = Math.round(n * hop);
    for (let c = 0; c < channels.length; c++) {
      if (c === 0 || !alike) for (let k = 0; k < bins; k++) phases[k] = random() * SINE_POINTS;
      strengths[c].read(centre / factor, re);
      for (let k = 1; k < bins - 1; k++) {
        const strength = re[k];
        const sine = phases[k];
        re[k] = strength * SINE[(sine + SINE_POINTS / 4) & (SINE_POINTS - 1)];
        im[k] = strength * SINE[sine];
      }
      re[0] = im[0] = re[bins - 1] = im[bins - 1] = 0;
      fft.inverse(re, im, wave);
      const sum = sums[c];
      const at = centre - (length >> 1) - given;
      for (let i = 0; i < length; i++) sum[at + i] += scale * window[i] * wave[i];
    }
    // What lies before the next window is done.
    const next = Math.min(total, Math.round((n + 1) * hop) - (length >> 1));
    const [first, count] = [Math.max(0, -given), next - given];
    if (count > first) yield sums.map((sum) => Float32Array.from(sum.subarray(first, count)));
    for (const sum of sums) {
      sum.copyWithin(0, count);
      sum.fill(0, sum.length - count);
    }
    given = next;
  }
}

/** Frames that come out. */
export const smearedFrames = (frames: number, factor: number): number => Math.max(1, Math.round(frames * factor));

/**
 * How strong each bin is at places of a sound that only rise. Taken every sixteenth of a window, over which they hardly
 * change, and straight between: the more it is stretched, the less there is to transform.
 */
class Strengths {
  private readonly samples: Float32Array;
  private readonly window: Float64Array;
  private readonly fft: RealFft;
  private readonly wave: Float64Array;
  private readonly im: Float64Array;
  private readonly step: number;
  private before: Float64Array;
  private behind: Float64Array;
  /** Number of the step that `before` belongs to. */
  private at = NaN;

  constructor(samples: Float32Array, window: Float64Array, fft: RealFft) {
    const bins = fft.size / 2 + 1;
    this.samples = samples;
    this.window = window;
    this.fft = fft;
    this.step = Math.max(1, window.length / STEPS);
    this.wave = new Float64Array(fft.size);
    this.im = new Float64Array(bins);
    this.before = new Float64Array(bins);
    this.behind = new Float64Array(bins);
  }

  read(place: number, into: Float64Array): void {
    const at = Math.floor(place / this.step);
    if (at !== this.at) {
      const { before } = this;
      this.before = this.behind;
      this.behind = before;
      if (at !== this.at + 1) this.take(at, this.before);
      this.take(at + 1, this.behind);
      this.at = at;
    }
    const t = place / this.step - at;
    const { before, behind } = this;
    for (let k = 0; k < into.length; k++) into[k] = before[k] + t * (behind[k] - before[k]);
  }

  private take(step: number, into: Float64Array): void {
    const { samples, window, wave, im, fft } = this;
    const from = Math.round(step * this.step - window.length / 2);
    for (let i = 0; i < window.length; i++) {
      const at = from + i;
      wave[i] = at >= 0 && at < samples.length ? window[i] * samples[at] : 0;
    }
    fft.forward(wave, into, im);
    for (let k = 0; k < into.length; k++) into[k] = Math.sqrt(into[k] * into[k] + im[k] * im[k]);
  }
}
