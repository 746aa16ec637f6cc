import { log } from './portableMath.ts';
import { RealFft } from './realFft.ts';

/** The pitch of a single voice over time, one value every `hop` frames. */
export interface PitchTrack {
  readonly sampleRate: number;
  /** Frames from one value to the next; value n belongs to frame n·hop. */
  readonly hop: number;
  /** Hertz; 0 where there is no pitch. */
  readonly pitches: Float64Array;
}

export interface PitchRange {
  /** Hertz. */
  readonly lowest: number;
  readonly highest: number;
}

const HOP_SECONDS = 0.005;
/** Candidates kept at each moment. */
const CANDIDATES = 8;
/** Candidates above this are none. */
const WORST = 0.7;
/** What it costs to say that there is no pitch; what comes is weighed against it. */
const UNVOICED = 0.45;
/** What it costs to begin or end a pitch, and to jump by an octave. */
const SWITCH = 0.2;
const JUMP = 1.2;
/** What an octave lower costs, so that of two equal periods the shorter is taken. */
const LOWER = 0.035;
/** Level in dB below the loudest moment under which nothing is a pitch. */
const SILENT = 1e-5;

interface Candidate {
  /** Octaves above 1 Hz; NaN: no pitch. */
  readonly octave: number;
  readonly hertz: number;
  readonly cost: number;
}

/**
 * Follows the pitch of a single voice: the cumulative mean normalised difference of YIN (A. de Cheveigné & H. Kawahara,
 * 2002) gives candidates at each moment, and the cheapest way through them is taken (A. Viterbi, 1967; as M. Mauch &
 * S. Dixon do with pYIN, 2014), so that single wrong octaves do not stand. Yields the share done.
 */
export function* trackPitch(
  channels: readonly Float32Array[],
  sampleRate: number,
  { lowest, highest }: PitchRange,
): Generator<number, PitchTrack, void> {
  const frames = channels[0].length;
  const hop = Math.round(HOP_SECONDS * sampleRate);
  const count = Math.ceil(frames / hop) + 1;
  const mono = monoOf(channels);
  const difference = new Difference(mono, sampleRate, lowest, highest);
  const moments: Candidate[][] = [];
  for (let n = 0; n < count; n++) {
    moments.push(difference.candidates(n * hop));
    if (n % 32 === 0) yield n / count;
  }
  return { sampleRate, hop, pitches: cheapestWay(moments) };
}

function monoOf(channels: readonly Float32Array[]): Float32Array {
  if (channels.length === 1) return channels[0];
  return channels[0].map((sample, i) => 0.5 * (sample + channels[1][i]));
}

class Difference {
  private readonly samples: Float32Array;
  private readonly sampleRate: number;
  private readonly shortest: number;
  private readonly longest: number;
  private readonly size: number;
  private readonly fft: RealFft;
  private readonly short: Float64Array;
  private readonly long: Float64Array;
  private readonly product: Float64Array;
  private readonly normal: Float64Array;
  private readonly raw: Float64Array;
  private readonly spectra: readonly [Float64Array, Float64Array, Float64Array, Float64Array];
  private readonly quiet: number;

  constructor(samples: Float32Array, sampleRate: number, lowest: number, highest: number) {
    this.samples = samples;
    this.sampleRate = sampleRate;
    this.shortest = Math.max(2, Math.floor(sampleRate / highest) - 1);
    this.longest = Math.ceil(sampleRate / lowest) + 2;
    let size = 64;
    while (size < 3 * this.longest) size *= 2;
    this.size = size;
    this.fft = new RealFft(size);
    this.short = new Float64Array(size);
    this.long = new Float64Array(size);
    this.product = new Float64Array(size);
    this.normal = new Float64Array(this.longest + 2);
    this.raw = new Float64Array(this.longest + 2);
    const bins = size / 2 + 1;
    this.spectra = [new Float64Array(bins), new Float64Array(bins), new Float64Array(bins), new Float64Array(bins)];
    let most = 0;
    for (let i = 0; i < samples.length; i++) most = Math.max(most, samples[i] * samples[i]);
    this.quiet = most * SILENT;
  }

  /** The periods that fit around a frame, the best first, and the chance that there is none. */
  candidates(centre: number): Candidate[] {
    const none: Candidate = { octave: NaN, hertz: 0, cost: UNVOICED };
    const { normal, raw, longest, shortest } = this;
    if (!this.measure(centre)) return [none];
    const found: Candidate[] = [];
    for (let t = shortest; t <= longest; t++) {
      if (normal[t] > WORST || normal[t] >= normal[t - 1] || normal[t] > normal[t + 1]) continue;
      const period = t + vertex(raw[t - 1], raw[t], raw[t + 1]);
      const hertz = this.sampleRate / period;
      const octave = log(hertz) / Math.LN2;
      found.push({ octave, hertz, cost: normal[t] + (LOWER * log(period / shortest)) / Math.LN2 });
    }
    found.sort((a, b) => a.cost - b.cost);
    return [...found.slice(0, CANDIDATES), none];
  }

  /** Fills in the difference and its normalised form; false where it is silent. */
  private measure(centre: number): boolean {
    const { samples, longest, size, fft, short, long, product, normal, raw } = this;
    const [aRe, aIm, bRe, bIm] = this.spectra;
    const width = longest;
    // The stretch that all lags look at lies evenly around the frame.
    const from = Math.round(centre - width);
    const at = (i: number) => (from + i >= 0 && from + i < samples.length ? samples[from + i] : 0);
    let energy = 0;
    for (let i = 0; i < width; i++) {
      short[i] = at(i);
      energy += short[i] * short[i];
    }
    for (let i = 0; i < 2 * longest + 2; i++) long[i] = at(i);
    if (energy / width < this.quiet) return false;
    fft.forward(short, aRe, aIm);
    fft.forward(long, bRe, bIm);
    for (let k = 0; k <= size / 2; k++) {
      const re = aRe[k] * bRe[k] + aIm[k] * bIm[k];
      bIm[k] = aRe[k] * bIm[k] - aIm[k] * bRe[k];
      bRe[k] = re;
    }
    fft.inverse(bRe, bIm, product);
    let moving = energy;
    let sum = 0;
    normal[0] = 1;
    raw[0] = 0;
    for (let t = 1; t <= longest + 1; t++) {
      moving += long[t + width - 1] * long[t + width - 1] - long[t - 1] * long[t - 1];
      const difference = Math.max(0, energy + moving - 2 * product[t]);
      raw[t] = difference;
      sum += difference;
      normal[t] = sum > 0 ? (difference * t) / sum : 1;
    }
    return true;
  }
}

/** Where, −0.5…0.5 from the middle one, the parabola through three values has its lowest point. */
export function vertex(before: number, here: number, behind: number): number {
  const bow = before - 2 * here + behind;
  return bow > 0 ? Math.max(-0.5, Math.min(0.5, (0.5 * (before - behind)) / bow)) : 0;
}

function cheapestWay(moments: readonly (readonly Candidate[])[]): Float64Array {
  const pitches = new Float64Array(moments.length);
  const from: Int8Array[] = [];
  let costs = moments[0].map(({ cost }) => cost);
  for (let n = 1; n < moments.length; n++) {
    const before = moments[n - 1];
    const back = new Int8Array(moments[n].length);
    costs = moments[n].map((candidate, j) => {
      let least = Infinity;
      for (let i = 0; i < before.length; i++) {
        const total = costs[i] + stepCost(before[i], candidate);
        if (total < least) {
          least = total;
          back[j] = i;
        }
      }
      return least + candidate.cost;
    });
    from.push(back);
  }
  let at = costs.indexOf(Math.min(...costs));
  for (let n = moments.length - 1; n >= 0; n--) {
    pitches[n] = moments[n][at].hertz;
    if (n > 0) at = from[n - 1][at];
  }
  return pitches;
}

function stepCost(a: Candidate, b: Candidate): number {
  if (a.hertz === 0 || b.hertz === 0) return a.hertz === b.hertz ? 0 : SWITCH;
  return JUMP * Math.abs(a.octave - b.octave);
}

/** The pitch at a frame, straight between neighbours; 0 where there is none. */
export function pitchAt({ pitches, hop }: PitchTrack, frame: number): number {
  const place = frame / hop;
  const n = Math.max(0, Math.min(pitches.length - 1, Math.floor(place)));
  const a = pitches[n];
  const b = pitches[Math.min(pitches.length - 1, n + 1)];
  const t = Math.max(0, Math.min(1, place - n));
  if (a === 0 || b === 0) return t < 0.5 ? a : b;
  return a + t * (b - a);
}
