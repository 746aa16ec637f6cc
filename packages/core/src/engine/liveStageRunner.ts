import { DelayLine } from '../dsp/delayLine.ts';
import { constant } from '../dsp/ramp.ts';
import { BLOCK_FRAMES, type BlockValues, type LiveProcessor } from '../stages/contract.ts';
import type { Params } from '../stages/params.ts';
import { mixGains } from './mixLaw.ts';
import type { PlannedLive } from './plan.ts';

/** One live stage at work: its processor, its mix with the equally late dry sound, and its level. */
export class LiveStageRunner {
  readonly output: Float32Array[];
  readonly latency: number;
  private readonly processor: LiveProcessor<Params>;
  private readonly values: BlockValues<Params>;
  private readonly dry: number;
  private readonly wet: number;
  private readonly gain: number;
  private readonly dryDelays: DelayLine[];
  private readonly dryBlock = new Float64Array(BLOCK_FRAMES);

  constructor(planned: PlannedLive, sampleRate: number, inputChannels: number) {
    const outputChannels = planned.stage.widens ? 2 : inputChannels;
    this.output = Array.from({ length: outputChannels }, () => new Float32Array(BLOCK_FRAMES));
    this.processor = planned.stage.create({
      sampleRate,
      inputChannels,
      outputChannels,
      random: planned.createRandom(),
    });
    this.latency = this.processor.latency;
    const { dry, wet } = mixGains(planned.stage.mixLaw, planned.mix);
    this.dry = dry;
    this.wet = wet;
    this.gain = planned.gain;
    this.dryDelays = Array.from({ length: outputChannels }, () => new DelayLine(this.latency, BLOCK_FRAMES));
    const values: Record<string, unknown> = {};
    for (const [key, value] of Object.entries(planned.values)) {
      values[key] = typeof value === 'number' ? constant(value) : value;
    }
    this.values = values as BlockValues<Params>;
  }

  /** Processes the first `frames` frames of `input` into `output`. Allocates nothing. */
  process(input: readonly Float32Array[], frames: number): void {
    this.processor.process(input, this.output, frames, this.values);
    if (this.dry === 0 && this.gain === 1) return;
    const wet = this.wet * this.gain;
    const dry = this.dry * this.gain;
    for (let c = 0; c < this.output.length; c++) {
      const out = this.output[c];
      const dryBlock = this.dryBlock;
      const from = input[Math.min(c, input.length - 1)];
      for (let i = 0; i < frames; i++) dryBlock[i] = from[i];
      this.dryDelays[c].write(dryBlock, frames);
      this.dryDelays[c].read(dryBlock, frames, this.latency, this.latency);
      for (let i = 0; i < frames; i++) out[i] = wet * out[i] + dry * dryBlock[i];
    }
  }
}
