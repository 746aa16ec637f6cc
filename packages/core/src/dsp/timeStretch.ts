import { TAU, cos } from './portableMath.ts';
import { RealFft } from './realFft.ts';

/** Parts of a window in which the next begins. */
const OVERLAP = 4;
/** Power below which a bin is nothing. */
const NOTHING = 1e-18;
/** How much louder a bin has to get at an attack to belong to it. */
const RISE = 4;

export interface Stretching {
  /** How many times as long it gets. */
  readonly factor: number;
  /** Frames of a window, a power of two. */
  readonly size: number;
  /** Indices of frames at which something begins that shall keep its shape. */
  readonly attacks: readonly number[];
}

/** Frames around an attack that are not stretched: in the sound, and where they come to lie. */
interface Kept {
  readonly at: number;
  readonly to: number;
  readonly half: number;
}

/**
 * Makes a sound longer or shorter at the same pitch: a phase vocoder whose spectral peaks carry the bins around them with
 * them (J. Laroche & M. Dolson, "Improved phase vocoder time-scale modification of audio", 1999). The phase of a peak
 * goes on by what it does in the sound over a hop, found from two windows so far apart. Around attacks it runs at the
 * speed of the sound, and the bins that rise there have the phases of the sound, so that the attack is what it was. All
 * channels turn together, so places stay. Yields the share done.
 */
export function* stretchChannels(
  channels: readonly Float32Array[],
  { factor, size, attacks }: Stretching,
): Generator<number, Float32Array[], void> {
  const frames = channels[0].length;
  const length = Math.max(1, Math.round(frames * factor));
  const out = channels.map(() => new Float32Array(length));
  const hop = size / OVERLAP;
  const kept = keptAround(attacks, factor, size);
  const voices = channels.map((samples, c) => new Voice(samples, out[c], size));
  const turns = new Turns(size / 2 + 1);
  let zone = 0;
  let risen: { readonly zone: number; readonly bins: Uint8Array } | undefined;
  for (let centre = 0, n = 0; centre - size / 2 < length; centre += hop, n++) {
    while (zone < kept.length && centre > kept[zone].to + kept[zone].half) zone++;
    const here = kept[zone] as Kept | undefined;
    const inside = here !== undefined && centre >= here.to - here.half;
    if (inside && risen?.zone !== zone) risen = { zone, bins: risingBins(voices, here, size) };
    const place = placeOf(centre, kept, zone, factor);
    for (const voice of voices) voice.analyse(place, place - hop);
    turns.find(voices, n === 0, inside && risen?.zone === zone ? risen.bins : undefined);
    for (const voice of voices) voice.write(turns, centre);
    if (n % 8 === 0) yield Math.min(1, centre / length);
  }
  return out;
}

/** No two overlap, neither in the sound nor where they come to lie. */
function keptAround(attacks: readonly number[], factor: number, size: number): Kept[] {
  return attacks.map((at, n) => {
    const near = Math.min(at - (attacks[n - 1] ?? -Infinity), (attacks[n + 1] ?? Infinity) - at);
    return { at, to: at * factor, half: Math.min(size / 2, 0.45 * near * Math.min(1, factor)) };
  });
}

/** The place in the sound of a frame that comes out; `zone` is the first that does not end before it. */
function placeOf(frame: number, kept: readonly Kept[], zone: number, factor: number): number {
  const next = kept[zone] as Kept | undefined;
  const before = kept[zone - 1] as Kept | undefined;
  if (next && frame >= next.to - next.half) return next.at + frame - next.to;
  const fromFrame = before ? before.to + before.half : 0;
  const from = before ? before.at + before.half : 0;
  if (!next) return from + (frame - fromFrame) / factor;
  const toFrame = next.to - next.half;
  const to = next.at - next.half;
  return toFrame > fromFrame ? from + ((frame - fromFrame) * (to - from)) / (toFrame - fromFrame) : to;
}

/** Bins that are much louder behind an attack than before it. */
function risingBins(voices: readonly Voice[], { at }: Kept, size: number): Uint8Array {
  const bins = size / 2 + 1;
  const before = new Float64Array(bins);
  const behind = new Float64Array(bins);
  for (const voice of voices) {
    voice.addPower(at - size / 2, before);
    voice.addPower(at + size / 4, behind);
  }
  return Uint8Array.from(before, (power, k) => (behind[k] > RISE * power ? 1 : 0));
}

/** One channel. */
class Voice {
  readonly re: Float64Array;
  readonly im: Float64Array;
  /** A hop before. */
  readonly earlierRe: Float64Array;
  readonly earlierIm: Float64Array;
  /** What was written last. */
  readonly writtenRe: Float64Array;
  readonly writtenIm: Float64Array;
  private readonly samples: Float32Array;
  private readonly out: Float32Array;
  private readonly window: Float64Array;
  private readonly wave: Float64Array;
  private readonly fft: RealFft;

  constructor(samples: Float32Array, out: Float32Array, size: number) {
    const bins = size / 2 + 1;
    this.samples = samples;
    this.out = out;
    this.fft = new RealFft(size);
    this.window = Float64Array.from({ length: size }, (_, i) => 0.5 - 0.5 * cos((TAU * i) / size));
    this.wave = new Float64Array(size);
    this.re = new Float64Array(bins);
    this.im = new Float64Array(bins);
    this.earlierRe = new Float64Array(bins);
    this.earlierIm = new Float64Array(bins);
    this.writtenRe = new Float64Array(bins);
    this.writtenIm = new Float64Array(bins);
  }

  analyse(place: number, earlier: number): void {
    // Whole frames: the difference of a fraction would only turn both spectra alike.
    const at = Math.round(place);
    this.transform(at, this.re, this.im);
    this.transform(at + Math.round(earlier - place), this.earlierRe, this.earlierIm);
  }

  addPower(place: number, power: Float64Array): void {
    const re = new Float64Array(power.length);
    const im = new Float64Array(power.length);
    this.transform(Math.round(place), re, im);
    for (let k = 0; k < power.length; k++) power[k] += re[k] * re[k] + im[k] * im[k];
  }

  /** Spectrum of the window whose middle lies at `centre`; the middle comes first, so that a peak has one phase. */
  private transform(centre: number, re: Float64Array, im: Float64Array): void {
    const { samples, window, wave } = this;
    const size = window.length;
    const half = size / 2;
    const from = centre - half;
    for (let i = 0; i < half; i++) {
      const early = from + i;
      const late = early + half;
      wave[i + half] = early >= 0 && early < samples.length ? window[i] * samples[early] : 0;
      wave[i] = late >= 0 && late < samples.length ? window[i + half] * samples[late] : 0;
    }
    this.fft.forward(wave, re, im);
  }

  write(turns: Turns, centre: number): void {
    const { re, im, writtenRe, writtenIm, wave, window, out } = this;
    for (let k = 0; k < re.length; k++) {
      const c = turns.cosines[k];
      const s = turns.sines[k];
      writtenRe[k] = re[k] * c - im[k] * s;
      writtenIm[k] = re[k] * s + im[k] * c;
    }
    writtenIm[0] = 0;
    writtenIm[re.length - 1] = 0;
    this.fft.inverse(writtenRe, writtenIm, wave);
    const size = window.length;
    const half = size / 2;
    const from = centre - half;
    const scale = 2 / 3; // two windows, four times over each other, add up to 3/2
    for (let i = Math.max(0, -from); i < size && from + i < out.length; i++)
      out[from + i] += scale * window[i] * wave[i < half ? i + half : i - half];
  }
}

/** By how much each bin is turned before it is written. */
class Turns {
  readonly cosines: Float64Array;
  readonly sines: Float64Array;
  private readonly power: Float64Array;

  constructor(bins: number) {
    this.cosines = new Float64Array(bins).fill(1);
    this.sines = new Float64Array(bins);
    this.power = new Float64Array(bins);
  }

  /** `asTheyAre`: bins that keep the phases of the sound. */
  find(voices: readonly Voice[], first: boolean, asTheyAre: Uint8Array | undefined): void {
    const { power, cosines, sines } = this;
    const bins = power.length;
    if (first) return;
    power.fill(0);
    for (const { re, im } of voices) for (let k = 0; k < bins; k++) power[k] += re[k] * re[k] + im[k] * im[k];
    let from = 0;
    let peak = this.nextPeak(0);
    while (peak < bins) {
      const next = this.nextPeak(peak + 1);
      // A peak reaches to the lowest bin between it and the next.
      let to = bins - 1;
      if (next < bins) {
        to = peak + 1;
        for (let k = peak + 2; k < next; k++) if (power[k] < power[to]) to = k;
      }
      this.turn(voices, peak, from, to, asTheyAre);
      from = to + 1;
      peak = next;
    }
    for (let k = from; k < bins; k++) {
      cosines[k] = 1;
      sines[k] = 0;
    }
  }

  private nextPeak(from: number): number {
    const { power } = this;
    const bins = power.length;
    for (let k = from; k < bins; k++) {
      const p = power[k];
      if (p <= NOTHING) continue;
      if ((k > 0 && p <= power[k - 1]) || (k > 1 && p <= power[k - 2])) continue;
      if ((k < bins - 1 && p < power[k + 1]) || (k < bins - 2 && p < power[k + 2])) continue;
      return k;
    }
    return bins;
  }

  /** The written phase of a hop ago, on by what the sound's phase has gone on: all as products of complex numbers. */
  private turn(voices: readonly Voice[], peak: number, from: number, to: number, asTheyAre?: Uint8Array): void {
    const { cosines, sines } = this;
    let loudest = voices[0];
    let most = -1;
    for (const voice of voices) {
      const p = voice.re[peak] * voice.re[peak] + voice.im[peak] * voice.im[peak];
      if (p > most) {
        most = p;
        loudest = voice;
      }
    }
    let c = 1;
    let s = 0;
    if (!asTheyAre?.[peak]) {
      const { writtenRe, writtenIm, earlierRe, earlierIm } = loudest;
      // written · conj(earlier): the turn that would lead the earlier window to what was written.
      const x = writtenRe[peak] * earlierRe[peak] + writtenIm[peak] * earlierIm[peak];
      const y = writtenIm[peak] * earlierRe[peak] - writtenRe[peak] * earlierIm[peak];
      const length = Math.sqrt(x * x + y * y);
      if (length > NOTHING) {
        c = x / length;
        s = y / length;
      }
    }
    for (let k = from; k <= to; k++) {
      const keep = asTheyAre?.[k] === 1;
      cosines[k] = keep ? 1 : c;
      sines[k] = keep ? 0 : s;
    }
  }
}
