import { AllpassPair } from '../../dsp/allpassPair.ts';
import { log } from '../../dsp/portableMath.ts';
import { SteppedDelay } from '../../dsp/steppedDelay.ts';
import { primeNear } from '../../dsp/primes.ts';
import { StateVariableFilter } from '../../dsp/stateVariableFilter.ts';
import type { Ramp } from '../../dsp/ramp.ts';
import { BLOCK_FRAMES, type LiveContext } from '../contract.ts';
import { EarlyReflections } from './earlyReflections.ts';
import { LineNetwork } from './lineNetwork.ts';

const MAX_SIZE = 2;
const MAX_PRE_DELAY = 0.5;
export const LOWEST_CUT = 20; // Hz
export const HIGHEST_CUT = 20000;
const FLAT_Q = 0.7071067811865476;
/** Diffuser lengths in seconds, left and right unlike so that the hall is wide from its first moment. */
const DIFFUSERS = [
  [0.00317, 0.00347],
  [0.00531, 0.00587],
  [0.00873, 0.00811],
  [0.01271, 0.01193],
];

export interface HallValues {
  readonly decay: Ramp;
  readonly size: Ramp;
  readonly preDelay: Ramp;
  readonly lowDecay: Ramp;
  readonly lowCrossover: Ramp;
  readonly highDecay: Ramp;
  readonly highCrossover: Ramp;
  readonly diffusion: Ramp;
  readonly movement: Ramp;
  readonly lowCut: Ramp;
  readonly highCut: Ramp;
  readonly width: Ramp;
  readonly balance: Ramp;
  readonly hold: boolean;
}

/**
 * The hall's signal path: pre-delay, first reflections, Schroeder all-passes that thicken the input, the network of
 * delay lines, and what shapes the wet sound behind it.
 */
export class HallProcessor {
  readonly memoryFrames: number;
  private readonly sampleRate: number;
  private readonly inputs: number;
  private readonly preDelays: SteppedDelay[];
  private readonly early: EarlyReflections[];
  private readonly diffusers: AllpassPair[];
  private readonly network: LineNetwork;
  private readonly fed = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)];
  private readonly wet = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)];
  private readonly uncut = new Float64Array(BLOCK_FRAMES);
  private lateGain = NaN;
  /** Share of the input that is taken in now. */
  private taken = NaN;
  private readonly cuts: { low: StateVariableFilter; high: StateVariableFilter }[];

  constructor({ sampleRate, inputChannels, random }: LiveContext) {
    this.sampleRate = sampleRate;
    this.inputs = inputChannels;
    this.memoryFrames = (MAX_PRE_DELAY + 0.1 * MAX_SIZE) * sampleRate;
    this.preDelays = [0, 1].map(() => new SteppedDelay(MAX_PRE_DELAY * sampleRate, BLOCK_FRAMES, sampleRate));
    this.early = [0, 1].map((side) => new EarlyReflections(side, sampleRate, MAX_SIZE));
    this.diffusers = DIFFUSERS.map(
      ([left, right]) => new AllpassPair(primeNear(left * sampleRate), primeNear(right * sampleRate)),
    );
    this.network = new LineNetwork(sampleRate, MAX_SIZE, random);
    this.cuts = [0, 1].map(() => ({
      low: new StateVariableFilter(sampleRate),
      high: new StateVariableFilter(sampleRate),
    }));
  }

  reset(): void {
    for (let side = 0; side < 2; side++) {
      this.preDelays[side].reset();
      this.early[side].reset();
      this.cuts[side].low.reset();
      this.cuts[side].high.reset();
    }
    for (let d = 0; d < this.diffusers.length; d++) this.diffusers[d].reset();
    this.network.reset();
    this.lateGain = NaN;
    this.taken = NaN;
  }

  process(input: readonly Float32Array[], output: readonly Float32Array[], frames: number, values: HallValues): void {
    const preDelay = Math.round(values.preDelay.end * this.sampleRate);
    let done = 0;
    while (done < frames) {
      this.network.resize(values.size.end);
      const count = Math.min(frames - done, this.network.maxFrames);
      this.network.tune(values, count);
      const from = done / frames;
      const to = (done + count) / frames;
      this.feed(input, done, count, preDelay, values.hold ? 0 : 1);
      this.runEarly(count, values.size.end, 1 - at(values.balance, from), 1 - at(values.balance, to));
      this.runNetwork(count, at(values.balance, to), at(values.diffusion, from), at(values.diffusion, to));
      this.deliver(output, done, count, values, at(values.width, from), at(values.width, to));
      done += count;
    }
  }

  /** Fills `fed` with the pre-delayed input, left and right; `share` of it is taken in. */
  private feed(input: readonly Float32Array[], offset: number, count: number, preDelay: number, share: number): void {
    // Shutting the door takes a moment, too.
    const before = Number.isNaN(this.taken) ? share : this.taken;
    const reach = count / (DOOR_SECONDS * this.sampleRate);
    const after = before + Math.max(-reach, Math.min(reach, share - before));
    const step = (after - before) / count;
    this.taken = after;
    for (let side = 0; side < 2; side++) {
      const block = this.fed[side];
      const from = input[Math.min(side, this.inputs - 1)];
      for (let i = 0; i < count; i++) block[i] = (before + i * step) * from[offset + i];
      this.preDelays[side].pass(block, count, preDelay);
    }
  }

  private runEarly(count: number, size: number, shareStart: number, shareEnd: number): void {
    const start = Math.sqrt(shareStart);
    const end = Math.sqrt(shareEnd);
    for (let side = 0; side < 2; side++)
      this.early[side].process(this.fed[side], this.wet[side], count, size, start, end);
  }

  private runNetwork(count: number, lateShare: number, diffusionStart: number, diffusionEnd: number): void {
    for (let d = 0; d < this.diffusers.length; d++)
      this.diffusers[d].process(this.fed[0], this.fed[1], count, 0.7 * diffusionStart, 0.7 * diffusionEnd);
    // Energy of the whole decay equals the energy put in, so a longer decay is not a louder one.
    const gain = Math.sqrt(lateShare * this.network.energyLoss);
    const before = Number.isNaN(this.lateGain) ? gain : this.lateGain;
    this.lateGain = gain;
    this.network.process(this.fed[0], this.fed[1], this.wet[0], this.wet[1], before, gain, count);
  }

  private cut(
    filter: StateVariableFilter,
    type: 'low' | 'high',
    samples: Float64Array,
    count: number,
    frequency: Ramp,
  ): void {
    const start = effectOf(type, frequency.start);
    const end = effectOf(type, frequency.end);
    if (start === 0 && end === 0) return;
    const uncut = this.uncut;
    for (let i = 0; i < count; i++) uncut[i] = samples[i];
    filter.process(samples, count, type, frequency, FLAT_Q, 1);
    if (start === 1 && end === 1) return;
    const step = (end - start) / count;
    for (let i = 0; i < count; i++) samples[i] = uncut[i] + (start + i * step) * (samples[i] - uncut[i]);
  }

  /** Cuts, sets the width and writes `count` frames of the output. */
  private deliver(
    output: readonly Float32Array[],
    offset: number,
    count: number,
    values: HallValues,
    widthStart: number,
    widthEnd: number,
  ): void {
    const left = this.wet[0];
    const right = this.wet[1];
    for (let side = 0; side < 2; side++) {
      this.cut(this.cuts[side].low, 'high', this.wet[side], count, values.lowCut);
      this.cut(this.cuts[side].high, 'low', this.wet[side], count, values.highCut);
    }
    const outLeft = output[0];
    const outRight = output[1];
    const step = (widthEnd - widthStart) / count;
    let width = widthStart;
    for (let i = 0; i < count; i++) {
      const middle = 0.5 * (left[i] + right[i]);
      const side = 0.5 * width * (left[i] - right[i]);
      outLeft[offset + i] = middle + side;
      outRight[offset + i] = middle - side;
      width += step;
    }
  }
}

/** Octaves from the end of its range over which a cut comes into effect. */
const ONSET_OCTAVES = 0.25;

/** How much of a cut is in effect: nothing at the end of its range. */
function effectOf(type: 'low' | 'high', frequency: number): number {
  const octaves = log(type === 'high' ? frequency / LOWEST_CUT : HIGHEST_CUT / frequency) / log(2);
  return Math.max(0, Math.min(1, octaves / ONSET_OCTAVES));
}

/** Seconds until the hall takes nothing in any more when it is held. */
const DOOR_SECONDS = 0.02;

/** A ramp's value at a share of the block. */
function at(ramp: Ramp, share: number): number {
  return ramp.start + share * (ramp.end - ramp.start);
}
