import { ringSize } from '../../dsp/lagrange.ts';
import { BLOCK_FRAMES } from '../contract.ts';

/** Times in seconds at size 100 % and gains of the first reflections, one list a side. Energies add up to about 1. */
const TAPS = [
  [
    [0.0093, 0.55],
    [0.0171, -0.46],
    [0.0267, 0.39],
    [0.0389, 0.33],
    [0.0521, -0.28],
    [0.0713, 0.23],
  ],
  [
    [0.0107, 0.53],
    [0.0193, 0.45],
    [0.0299, -0.39],
    [0.0421, 0.32],
    [0.0563, 0.28],
    [0.0771, -0.23],
  ],
] as const;

/** A handful of single echoes, the first that a listener in a hall would hear. One object a side. */
export class EarlyReflections {
  private readonly taps: (typeof TAPS)[number];
  private readonly sampleRate: number;
  private readonly memory: Float32Array;
  private position = 0;

  constructor(side: number, sampleRate: number, maxSize: number) {
    this.taps = TAPS[side];
    this.sampleRate = sampleRate;
    this.memory = new Float32Array(ringSize(0.08 * maxSize * sampleRate + BLOCK_FRAMES));
  }

  /** Overwrites `output` with the reflections of `input`. All taps in one loop: a loop a tap costs four times as much. */
  process(input: Float64Array, output: Float32Array, frames: number, size: number, gain: number): void {
    const memory = this.memory;
    const mask = memory.length - 1;
    const scale = size * this.sampleRate;
    const [[t0, g0], [t1, g1], [t2, g2], [t3, g3], [t4, g4], [t5, g5]] = this.taps;
    let at = this.position + mask + 1; // one turn on, so that no index is negative
    const d0 = Math.round(t0 * scale) | 0;
    const d1 = Math.round(t1 * scale) | 0;
    const d2 = Math.round(t2 * scale) | 0;
    const d3 = Math.round(t3 * scale) | 0;
    const d4 = Math.round(t4 * scale) | 0;
    const d5 = Math.round(t5 * scale) | 0;
    for (let i = 0; i < frames; i++) {
      memory[at & mask] = input[i];
      output[i] =
        gain *
        (g0 * memory[(at - d0) & mask] +
          g1 * memory[(at - d1) & mask] +
          g2 * memory[(at - d2) & mask] +
          g3 * memory[(at - d3) & mask] +
          g4 * memory[(at - d4) & mask] +
          g5 * memory[(at - d5) & mask]);
      at++;
    }
    this.position = at & mask;
  }
}
