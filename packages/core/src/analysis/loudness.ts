import { Biquad } from '../dsp/biquad.ts';
import { log10 } from '../dsp/portableMath.ts';
import type { Clip } from '../model/clip.ts';
import { frameCount } from '../model/clip.ts';
import { kWeighting } from './kWeighting.ts';

const ABSOLUTE_GATE = -70; // LUFS
const RELATIVE_GATE = -10; // LU below the mean of what passes the absolute gate
const STEP_SECONDS = 0.1;
const STEPS_PER_BLOCK = 4;

/** K-weighted energy in steps of 100 ms, block by block; the ground of every loudness. */
export class StepEnergies {
  readonly stepFrames: number;
  private readonly filters: Biquad[][];
  private readonly block: Float64Array;
  /** Energy of the current step so far, all channels together, and its frames. */
  energy = 0;
  inStep = 0;

  constructor(sampleRate: number, channels: number) {
    this.stepFrames = Math.round(STEP_SECONDS * sampleRate);
    this.block = new Float64Array(this.stepFrames);
    this.filters = Array.from({ length: channels }, () =>
      kWeighting(sampleRate).map((coefficients) => new Biquad(coefficients)),
    );
  }

  /**
   * Takes in frames [from, to) of each channel, but no more than up to the end of a step. Returns the frame it stopped at;
   * `endsStep` says whether a step is full.
   */
  process(channels: readonly Float32Array[], from: number, to: number): number {
    if (this.inStep === this.stepFrames) {
      this.inStep = 0;
      this.energy = 0;
    }
    const count = Math.min(to - from, this.stepFrames - this.inStep);
    const block = this.block;
    for (let c = 0; c < this.filters.length; c++) {
      const samples = channels[c];
      for (let i = 0; i < count; i++) block[i] = samples[from + i];
      for (let f = 0; f < 2; f++) this.filters[c][f].process(block, count);
      for (let i = 0; i < count; i++) this.energy += block[i] * block[i];
    }
    this.inStep += count;
    return from + count;
  }

  get endsStep(): boolean {
    return this.inStep === this.stepFrames;
  }
}

/** Integrated loudness after ITU-R BS.1770-5, block by block. */
export class LoudnessMeter {
  private readonly energies: StepEnergies;
  private readonly steps: number[] = [];

  constructor(sampleRate: number, channels: number) {
    this.energies = new StepEnergies(sampleRate, channels);
  }

  process(channels: readonly Float32Array[], frames: number): void {
    for (let at = 0; at < frames;) {
      at = this.energies.process(channels, at, frames);
      if (this.energies.endsStep) this.steps.push(this.energies.energy);
    }
  }

  /**
   * Integrated loudness in LUFS: K-weighted power in 400 ms blocks that overlap by 75 %, gated absolutely and relatively.
   * −Infinity for silence. A sound shorter than one block is measured as one block of its own length.
   */
  integrated(): number {
    const audible = this.blockPowers().filter((power) => loudnessOfPower(power) > ABSOLUTE_GATE);
    if (audible.length === 0) return -Infinity;
    const gate = loudnessOfPower(mean(audible)) + RELATIVE_GATE;
    return loudnessOfPower(mean(audible.filter((power) => loudnessOfPower(power) > gate)));
  }

  private blockPowers(): number[] {
    const { steps, energies } = this;
    const { stepFrames, endsStep } = energies;
    if (steps.length < STEPS_PER_BLOCK) {
      const energy = steps.reduce((sum, step) => sum + step, endsStep ? 0 : energies.energy);
      return [energy / Math.max(1, steps.length * stepFrames + (endsStep ? 0 : energies.inStep))];
    }
    const powers: number[] = [];
    for (let s = 0; s + STEPS_PER_BLOCK <= steps.length; s++) {
      let energy = 0;
      for (let i = 0; i < STEPS_PER_BLOCK; i++) energy += steps[s + i];
      powers.push(energy / (STEPS_PER_BLOCK * stepFrames));
    }
    return powers;
  }
}

/** Integrated loudness of a whole clip in LUFS. */
export function integratedLoudness(clip: Clip): number {
  const meter = new LoudnessMeter(clip.sampleRate, clip.channels.length);
  meter.process(clip.channels, frameCount(clip));
  return meter.integrated();
}

/** LUFS of a mean K-weighted power, summed over the channels. */
export function loudnessOfPower(power: number): number {
  return -0.691 + 10 * log10(power);
}

function mean(values: readonly number[]): number {
  return values.reduce((sum, value) => sum + value, 0) / values.length;
}
