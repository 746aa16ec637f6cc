import { AllpassPair } from '../../../dsp/allpassPair.ts';
import { SteppedDelay } from '../../../dsp/steppedDelay.ts';
import { primeNear } from '../../../dsp/primes.ts';
import { BypassableFilter } from '../../../dsp/bypassableFilter.ts';
import { log } from '../../../dsp/portableMath.ts';
import { constant, type Ramp } from '../../../model/ramp.ts';
import type { LiveContext } from '../../contract.ts';
import { BLOCK_FRAMES } from '../../../model/block.ts';
import { EarlyReflections } from './earlyReflections.ts';
import type { NetworkValues } from '../../../dsp/network/lineDamping.ts';
import type { NetworkKernel } from '../../../dsp/kernels/contract.ts';

const MAX_SIZE = 2;
const MAX_PRE_DELAY = 0.5;
export const LOWEST_CUT = 20; // Hz
export const HIGHEST_CUT = 20000;
/** Diffuser lengths in seconds, left and right unlike so that the hall is wide from its first moment. */
const DIFFUSERS = [
  [0.00317, 0.00347],
  [0.00531, 0.00587],
  [0.00873, 0.00811],
  [0.01271, 0.01193],
];

/** Makes the late hall as loud as what goes into it, within 2 dB at any size and decay. */
const LATE = 0.86;

export interface HallValues extends NetworkValues {
  readonly size: Ramp;
  readonly preDelay: Ramp;
  readonly diffusion: Ramp;
  readonly lowCut: Ramp;
  readonly highCut: Ramp;
  readonly width: Ramp;
  readonly balance: Ramp;
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
  private readonly network: NetworkKernel;
  private readonly fed = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)];
  private readonly wet = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)];
  private lateGain = NaN;
  /** What the diffusers are set for. */
  private decay = NaN;
  private diffused = NaN;
  /** Gain that makes up for what the diffusers lose. */
  private made = 1;
  /** Share of the input that is taken in now. */
  private taken = NaN;
  private readonly lowCuts: BypassableFilter[];
  private readonly highCuts: BypassableFilter[];
  /** Values over the part of the block that is being worked on. */
  private readonly balance = constant(0.5);
  private readonly diffusion = constant(0.5);
  private readonly width = constant(0.5);
  private readonly gain = constant(0.5);

  constructor({ sampleRate, inputChannels, random, kernels }: LiveContext) {
    this.sampleRate = sampleRate;
    this.inputs = inputChannels;
    this.memoryFrames = (MAX_PRE_DELAY + 0.1 * MAX_SIZE) * sampleRate;
    this.preDelays = [0, 1].map(() => new SteppedDelay(MAX_PRE_DELAY * sampleRate, BLOCK_FRAMES, sampleRate));
    this.early = [0, 1].map((side) => new EarlyReflections(side, sampleRate, MAX_SIZE));
    this.diffusers = DIFFUSERS.map(
      ([left, right]) => new AllpassPair(primeNear(left * sampleRate), primeNear(right * sampleRate)),
    );
    this.network = kernels.network(sampleRate, MAX_SIZE, random);
    this.lowCuts = [0, 1].map(() => new BypassableFilter('high', LOWEST_CUT, sampleRate));
    this.highCuts = [0, 1].map(() => new BypassableFilter('low', HIGHEST_CUT, sampleRate));
  }

  reset(): void {
    for (let side = 0; side < 2; side++) {
      this.preDelays[side].reset();
      this.early[side].reset();
      this.lowCuts[side].reset();
      this.highCuts[side].reset();
    }
    for (let d = 0; d < this.diffusers.length; d++) this.diffusers[d].reset();
    this.network.reset();
    this.lateGain = NaN;
    this.decay = NaN;
    this.taken = NaN;
  }

  process(
    input: readonly Float32Array[],
    output: readonly Float32Array[],
    frames: number,
    values: HallValues,
    position: number,
  ): void {
    this.network.begin(position);
    const preDelay = Math.round(values.preDelay.end * this.sampleRate);
    let done = 0;
    while (done < frames) {
      this.network.resize(values.size.end);
      const count = Math.min(frames - done, this.network.maxFrames);
      this.network.tune(values, count);
      cutOut(values.balance, done, count, frames, this.balance);
      cutOut(values.diffusion, done, count, frames, this.diffusion);
      cutOut(values.width, done, count, frames, this.width);
      this.feed(input, done, count, preDelay, values.hold ? 0 : 1);
      this.runEarly(count, values.size);
      this.runNetwork(count, values.decay.end);
      this.deliver(output, done, count, values);
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

  private runEarly(count: number, size: Ramp): void {
    const { gain, balance } = this;
    gain.start = Math.sqrt(1 - balance.start);
    gain.end = Math.sqrt(1 - balance.end);
    for (let side = 0; side < 2; side++) this.early[side].process(this.fed[side], this.wet[side], count, size, gain);
  }

  private runNetwork(count: number, decay: number): void {
    const { gain, diffusion, network } = this;
    gain.start = 0.7 * diffusion.start;
    gain.end = 0.7 * diffusion.end;
    // What stands in front must not ring longer than the hall.
    if (decay !== this.decay || gain.end !== this.diffused) {
      this.decay = decay;
      this.diffused = gain.end;
      let energy = 1;
      for (let d = 0; d < this.diffusers.length; d++) {
        this.diffusers[d].lose(-log(1000) / (decay * this.sampleRate));
        energy *= this.diffusers[d].energyAt(gain.end);
      }
      this.made = 1 / Math.sqrt(energy);
    }
    for (let d = 0; d < this.diffusers.length; d++) this.diffusers[d].process(this.fed[0], this.fed[1], count, gain);
    // Energy of the whole decay equals the energy put in, so a longer decay is not a louder one.
    const kept = network.energyKept;
    gain.end = LATE * Math.sqrt((this.balance.end * (1 - kept)) / kept) * this.made;
    gain.start = Number.isNaN(this.lateGain) ? gain.end : this.lateGain;
    this.lateGain = gain.end;
    network.process(this.fed[0], this.fed[1], this.wet[0], this.wet[1], gain, count);
  }

  /** Cuts, sets the width and writes `count` frames of the output. */
  private deliver(output: readonly Float32Array[], offset: number, count: number, values: HallValues): void {
    const left = this.wet[0];
    const right = this.wet[1];
    for (let side = 0; side < 2; side++) {
      this.lowCuts[side].process(this.wet[side], count, values.lowCut);
      this.highCuts[side].process(this.wet[side], count, values.highCut);
    }
    const outLeft = output[0];
    const outRight = output[1];
    const step = (this.width.end - this.width.start) / count;
    let width = this.width.start;
    for (let i = 0; i < count; i++) {
      const middle = 0.5 * (left[i] + right[i]);
      const side = 0.5 * width * (left[i] - right[i]);
      outLeft[offset + i] = middle + side;
      outRight[offset + i] = middle - side;
      width += step;
    }
  }
}

/** Seconds until the hall takes nothing in any more when it is held. */
const DOOR_SECONDS = 0.02;

/** The part of a ramp that lies over frames [done, done + count) of a block. */
function cutOut(ramp: Ramp, done: number, count: number, frames: number, into: Ramp): void {
  const way = ramp.end - ramp.start;
  into.start = ramp.start + (done / frames) * way;
  into.end = ramp.start + ((done + count) / frames) * way;
}
