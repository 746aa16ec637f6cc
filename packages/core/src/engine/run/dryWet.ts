import { DelayLine } from '../../dsp/delayLine.ts';
import { decibelsToGain } from '../../dsp/portableMath.ts';
import type { Ramp } from '../../model/ramp.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import { mixGains, type MixGains } from './mixLaw.ts';
import type { ModulationBus } from '../modulation/modulationBus.ts';
import type { PlannedMove } from '../plan/plannedModulation.ts';
import { ModulatedSettings } from '../modulation/modulatedSettings.ts';
import { STAGE_PARAMS } from '../../stages/stageParams.ts';

interface Lateness {
  /** Frames by which the stage as a whole is late, and those that its own processor leaves to be made up. */
  readonly latency: number;
  readonly padding: number;
}

/** A stage's mix with the equally late dry sound, and its level behind that. Allocates nothing once made. */
export class DryWet {
  /** Mix and level. */
  readonly settings: ModulatedSettings;
  private readonly law: 'equal-power' | 'linear';
  private readonly before: MixGains = { dry: 0, wet: 1 };
  private readonly after: MixGains = { dry: 0, wet: 1 };
  /** What `after` was worked out from. */
  private weighedMix: number;
  private weighedLevel: number;
  private readonly latency: number;
  private readonly padding: number;
  private readonly wetDelays: readonly DelayLine[];
  private readonly dryDelays: readonly DelayLine[];
  private readonly scratch = new Float64Array(BLOCK_FRAMES);

  constructor(
    { mix, level }: { readonly mix: number; readonly level: number },
    law: 'equal-power' | 'linear',
    channels: number,
    { latency, padding }: Lateness,
    sampleRate: number,
  ) {
    this.law = law;
    this.latency = latency;
    this.padding = padding;
    const lines = (frames: number) => Array.from({ length: channels }, () => new DelayLine(frames, BLOCK_FRAMES));
    this.wetDelays = lines(padding);
    this.dryDelays = lines(latency);
    this.settings = new ModulatedSettings(STAGE_PARAMS, { mix, level }, sampleRate);
    this.weighedMix = mix;
    this.weighedLevel = level;
    mixGains(law, mix, this.after);
    scale(this.after, decibelsToGain(level));
  }

  setMoves(moves: readonly PlannedMove[], movement: ModulationBus): void {
    this.settings.setMoves(
      moves.filter(({ key }) => key in STAGE_PARAMS),
      movement,
    );
  }

  reset(): void {
    for (let c = 0; c < this.wetDelays.length; c++) {
      this.wetDelays[c].reset();
      this.dryDelays[c].reset();
    }
  }

  /** Mixes `frames` frames of the dry sound into the wet one, in place. The settings have gone over them. */
  process(dry: readonly Float32Array[], wet: readonly Float32Array[], frames: number): void {
    if (this.padding > 0) this.pad(wet, frames);
    this.weigh();
    const { before, after } = this;
    if (before.wet !== 1 || before.dry !== 0 || after.wet !== 1 || after.dry !== 0) this.blend(dry, wet, frames);
    else if (this.latency > 0) this.rememberDry(dry, frames);
  }

  /** Works out how dry and wet are weighed from the beginning to the end. */
  private weigh(): void {
    const mix = this.settings.values['mix'] as Ramp;
    const level = this.settings.values['level'] as Ramp;
    this.before.dry = this.after.dry;
    this.before.wet = this.after.wet;
    if (mix.start !== this.weighedMix || level.start !== this.weighedLevel) {
      mixGains(this.law, mix.start, this.before);
      scale(this.before, decibelsToGain(level.start));
    }
    if (mix.end === this.weighedMix && level.end === this.weighedLevel) return;
    this.weighedMix = mix.end;
    this.weighedLevel = level.end;
    mixGains(this.law, mix.end, this.after);
    scale(this.after, decibelsToGain(level.end));
  }

  /** Makes the wet sound late by whole blocks. */
  private pad(wet: readonly Float32Array[], frames: number): void {
    const scratch = this.scratch;
    for (let c = 0; c < wet.length; c++) {
      const out = wet[c];
      for (let i = 0; i < frames; i++) scratch[i] = out[i];
      this.wetDelays[c].pass(scratch, frames, this.padding);
      for (let i = 0; i < frames; i++) out[i] = scratch[i];
    }
  }

  private blend(dry: readonly Float32Array[], wet: readonly Float32Array[], frames: number): void {
    const { before, after, scratch } = this;
    const wetStep = (after.wet - before.wet) / frames;
    const dryStep = (after.dry - before.dry) / frames;
    for (let c = 0; c < wet.length; c++) {
      const out = wet[c];
      this.delayDry(dry, c, frames);
      let wetGain = before.wet;
      let dryGain = before.dry;
      for (let i = 0; i < frames; i++) {
        out[i] = wetGain * out[i] + dryGain * scratch[i];
        wetGain += wetStep;
        dryGain += dryStep;
      }
    }
  }

  /** Keeps the dry sound at hand, should the mix be turned. */
  private rememberDry(dry: readonly Float32Array[], frames: number): void {
    for (let c = 0; c < this.dryDelays.length; c++) this.delayDry(dry, c, frames);
  }

  private delayDry(dry: readonly Float32Array[], channel: number, frames: number): void {
    const scratch = this.scratch;
    const from = dry[channel < dry.length ? channel : dry.length - 1];
    for (let i = 0; i < frames; i++) scratch[i] = from[i];
    if (this.latency > 0) this.dryDelays[channel].pass(scratch, frames, this.latency);
  }
}

function scale(gains: MixGains, factor: number): void {
  if (factor === 1) return;
  gains.dry *= factor;
  gains.wet *= factor;
}
