import { GainRamp } from '../../../dsp/gainRamp.ts';
import { HeldSound } from '../../heldSound.ts';
import { Oscillator, type OscillatorShape } from '../../../dsp/oscillator.ts';
import { TAU, exp, log } from '../../../dsp/portableMath.ts';
import { constant, type Ramp } from '../../../model/ramp.ts';
import { StateVariableFilter } from '../../../dsp/stateVariableFilter.ts';
import type { LiveContext } from '../../contract.ts';
import { BLOCK_FRAMES } from '../../../model/block.ts';
import { BandBank, bandMiddle, bandQuality } from './bandBank.ts';

export const CARRIERS = ['saw', 'pulse', 'noise', 'chord', 'another sound'] as const;
/** Semitones above the root. */
export const CHORDS = {
  minor: [0, 3, 7, 12],
  major: [0, 4, 7, 12],
  fifths: [0, 7, 12, 19],
  'minor seventh': [0, 3, 7, 10],
  'major seventh': [0, 4, 7, 11],
  fourths: [0, 5, 10, 15],
  octaves: [0, 12, 24, -12],
} as const;
export type Chord = keyof typeof CHORDS;

/** What lies above, against what lies below, tells hissing from singing. */
const HISS_FROM = 3200;
const HISS_TO = 1100;
const HISS_SECONDS = 0.008;
const OCTAVE = log(2);
const DC_CUT = 8; // Hz
/**
 * Every band of the carrier is brought to the same level before it speaks, so that its own gaps and beats do not chop the
 * words. Below this it is left as it is.
 */
const CARRIER_FLOOR = 0.004;
/** What a band has at least of a neighbour's level. */
const NEIGHBOUR = 1.4;
/** So that it speaks about as loud as the voice. */
const CARRIER_LEVEL = 1.5;
const CARRIER_ATTACK = 0.004;
const CARRIER_RELEASE = 0.03;

interface VocoderValues {
  readonly carrier: (typeof CARRIERS)[number];
  readonly note: Ramp;
  readonly chord: Chord;
  readonly attack: Ramp;
  readonly release: Ramp;
  readonly bandShift: Ramp;
  readonly stretch: Ramp;
  readonly unvoiced: Ramp;
  readonly sibilants: Ramp;
  readonly sibilantsFrom: Ramp;
  readonly spread: Ramp;
  readonly hold: boolean;
  readonly gain: Ramp;
}

/** Two banks of band passes: one measures the voice, band by band, the other lets as much of the carrier through. */
export class VocoderProcessor {
  readonly memoryFrames: number;
  private readonly sampleRate: number;
  private readonly bands: number;
  private readonly analysis: BandBank;
  private readonly synthesis: BandBank;
  private readonly envelopes: Float64Array;
  private readonly smoothed: Float64Array;
  private readonly carried: Float64Array;
  /** What each band of the carrier says and how loud it is, a row a band between two that stay empty. */
  private readonly spoken: Float64Array;
  private readonly levels: Float64Array;
  private readonly oscillators: Oscillator[];
  private readonly steps: readonly number[];
  private readonly held: HeldSound | undefined;
  private readonly heard = [new Float32Array(BLOCK_FRAMES), new Float32Array(BLOCK_FRAMES)];
  private readonly voice = new Float64Array(BLOCK_FRAMES);
  private readonly carrier = new Float64Array(BLOCK_FRAMES);
  private readonly tone = new Float64Array(BLOCK_FRAMES);
  private readonly noise = new Float64Array(BLOCK_FRAMES);
  private readonly band = new Float64Array(BLOCK_FRAMES);
  private readonly hissing = new Float64Array(BLOCK_FRAMES);
  private readonly sums = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)];
  private readonly pitch: Ramp = constant(0);
  private readonly highs: StateVariableFilter;
  private readonly lows: StateVariableFilter;
  private readonly high = new Float64Array(BLOCK_FRAMES);
  private readonly low = new Float64Array(BLOCK_FRAMES);
  private readonly sibilantCut: StateVariableFilter[];
  private readonly sibilant = new Float64Array(BLOCK_FRAMES);
  private readonly gain = new GainRamp();
  /** Direct current that evening out the carrier has made, of each side. */
  private readonly means = new Float64Array(2);
  private readonly meanStep: number;
  private readonly sibilantGain = new GainRamp();
  /** Power above and below, share of hiss. */
  private readonly hiss = new Float64Array(3);
  private noiseState: number;
  private readonly seed: number;
  private shift = NaN;
  private stretch = NaN;
  private readonly hissFrom = constant(HISS_FROM);
  private readonly hissTo = constant(HISS_TO);

  constructor(
    context: LiveContext,
    {
      bands,
      carrier,
      chord,
    }: { readonly bands: number; readonly carrier: VocoderValues['carrier']; readonly chord: Chord },
  ) {
    const { sampleRate, random, sounds } = context;
    this.sampleRate = sampleRate;
    this.bands = Math.round(bands);
    this.analysis = new BandBank(this.bands, sampleRate);
    this.synthesis = new BandBank(this.bands, sampleRate);
    this.envelopes = new Float64Array(this.bands);
    this.smoothed = new Float64Array(this.bands);
    this.carried = new Float64Array(this.bands);
    this.spoken = new Float64Array((this.bands + 2) * BLOCK_FRAMES);
    this.levels = new Float64Array((this.bands + 2) * BLOCK_FRAMES);
    for (let b = 0; b < this.bands; b++) {
      this.analysis.tune(b, bandMiddle(b, this.bands), bandQuality(b, this.bands));
    }
    this.steps = carrier === 'chord' ? CHORDS[chord] : [0];
    this.oscillators = this.steps.map((_, n) => new Oscillator(sampleRate, (n * 0.37) % 1));
    const { other } = sounds;
    this.held = carrier === 'another sound' && other ? HeldSound.from(other, 'other', context) : undefined;
    this.memoryFrames = 12 * sampleRate;
    this.meanStep = 1 - exp((-TAU * DC_CUT) / sampleRate);
    this.highs = new StateVariableFilter(sampleRate);
    this.lows = new StateVariableFilter(sampleRate);
    this.sibilantCut = [new StateVariableFilter(sampleRate), new StateVariableFilter(sampleRate)];
    this.seed = 1 + Math.floor(random() * 2147483646);
    this.noiseState = this.seed;
  }

  reset(): void {
    this.analysis.reset();
    this.synthesis.reset();
    this.envelopes.fill(0);
    this.smoothed.fill(0);
    this.carried.fill(0);
    for (let n = 0; n < this.oscillators.length; n++) this.oscillators[n].reset();
    this.highs.reset();
    this.lows.reset();
    this.sibilantCut[0].reset();
    this.sibilantCut[1].reset();
    this.gain.reset();
    this.sibilantGain.reset();
    this.hiss.fill(0);
    this.means.fill(0);
    this.noiseState = this.seed;
  }

  process(
    input: readonly Float32Array[],
    output: readonly Float32Array[],
    frames: number,
    values: VocoderValues,
    position: number,
  ): void {
    const { voice, sums } = this;
    const left = input[0];
    const right = input[input.length - 1];
    if (values.carrier === 'another sound' && !this.held) {
      for (let i = 0; i < frames; i++) {
        output[0][i] = left[i];
        output[1][i] = right[i];
      }
      return;
    }
    for (let i = 0; i < frames; i++) {
      voice[i] = 0.5 * (left[i] + right[i]);
      sums[0][i] = 0;
      sums[1][i] = 0;
    }
    this.tune(values);
    this.makeNoise(frames);
    this.makeCarrier(values, frames, position);
    this.findHiss(values, frames);
    this.speak(values, frames);
    this.finish(output, values, frames);
  }

  private tune({ bandShift, stretch }: VocoderValues): void {
    if (bandShift.end === this.shift && stretch.end === this.stretch) return;
    this.shift = bandShift.end;
    this.stretch = stretch.end;
    const middle = log(bandMiddle((this.bands - 1) / 2, this.bands));
    for (let b = 0; b < this.bands; b++) {
      const place = middle + stretch.end * (log(bandMiddle(b, this.bands)) - middle);
      this.synthesis.tune(b, exp(place + (this.shift / 12) * OCTAVE), bandQuality(b, this.bands));
    }
  }

  private makeNoise(frames: number): void {
    const { noise } = this;
    let state = this.noiseState | 0;
    for (let i = 0; i < frames; i++) {
      state ^= state << 13;
      state ^= state >>> 17;
      state ^= state << 5;
      noise[i] = state * 4.656612873077393e-10;
    }
    this.noiseState = state;
  }

  private makeCarrier(values: VocoderValues, frames: number, position: number): void {
    const { carrier, tone, noise, pitch, heard, held } = this;
    if (held) {
      held.read(heard, frames, position, true);
      for (let i = 0; i < frames; i++) carrier[i] = 0.5 * (heard[0][i] + heard[1][i]);
    } else if (values.carrier === 'noise') {
      for (let i = 0; i < frames; i++) carrier[i] = noise[i];
    } else {
      const shape: OscillatorShape = values.carrier === 'pulse' ? 'square' : 'saw';
      const scale = 1 / Math.sqrt(this.steps.length);
      for (let i = 0; i < frames; i++) carrier[i] = 0;
      for (let n = 0; n < this.steps.length; n++) {
        const ratio = exp((this.steps[n] / 12) * OCTAVE);
        pitch.start = values.note.start * ratio;
        pitch.end = values.note.end * ratio;
        this.oscillators[n].begin(position, pitch.start);
        this.oscillators[n].fill(tone, frames, shape, pitch);
        for (let i = 0; i < frames; i++) carrier[i] += scale * tone[i];
      }
    }
  }

  /** Puts noise in place of the carrier where the voice hisses. */
  private findHiss({ unvoiced }: VocoderValues, frames: number): void {
    const { voice, high, low, hiss, carrier, noise, hissing } = this;
    for (let i = 0; i < frames; i++) {
      high[i] = voice[i];
      low[i] = voice[i];
    }
    this.highs.process(high, frames, 'high', this.hissFrom);
    this.lows.process(low, frames, 'low', this.hissTo);
    const step = 1 - exp(-1 / (HISS_SECONDS * this.sampleRate));
    let above = hiss[0];
    let below = hiss[1];
    let share = hiss[2];
    const grow = (unvoiced.end - unvoiced.start) / frames;
    let amount = unvoiced.start;
    for (let i = 0; i < frames; i++) {
      above += step * (high[i] * high[i] - above);
      below += step * (low[i] * low[i] - below);
      const goal = above > 0.5 * below ? 1 : 0;
      share += step * (goal - share);
      hissing[i] = amount * share;
      carrier[i] += hissing[i] * (noise[i] - carrier[i]);
      amount += grow;
    }
    hiss[0] = above < 1e-20 ? 0 : above;
    hiss[1] = below < 1e-20 ? 0 : below;
    hiss[2] = share < 1e-20 ? 0 : share;
  }

  private speak({ attack, release, spread, hold }: VocoderValues, frames: number): void {
    const { voice, carrier, band, sums, envelopes, smoothed, spoken } = this;
    for (let b = 0; b < this.bands; b++) {
      const offset = (b + 1) * BLOCK_FRAMES;
      this.synthesis.run(b, carrier, spoken, offset, frames);
      this.follow(b, offset, frames);
    }
    const up = 1 - exp(-1 / (attack.end * this.sampleRate));
    const down = 1 - exp(-1 / (release.end * this.sampleRate));
    // A second, faster lag takes the ripple of the single waves out.
    const soft = 1 - exp(-1 / (0.5 * (attack.end + 0.002) * this.sampleRate));
    for (let b = 0; b < this.bands; b++) {
      const offset = (b + 1) * BLOCK_FRAMES;
      this.analysis.run(b, voice, band, 0, frames);
      this.even(offset, frames);
      let envelope = envelopes[b];
      let smooth = smoothed[b];
      if (!hold) {
        for (let i = 0; i < frames; i++) {
          const size = band[i] < 0 ? -band[i] : band[i];
          envelope += (size > envelope ? up : down) * (size - envelope);
          smooth += soft * (envelope - smooth);
          spoken[offset + i] *= smooth;
        }
        envelopes[b] = envelope < 1e-20 ? 0 : envelope;
        smoothed[b] = smooth < 1e-20 ? 0 : smooth;
      } else for (let i = 0; i < frames; i++) spoken[offset + i] *= smooth;
      // Neighbours stand on opposite sides: each is taken from the other side as far as the spread says.
      let near = 1 - spread.start;
      const step = (spread.start - spread.end) / frames;
      const full = sums[b % 2];
      const partial = sums[1 - (b % 2)];
      // Where two neighbours meet their phases are half a turn apart; every second one is turned over.
      const sign = b % 2 === 0 ? 1 : -1;
      for (let i = 0; i < frames; i++) {
        full[i] += sign * spoken[offset + i];
        partial[i] += sign * near * spoken[offset + i];
        near += step;
      }
    }
  }

  /** The level of a band of the carrier. */
  private follow(band: number, offset: number, frames: number): void {
    const { spoken, levels, carried } = this;
    const up = 1 - exp(-1 / (CARRIER_ATTACK * this.sampleRate));
    const down = 1 - exp(-1 / (CARRIER_RELEASE * this.sampleRate));
    let level = carried[band];
    for (let i = 0; i < frames; i++) {
      const x = spoken[offset + i];
      const size = x < 0 ? -x : x;
      level += (size > level ? up : down) * (size - level);
      levels[offset + i] = level;
    }
    carried[band] = level < 1e-20 ? 0 : level;
  }

  /**
   * Brings a band of the carrier to the common level. Where a neighbour is louder that one's counts: a band without a
   * partial of its own would else lift the neighbour's, which speaks there already.
   */
  private even(offset: number, frames: number): void {
    const { spoken, levels } = this;
    for (let i = offset; i < offset + frames; i++) {
      let level = levels[i];
      const below = NEIGHBOUR * levels[i - BLOCK_FRAMES];
      const above = NEIGHBOUR * levels[i + BLOCK_FRAMES];
      if (below > level) level = below;
      if (above > level) level = above;
      spoken[i] *= CARRIER_LEVEL / (level > CARRIER_FLOOR ? level : CARRIER_FLOOR);
    }
  }

  private finish(output: readonly Float32Array[], values: VocoderValues, frames: number): void {
    const { voice, sums, sibilant, means, meanStep } = this;
    this.gain.advance(values.gain.end);
    this.sibilantGain.advance(values.sibilants.end);
    for (let i = 0; i < frames; i++) sibilant[i] = voice[i];
    this.sibilantCut[0].process(sibilant, frames, 'high', values.sibilantsFrom);
    this.sibilantCut[1].process(sibilant, frames, 'high', values.sibilantsFrom);
    this.sibilantGain.apply(sibilant, frames);
    for (let side = 0; side < 2; side++) {
      const sum = sums[side];
      const out = output[side];
      this.gain.apply(sum, frames);
      let mean = means[side];
      for (let i = 0; i < frames; i++) {
        const x = sum[i] - mean;
        mean += meanStep * x;
        out[i] = x + sibilant[i];
      }
      means[side] = mean;
    }
  }
}
