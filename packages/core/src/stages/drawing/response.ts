import { TYPESCRIPT_KERNELS } from '../../dsp/kernels/typescript.ts';
import { createRandom } from '../../dsp/random.ts';
import { RealFft } from '../../dsp/realFft.ts';
import { constant } from '../../model/ramp.ts';
import { exp, gainToDecibels, log } from '../../dsp/portableMath.ts';
import type { LiveStage, ResolvedValues } from '../contract.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import type { Params } from '../../params/params.ts';
import type { Axis } from '../../model/picture.ts';

export const RESPONSE_FRAMES = 16384;
const POINTS = 320;
export const LOWEST = 20;
export const HIGHEST = 20000;
const QUIETEST = 1e-4;

export const FREQUENCY_AXIS: Axis = {
  label: 'frequency',
  min: LOWEST,
  max: HIGHEST,
  scale: 'log',
  ticks: [20, 50, 100, 200, 500, 1000, 2000, 5000, 10000, 20000],
  unit: 'Hz',
};

/** Runs a stage without branches on what `fill` writes, for `frames` frames from a position on; returns the left side. */
export function runStage(
  stage: LiveStage,
  values: ResolvedValues<Params>,
  frames: number,
  sampleRate: number,
  fill: (samples: Float32Array) => void,
  position = 0,
): Float32Array {
  const outputs = stage.widens ? 2 : 1;
  const processor = stage.create(
    {
      sampleRate,
      inputChannels: 1,
      outputChannels: outputs,
      random: createRandom(1),
      sounds: {},
      prepared: undefined,
      beats: [{ frame: 0, quarter: 0, tempo: 120 }],
      kernels: TYPESCRIPT_KERNELS,
      side: () => undefined,
      branches: [],
    },
    values,
  );
  const ramps = Object.fromEntries(
    Object.entries(values).map(([key, value]) => [key, typeof value === 'number' ? constant(value) : value]),
  ) as never;
  const input = new Float32Array(frames);
  fill(input);
  const out = new Float32Array(frames);
  const block = [new Float32Array(BLOCK_FRAMES)];
  const result = Array.from({ length: outputs }, () => new Float32Array(BLOCK_FRAMES));
  for (let at = 0; at < frames; at += BLOCK_FRAMES) {
    const count = Math.min(BLOCK_FRAMES, frames - at);
    block[0].set(input.subarray(at, at + count));
    processor.process(block, result, count, ramps, position + at);
    out.set(result[0].subarray(0, count), at);
  }
  return out;
}

/**
 * The frequency response of a stage, measured: what an impulse at a moment becomes. x and y in turns, Hz and dB, evenly
 * over the logarithm.
 */
export function measureResponse(
  stage: LiveStage,
  values: ResolvedValues<Params>,
  seconds: number,
  sampleRate = 48000,
): number[] {
  const at = Math.round(seconds * sampleRate);
  return responseOf(
    runStage(stage, values, RESPONSE_FRAMES, sampleRate, (samples) => (samples[0] = 1), at),
    sampleRate,
  );
}

/** The frequency response whose impulse response the first RESPONSE_FRAMES samples are, as `measureResponse` gives it. */
export function responseOf(impulse: Float32Array, sampleRate: number): number[] {
  const re = new Float64Array(RESPONSE_FRAMES / 2 + 1);
  const im = new Float64Array(RESPONSE_FRAMES / 2 + 1);
  new RealFft(RESPONSE_FRAMES).forward(impulse, re, im);
  const points: number[] = [];
  for (let n = 0; n < POINTS; n++) {
    const hertz = LOWEST * exp((log(HIGHEST / LOWEST) * n) / (POINTS - 1));
    const bin = (hertz * RESPONSE_FRAMES) / sampleRate;
    const first = Math.max(1, Math.floor(bin));
    const share = bin - first;
    const level = (k: number) => Math.sqrt(re[k] * re[k] + im[k] * im[k]);
    points.push(hertz, gainToDecibels(Math.max(QUIETEST, level(first) + share * (level(first + 1) - level(first)))));
  }
  return points;
}
