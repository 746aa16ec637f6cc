import type { Ramp } from '../../../model/ramp.ts';
import { SIZE_FADE_SECONDS } from '../../../dsp/network/feedbackDelayNetwork.ts';
import { smoothStep } from '../../../dsp/smoothStep.ts';
import { ringSize } from '../../../dsp/lagrange.ts';
import { BLOCK_FRAMES } from '../../../model/block.ts';

/** Times in seconds at size 100 % of the first reflections, one list a side. */
const TIMES = [
  [0.0093, 0.0171, 0.0267, 0.0389, 0.0521, 0.0713],
  [0.0107, 0.0193, 0.0299, 0.0421, 0.0563, 0.0771],
];
/** Their gains; the energies of a side add up to about 1. */
const GAINS = [
  [0.55, -0.46, 0.39, 0.33, -0.28, 0.23],
  [0.53, 0.45, -0.39, 0.32, 0.28, -0.23],
];

/** A handful of single echoes, the first that a listener in a hall would hear. One object a side. */
export class EarlyReflections {
  private readonly times: readonly number[];
  private readonly gains: Float64Array;
  private readonly sampleRate: number;
  private readonly fadeFrames: number;
  private readonly memory: Float32Array;
  private delays = new Int32Array(6);
  private nextDelays = new Int32Array(6);
  private readonly nextOutput = new Float64Array(BLOCK_FRAMES);
  private size = NaN;
  private faded = 0;
  private fading = false;
  private position = 0;

  constructor(side: number, sampleRate: number, maxSize: number) {
    this.times = TIMES[side];
    this.gains = Float64Array.from(GAINS[side]);
    this.sampleRate = sampleRate;
    this.fadeFrames = Math.round(SIZE_FADE_SECONDS * sampleRate);
    this.memory = new Float32Array(ringSize(0.08 * maxSize * sampleRate + BLOCK_FRAMES));
  }

  reset(): void {
    this.memory.fill(0);
    this.size = NaN;
    this.fading = false;
  }

  /**
   * Overwrites `output` with the reflections of `input`, at `level`. After a change of
   * size the old reflections fade into the new ones.
   */
  process(input: Float64Array, output: Float64Array, frames: number, size: Ramp, level: Ramp): void {
    const { memory, position, nextOutput } = this;
    const mask = memory.length - 1;
    for (let i = 0; i < frames; i++) memory[(position + i) & mask] = input[i];
    this.resize(size.end);
    this.tap(this.delays, output, frames);
    if (this.fading) {
      this.tap(this.nextDelays, nextOutput, frames);
      for (let i = 0; i < frames; i++) {
        output[i] += smoothStep((this.faded + i) / this.fadeFrames) * (nextOutput[i] - output[i]);
      }
      this.faded += frames;
      if (this.faded >= this.fadeFrames) this.finishFade();
    }
    const step = (level.end - level.start) / frames;
    let gain = level.start;
    for (let i = 0; i < frames; i++) {
      output[i] *= gain;
      gain += step;
    }
    this.position = (position + frames) & mask;
  }

  private resize(size: number): void {
    if (size === this.size || this.fading) return;
    const first = Number.isNaN(this.size);
    this.size = size;
    const delays = first ? this.delays : this.nextDelays;
    for (let t = 0; t < delays.length; t++) delays[t] = Math.round(this.times[t] * size * this.sampleRate);
    this.fading = !first;
    this.faded = 0;
  }

  private finishFade(): void {
    const delays = this.delays;
    this.delays = this.nextDelays;
    this.nextDelays = delays;
    this.fading = false;
  }

  /** All taps in one loop: a loop a tap costs four times as much. */
  private tap(delays: Int32Array, output: Float64Array, frames: number): void {
    const { memory, gains } = this;
    const mask = memory.length - 1;
    const at = this.position + mask + 1; // one turn on, so that no index is negative
    const d0 = at - delays[0];
    const d1 = at - delays[1];
    const d2 = at - delays[2];
    const d3 = at - delays[3];
    const d4 = at - delays[4];
    const d5 = at - delays[5];
    const g0 = gains[0];
    const g1 = gains[1];
    const g2 = gains[2];
    const g3 = gains[3];
    const g4 = gains[4];
    const g5 = gains[5];
    for (let i = 0; i < frames; i++) {
      output[i] =
        g0 * memory[(d0 + i) & mask] +
        g1 * memory[(d1 + i) & mask] +
        g2 * memory[(d2 + i) & mask] +
        g3 * memory[(d3 + i) & mask] +
        g4 * memory[(d4 + i) & mask] +
        g5 * memory[(d5 + i) & mask];
    }
  }
}
