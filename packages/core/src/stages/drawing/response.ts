import { TYPESCRIPT_KERNELS } from '../../dsp/kernels/typescript.ts';
import { createRandom } from '../../dsp/random.ts';
import { RealFft } from '../../dsp/realFft.ts';
import { constant } from '../../model/ramp.ts';
import { exp, gainToDecibels, log } from '../../dsp/portableMath.ts';
import type { LiveStage, ResolvedValues } from '../contract.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import type { Params } from '../../params/params.ts';
import type { Axis } from '../../model/picture.ts';

const SIZE = 16384;
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
  const levels = spectrumOf(runStage(stage, values, SIZE, sampleRate, (samples) => (samples[0] = 1), at));
  return overFrequency((hertz) => between(levels, (hertz * SIZE) / sampleRate));
}

/**
 * The frequency response whose impulse response is given, as many samples as a power of two: as `measureResponse`, but where
 * it is finer than what is drawn, by its power around each frequency, as of a comb.
 */
export function responseOf(impulse: Float32Array, sampleRate: number): number[] {
  const levels = spectrumOf(impulse);
  const bins = impulse.length / sampleRate;
  const halfStep = exp(log(HIGHEST / LOWEST) / (2 * (POINTS - 1)));
  return overFrequency((hertz) => {
    const first = Math.ceil((hertz / halfStep) * bins);
    const last = Math.floor(hertz * halfStep * bins);
    if (last <= first) return between(levels, hertz * bins);
    let power = 0;
    for (let k = first; k <= last; k++) power += levels[k] * levels[k];
    return Math.sqrt(power / (last - first + 1));
  });
}

/** Amplitudes of all frequencies, evenly from 0 to half the rate. */
function spectrumOf(samples: Float32Array): Float64Array {
  const re = new Float64Array(samples.length / 2 + 1);
  const im = new Float64Array(samples.length / 2 + 1);
  new RealFft(samples.length).forward(samples, re, im);
  return re.map((x, k) => Math.sqrt(x * x + im[k] * im[k]));
}

function between(levels: Float64Array, bin: number): number {
  const first = Math.max(1, Math.floor(bin));
  return levels[first] + (bin - first) * (levels[first + 1] - levels[first]);
}

function overFrequency(amplitude: (hertz: number) => number): number[] {
  const points: number[] = [];
  for (let n = 0; n < POINTS; n++) {
    const hertz = LOWEST * exp((log(HIGHEST / LOWEST) * n) / (POINTS - 1));
    points.push(hertz, gainToDecibels(Math.max(QUIETEST, amplitude(hertz))));
  }
  return points;
}
