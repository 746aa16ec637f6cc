import { DelayLine } from '../../../dsp/delayLine.ts';
import { BypassableFilter } from '../../../dsp/bypassableFilter.ts';
import { GainRamp } from '../../../dsp/gainRamp.ts';
import { readCubic, ringSize } from '../../../dsp/lagrange.ts';
import { Lfo } from '../../../dsp/lfo.ts';
import { exp, log } from '../../../dsp/portableMath.ts';
import { constant, type Ramp } from '../../../model/ramp.ts';
import { saturate } from '../../../dsp/saturate.ts';
import { SpectralShifter, windowFrames } from '../../../dsp/spectralShifter.ts';
import { StateVariableFilter } from '../../../dsp/stateVariableFilter.ts';
import type { LiveContext } from '../../contract.ts';
import { BLOCK_FRAMES } from '../../../model/block.ts';
import { voicePhase, voicePlace, voiceRest } from './voices.ts';

/** Frames of the window of the transposition at 48 kHz. */
export const TRANSPOSING_WINDOW = 2048;
export const WAVES = ['sine', 'triangle', 'smooth random', 'steps'] as const;
/** Seconds. */
export const MOST_DEPTH = 0.012;
export const MOST_DRIFT = 0.008;
export const OPEN = 20000; // Hz
/** How fast a voice strays from its time, in Hz. */
const DRIFT_RATE = constant(0.37);
/** Steps go from one place to the next in this time, or they would click. */
const STEP_SECONDS = 0.03;
const OCTAVE = log(2);

interface EnsembleValues {
  readonly filter: 'off' | 'low' | 'band' | 'high';
  readonly cutoff: Ramp;
  readonly resonance: Ramp;
  readonly transposition: 'off' | 'formants kept' | 'formants moved';
  readonly interval: Ramp;
  readonly transposed: Ramp;
  readonly rate: Ramp;
  readonly depth: Ramp;
  readonly wave: (typeof WAVES)[number];
  readonly distribution: Ramp;
  readonly drift: Ramp;
  readonly spread: Ramp;
  readonly mirrored: boolean;
  readonly saturation: Ramp;
  readonly softened: Ramp;
  readonly width: Ramp;
  readonly gain: Ramp;
}

/** A filter, a transposition beside it, delay lines read by every voice at a place of its own, and what colours them. */
export class EnsembleProcessor {
  readonly memoryFrames: number;
  private readonly sampleRate: number;
  private readonly inputs: number;
  private readonly voices: number;
  private readonly filters: StateVariableFilter[];
  private readonly shifters: SpectralShifter[] = [];
  private readonly straight: DelayLine[] = [];
  private readonly late: number;
  private readonly settings = { ratio: 1, formants: 1, formantsApart: false };
  private interval = NaN;
  private readonly lines: Float32Array[];
  private readonly mask: number;
  private position = 0;
  private readonly movement: Lfo;
  private readonly steps: Lfo[];
  private readonly drifts: Lfo[];
  private readonly phase: Ramp = constant(0);
  /** 1: right as left, −1: against it; moves softly. */
  private mirror = NaN;
  private readonly move = new Float64Array(BLOCK_FRAMES);
  private readonly stray = new Float64Array(BLOCK_FRAMES);
  private readonly fed = new Float64Array(BLOCK_FRAMES);
  private readonly other = new Float64Array(BLOCK_FRAMES);
  private readonly sums = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)];
  private readonly drive = new GainRamp();
  private readonly gain = new GainRamp();
  private readonly cuts: BypassableFilter[];
  /** Where each voice stands while it moves in steps. */
  private readonly held: Float64Array;

  constructor(
    { sampleRate, inputChannels, random }: LiveContext,
    { voices, transposition }: { readonly voices: number; readonly transposition: EnsembleValues['transposition'] },
  ) {
    this.sampleRate = sampleRate;
    this.inputs = inputChannels;
    this.voices = Math.round(voices);
    this.filters = [0, 1].map(() => new StateVariableFilter(sampleRate));
    this.late = transposition === 'off' ? 0 : windowFrames(TRANSPOSING_WINDOW, sampleRate);
    if (transposition !== 'off') {
      this.settings.formantsApart = transposition === 'formants kept';
      this.shifters = [0, 1].map(() => new SpectralShifter(this.late, sampleRate, false));
      this.straight = [0, 1].map(() => new DelayLine(this.late, BLOCK_FRAMES));
    }
    const longest = Math.ceil((voiceRest(this.voices) + MOST_DEPTH + MOST_DRIFT) * sampleRate) + BLOCK_FRAMES + 8;
    const size = ringSize(longest);
    this.mask = size - 1;
    this.lines = [new Float32Array(size), new Float32Array(size)];
    this.memoryFrames = longest + 2 * this.late + 0.1 * sampleRate;
    this.movement = new Lfo(sampleRate, random);
    this.steps = Array.from({ length: this.voices }, () => new Lfo(sampleRate, random));
    this.drifts = Array.from({ length: this.voices }, () => new Lfo(sampleRate, random));
    this.cuts = [0, 1].map(() => new BypassableFilter('low', OPEN, sampleRate));
    this.held = new Float64Array(2 * this.voices).fill(NaN);
  }

  reset(): void {
    for (let side = 0; side < 2; side++) {
      this.lines[side].fill(0);
      this.filters[side].reset();
      this.cuts[side].reset();
      if (this.late > 0) {
        this.shifters[side].reset();
        this.straight[side].reset();
      }
    }
    for (let v = 0; v < this.voices; v++) {
      this.drifts[v].reset();
      this.steps[v].reset();
    }
    this.movement.reset();
    this.position = 0;
    this.mirror = NaN;
    this.drive.reset();
    this.gain.reset();
    this.held.fill(NaN);
  }

  process(
    input: readonly Float32Array[],
    output: readonly Float32Array[],
    frames: number,
    values: EnsembleValues,
    position: number,
  ): void {
    this.movement.begin(position, values.rate.start);
    for (let v = 0; v < this.voices; v++) {
      this.steps[v].begin(position, values.rate.start);
      this.drifts[v].begin(position, DRIFT_RATE.start);
    }
    this.takeIn(input, frames, values);
    for (let side = 0; side < 2; side++) for (let i = 0; i < frames; i++) this.sums[side][i] = 0;
    const goal = values.mirrored ? -1 : 1;
    const before = Number.isNaN(this.mirror) ? goal : this.mirror;
    const reach = (2 * frames) / (0.05 * this.sampleRate);
    this.mirror = before + Math.max(-reach, Math.min(reach, goal - before));
    for (let v = 0; v < this.voices; v++) this.sing(v, frames, values, before);
    this.movement.advance(frames, values.rate);
    this.position = (this.position + frames) & this.mask;
    this.colour(output, frames, values);
  }

  /** Filters, transposes and writes the input to the lines. */
  private takeIn(input: readonly Float32Array[], frames: number, values: EnsembleValues): void {
    const { fed, other, mask, settings } = this;
    if (values.interval.end !== this.interval) {
      this.interval = values.interval.end;
      settings.ratio = exp((this.interval / 12) * OCTAVE);
    }
    for (let side = 0; side < 2; side++) {
      const from = input[side < this.inputs ? side : 0];
      for (let i = 0; i < frames; i++) fed[i] = from[i];
      if (values.filter !== 'off') {
        this.filters[side].q = values.resonance.end;
        this.filters[side].process(fed, frames, values.filter, values.cutoff);
      }
      if (this.late > 0) {
        for (let i = 0; i < frames; i++) other[i] = fed[i];
        this.shifters[side].process(other, frames, settings);
        this.straight[side].pass(fed, frames, this.late);
        const step = (values.transposed.end - values.transposed.start) / frames;
        let share = values.transposed.start;
        for (let i = 0; i < frames; i++) {
          fed[i] += share * (other[i] - fed[i]);
          share += step;
        }
      }
      const line = this.lines[side];
      for (let i = 0; i < frames; i++) line[(this.position + i) & mask] = fed[i];
    }
  }

  /** Adds a voice. */
  private sing(voice: number, frames: number, values: EnsembleValues, mirrorStart: number): void {
    const { move, stray, phase, mask, sampleRate, sums, held } = this;
    const { depth, drift, spread, rate, wave, distribution } = values;
    phase.start = voicePhase(voice, this.voices, distribution.start);
    phase.end = voicePhase(voice, this.voices, distribution.end);
    if (wave === 'sine' || wave === 'triangle') this.movement.read(move, frames, wave, rate, phase);
    else {
      // Chance is each voice's own.
      this.steps[voice].read(move, frames, 'random', rate, phase);
      this.steps[voice].advance(frames, rate);
    }
    this.drifts[voice].read(stray, frames, 'random', DRIFT_RATE, phase);
    this.drifts[voice].advance(frames, DRIFT_RATE);
    const rest = voiceRest(voice) * sampleRate;
    const place = voicePlace(voice, this.voices);
    const scale = 1 / Math.sqrt(this.voices);
    const depthStep = ((depth.end - depth.start) * sampleRate) / frames;
    const driftStep = ((drift.end - drift.start) * sampleRate) / frames;
    const mirrorStep = (this.mirror - mirrorStart) / frames;
    const gainStep = ((spread.end - spread.start) * place) / frames;
    const soft = 1 - exp(-1 / (0.25 * STEP_SECONDS * sampleRate));
    for (let side = 0; side < 2; side++) {
      const line = this.lines[side];
      const sum = sums[side];
      const sign = side === 0 ? -1 : 1;
      let far = depth.start * sampleRate;
      let lost = drift.start * sampleRate;
      let mirror = side === 0 ? 1 : mirrorStart;
      let across = spread.start * place;
      let now = held[2 * voice + side];
      for (let i = 0; i < frames; i++) {
        let swing = 0.5 + 0.5 * mirror * (2 * move[i] - 1);
        if (wave === 'steps') {
          // From place to place: a few of them, and the way between rounded.
          const goal = Math.floor(swing * 4.999) / 4;
          now = now === now ? now + soft * (goal - now) : goal;
          swing = now;
        }
        const at = this.position + i + mask + 1 - rest - far * swing - lost * stray[i];
        // Only what lies on the other side is turned down: a voice in the middle is whole on both.
        const lean = 1 + sign * across;
        sum[i] += scale * (lean < 1 ? lean : 1) * readCubic(line, 0, mask, at);
        far += depthStep;
        lost += driftStep;
        if (side === 1) mirror += mirrorStep;
        across += gainStep;
      }
      held[2 * voice + side] = now;
    }
  }

  private colour(output: readonly Float32Array[], frames: number, values: EnsembleValues): void {
    const { sums } = this;
    this.drive.advance(values.saturation.end);
    this.gain.advance(values.gain.end);
    for (let side = 0; side < 2; side++) {
      if (this.drive.start > 1 || this.drive.end > 1) saturate(sums[side], frames, this.drive.start, this.drive.end);
      this.cuts[side].process(sums[side], frames, values.softened);
      this.gain.apply(sums[side], frames);
    }
    const left = output[0];
    const right = output[1];
    const step = (values.width.end - values.width.start) / frames;
    let width = values.width.start;
    for (let i = 0; i < frames; i++) {
      const middle = 0.5 * (sums[0][i] + sums[1][i]);
      const side = 0.5 * width * (sums[0][i] - sums[1][i]);
      left[i] = middle + side;
      right[i] = middle - side;
      width += step;
    }
  }
}
