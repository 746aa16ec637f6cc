import { Biquad } from '../dsp/biquad.ts';
import { log10 } from '../dsp/portableMath.ts';
import type { Clip } from '../engine/clip.ts';
import { frameCount } from '../engine/clip.ts';
import { kWeighting } from './kWeighting.ts';

const ABSOLUTE_GATE = -70; // LUFS
const RELATIVE_GATE = -10; // LU below the mean of what passes the absolute gate
const STEP_SECONDS = 0.1;
const STEPS_PER_BLOCK = 4;

/**
 * Integrated loudness in LUFS after ITU-R BS.1770-5: K-weighted power in 400 ms blocks that overlap by 75 %, gated
 * absolutely and relatively. −Infinity for silence. A sound shorter than one block is measured as one block of its
 * own length.
 */
export function integratedLoudness(clip: Clip): number {
  const blocks = blockPowers(clip);
  const audible = blocks.filter((power) => toLufs(power) > ABSOLUTE_GATE);
  if (audible.length === 0) return -Infinity;
  const gate = toLufs(mean(audible)) + RELATIVE_GATE;
  const counted = audible.filter((power) => toLufs(power) > gate);
  return toLufs(mean(counted));
}

function toLufs(power: number): number {
  return -0.691 + 10 * log10(power);
}

function mean(values: readonly number[]): number {
  return values.reduce((sum, value) => sum + value, 0) / values.length;
}

/** Power of each block, summed over the channels. */
function blockPowers(clip: Clip): number[] {
  const frames = frameCount(clip);
  const step = Math.round(STEP_SECONDS * clip.sampleRate);
  const steps = new Float64Array(Math.ceil(frames / step));
  const filtered = new Float64Array(step);
  for (const samples of clip.channels) {
    const filters = kWeighting(clip.sampleRate).map((coefficients) => new Biquad(coefficients));
    for (let s = 0; s < steps.length; s++) {
      const count = Math.min(step, frames - s * step);
      for (let i = 0; i < count; i++) filtered[i] = samples[s * step + i];
      for (const filter of filters) filter.process(filtered, count);
      let energy = 0;
      for (let i = 0; i < count; i++) energy += filtered[i] * filtered[i];
      steps[s] += energy;
    }
  }
  const wholeSteps = Math.floor(frames / step);
  if (wholeSteps < STEPS_PER_BLOCK) return [steps.reduce((sum, energy) => sum + energy, 0) / frames];
  const powers: number[] = [];
  for (let s = 0; s + STEPS_PER_BLOCK <= wholeSteps; s++) {
    let energy = 0;
    for (let i = 0; i < STEPS_PER_BLOCK; i++) energy += steps[s + i];
    powers.push(energy / (STEPS_PER_BLOCK * step));
  }
  return powers;
}
