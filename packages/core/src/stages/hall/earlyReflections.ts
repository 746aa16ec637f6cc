import { ringSize } from '../../dsp/lagrange.ts';
import { BLOCK_FRAMES } from '../contract.ts';

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
  private readonly delays = new Int32Array(6);
  private readonly sampleRate: number;
  private readonly memory: Float32Array;
  private position = 0;

  constructor(side: number, sampleRate: number, maxSize: number) {
    this.times = TIMES[side];
    this.gains = Float64Array.from(GAINS[side]);
    this.sampleRate = sampleRate;
    this.memory = new Float32Array(ringSize(0.08 * maxSize * sampleRate + BLOCK_FRAMES));
  }

  /** Overwrites `output` with the reflections of `input`. All taps in one loop: a loop a tap costs four times as much. */
  process(input: Float64Array, output: Float32Array, frames: number, size: number, gain: number): void {
    const { memory, delays, gains } = this;
    const mask = memory.length - 1;
    for (let t = 0; t < delays.length; t++) delays[t] = Math.round(this.times[t] * size * this.sampleRate);
    const d0 = delays[0];
    const d1 = delays[1];
    const d2 = delays[2];
    const d3 = delays[3];
    const d4 = delays[4];
    const d5 = delays[5];
    const g0 = gain * gains[0];
    const g1 = gain * gains[1];
    const g2 = gain * gains[2];
    const g3 = gain * gains[3];
    const g4 = gain * gains[4];
    const g5 = gain * gains[5];
    let at = this.position + mask + 1; // one turn on, so that no index is negative
    for (let i = 0; i < frames; i++) {
      memory[at & mask] = input[i];
      output[i] =
        g0 * memory[(at - d0) & mask] +
        g1 * memory[(at - d1) & mask] +
        g2 * memory[(at - d2) & mask] +
        g3 * memory[(at - d3) & mask] +
        g4 * memory[(at - d4) & mask] +
        g5 * memory[(at - d5) & mask];
      at++;
    }
    this.position = at & mask;
  }
}
