import { DelayLine } from '../../dsp/delayLine.ts';
import type { Ramp } from '../../model/ramp.ts';
import { decibelsToGain } from '../../dsp/portableMath.ts';
import type { Placement } from '../../stages/contract.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import { BRANCH_PARAMS, BRANCH_SWITCHES } from '../../stages/branchParams.ts';
import type { PlannedBranch } from '../plan/planned.ts';
import type { ModulationBus } from '../modulation/modulationBus.ts';
import { ModulatedSettings } from '../modulation/modulatedSettings.ts';
import { SmoothedValue } from '../modulation/smoothedValue.ts';
import type { BranchAtWork, BranchPlace, RowAtWork } from './row.ts';

const MUTED = BRANCH_SWITCHES.indexOf('muted');
const INVERTED = BRANCH_SWITCHES.indexOf('inverted');

/** Of a branch, what every branch has, in the order of `valueLayout.ts`. */
function pickedFrom(plan: PlannedBranch): Record<string, number> {
  return Object.fromEntries(Object.keys(BRANCH_PARAMS).map((key) => [key, plan[key as keyof typeof BRANCH_PARAMS]]));
}

/** One branch of a stage that holds stages, at work: its stages, as late as the slowest beside it, its level and place. */
export class Branch implements BranchAtWork {
  readonly id: string;
  readonly output = [new Float32Array(BLOCK_FRAMES), new Float32Array(BLOCK_FRAMES)];
  readonly section: RowAtWork;
  readonly latency: number;
  private readonly movement: ModulationBus;
  private readonly placement: Placement;
  private readonly late: number;
  private readonly delays: DelayLine[];
  private readonly scratch = new Float64Array(BLOCK_FRAMES);
  /** Level and pan. */
  private readonly settings: ModulatedSettings;
  /** 1 open, 0 muted; −1 open and upside down. */
  private readonly gate: SmoothedValue;
  private readonly gains = { left: 1, right: 1 };
  private readonly latest = { left: 1, right: 1 };
  private mono: boolean;
  private muted: boolean;
  private inverted: boolean;

  /** `section` are its stages, at work. */
  constructor(
    plan: PlannedBranch,
    section: RowAtWork,
    {
      movement,
      inputChannels,
      placement,
      latency,
    }: Pick<BranchPlace, 'movement' | 'inputChannels' | 'placement' | 'latency'>,
  ) {
    const { sampleRate } = movement;
    this.movement = movement;
    this.id = plan.id;
    this.placement = placement;
    this.section = section;
    this.latency = latency;
    this.late = latency - this.section.latency;
    this.delays = this.output.map(() => new DelayLine(this.late, BLOCK_FRAMES));
    this.muted = plan.muted;
    this.inverted = plan.inverted;
    this.mono = inputChannels === 1;
    this.settings = new ModulatedSettings(BRANCH_PARAMS, pickedFrom(plan), sampleRate);
    this.settings.setMoves(plan.moves, movement);
    this.gate = new SmoothedValue(this.opening, 'linear', BLOCK_FRAMES / sampleRate);
    this.place(this.latest);
  }

  get changing(): boolean {
    return this.section.changing;
  }

  get memoryFrames(): number {
    return this.section.memoryFrames + this.late;
  }

  update(plan: PlannedBranch): void {
    this.settings.setMoves(plan.moves, this.movement);
    this.section.update(plan.stages);
  }

  /** Takes its numbers from a list; see `valueLayout.ts`. */
  setValues(flat: ArrayLike<number>, from: number): number {
    const at = this.settings.setValues(flat, from);
    this.muted = flat[at + MUTED] !== 0;
    this.inverted = flat[at + INVERTED] !== 0;
    this.gate.aim(this.opening);
    return this.section.setValues(flat, this.settings.setDepths(flat, at + BRANCH_SWITCHES.length));
  }

  reset(): void {
    this.settings.reset();
    this.section.reset();
    for (let c = 0; c < this.delays.length; c++) this.delays[c].reset();
  }

  process(input: readonly Float32Array[], frames: number, position: number): void {
    this.section.process(input, frames, position);
    const from = this.section.output;
    this.mono = from.length === 1;
    this.gains.left = this.latest.left;
    this.gains.right = this.latest.right;
    this.settings.advance(position, frames);
    this.settings.over(0, frames);
    this.gate.advance();
    this.place(this.latest);
    for (let side = 0; side < 2; side++) {
      const samples = from[side < from.length ? side : 0];
      const out = this.output[side];
      const scratch = this.scratch;
      for (let i = 0; i < frames; i++) scratch[i] = samples[i];
      if (this.late > 0) this.delays[side].pass(scratch, frames, this.late);
      let gain = side === 0 ? this.gains.left : this.gains.right;
      const step = ((side === 0 ? this.latest.left : this.latest.right) - gain) / frames;
      for (let i = 0; i < frames; i++) {
        out[i] = gain * scratch[i];
        gain += step;
      }
    }
  }

  private get opening(): number {
    if (this.muted) return 0;
    return this.inverted ? -1 : 1;
  }

  /** Gains of the two sides: level, gate, and the pan, which takes from one side or, for one side alone, moves it over. */
  private place(gains: { left: number; right: number }): void {
    const gain = decibelsToGain((this.settings.values['level'] as Ramp).end) * this.gate.end;
    const pan = (this.settings.values['pan'] as Ramp).end;
    const over = Math.max(0, pan);
    const under = Math.max(0, -pan);
    if (this.mono && this.placement === 'left') {
      gains.left = gain * (1 - over);
      gains.right = gain * over;
    } else if (this.mono && this.placement === 'right') {
      gains.left = gain * under;
      gains.right = gain * (1 - under);
    } else {
      gains.left = gain * (1 - over);
      gains.right = gain * (1 - under) * (this.placement === 'opposed' ? -1 : 1);
    }
  }
}
