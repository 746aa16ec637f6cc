import { AllpassPair } from '../../dsp/allpassPair.ts';
import { DelayLine } from '../../dsp/delayLine.ts';
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
  readonly latency = 0;
  private readonly sampleRate: number;
  private readonly inputs: number;
  private readonly preDelays: DelayLine[];
  private readonly early: EarlyReflections[];
  private readonly diffusers: AllpassPair[];
  private readonly network: LineNetwork;
  private readonly fed = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)];
  private readonly wet = [new Float32Array(BLOCK_FRAMES), new Float32Array(BLOCK_FRAMES)];
  private readonly cuts: { low: StateVariableFilter; high: StateVariableFilter }[];

  constructor({ sampleRate, inputChannels, random }: LiveContext) {
    this.sampleRate = sampleRate;
    this.inputs = inputChannels;
    this.preDelays = [0, 1].map(() => new DelayLine(MAX_PRE_DELAY * sampleRate + 4, BLOCK_FRAMES));
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

  process(input: readonly Float32Array[], output: readonly Float32Array[], frames: number, values: HallValues): void {
    this.network.tune(values);
    const size = values.size.end;
    const preStart = Math.round(values.preDelay.start * this.sampleRate);
    const preEnd = Math.round(values.preDelay.end * this.sampleRate);
    let done = 0;
    while (done < frames) {
      const count = Math.min(frames - done, this.network.maxFrames);
      this.feed(input, done, count, preStart, preEnd, values.hold);
      this.runEarly(count, size, 1 - values.balance.end);
      this.runNetwork(count, values.balance.end, values.diffusion.end);
      this.deliver(output, done, count, values);
      done += count;
    }
  }

  /** Fills `fed` with the pre-delayed input, left and right. */
  private feed(
    input: readonly Float32Array[],
    offset: number,
    count: number,
    preStart: number,
    preEnd: number,
    hold: boolean,
  ): void {
    for (let side = 0; side < 2; side++) {
      const block = this.fed[side];
      const from = input[Math.min(side, this.inputs - 1)];
      const share = hold ? 0 : 1;
      for (let i = 0; i < count; i++) block[i] = share * from[offset + i];
      if (preStart === 0 && preEnd === 0) {
        this.preDelays[side].write(block, count);
      } else if (preStart === preEnd) {
        this.preDelays[side].pass(block, count, preStart);
      } else {
        this.preDelays[side].write(block, count);
        this.preDelays[side].read(block, count, preStart, preEnd);
      }
    }
  }

  private runEarly(count: number, size: number, share: number): void {
    const gain = Math.sqrt(share);
    for (let side = 0; side < 2; side++) this.early[side].process(this.fed[side], this.wet[side], count, size, gain);
  }

  private runNetwork(count: number, lateShare: number, diffusion: number): void {
    for (let d = 0; d < this.diffusers.length; d++) {
      this.diffusers[d].process(this.fed[0], this.fed[1], count, 0.7 * diffusion);
    }
    // Energy of the whole decay equals the energy put in, so a longer decay is not a louder one.
    const gain = Math.sqrt(lateShare * this.network.energyLoss);
    this.network.process(this.fed[0], this.fed[1], this.wet[0], this.wet[1], gain, count);
  }

  /** Cuts, sets the width and writes `count` frames of the output. */
  private deliver(output: readonly Float32Array[], offset: number, count: number, values: HallValues): void {
    const left = this.wet[0];
    const right = this.wet[1];
    for (let side = 0; side < 2; side++) {
      // At the end of its range a cut is off.
      if (values.lowCut.start > LOWEST_CUT || values.lowCut.end > LOWEST_CUT)
        this.cuts[side].low.process(this.wet[side], count, 'high', values.lowCut, FLAT_Q, 1);
      if (values.highCut.start < HIGHEST_CUT || values.highCut.end < HIGHEST_CUT)
        this.cuts[side].high.process(this.wet[side], count, 'low', values.highCut, FLAT_Q, 1);
    }
    const width = values.width.end;
    const outLeft = output[0];
    const outRight = output[1];
    for (let i = 0; i < count; i++) {
      const middle = 0.5 * (left[i] + right[i]);
      const side = 0.5 * width * (left[i] - right[i]);
      outLeft[offset + i] = middle + side;
      outRight[offset + i] = middle - side;
    }
  }
}
