import type { Catalogue } from '../../catalogue/catalogue.ts';
import { smoothStep } from '../../dsp/smoothStep.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import { ModulationBus } from '../modulation/modulationBus.ts';
import { modulatorsOf } from '../plan/plannedModulation.ts';
import { channelsAfter, latestHearing, shapeOf } from '../plan/plan.ts';
import { flatValues } from '../plan/valueLayout.ts';
import type { Planned } from '../plan/planned.ts';
import type { Span } from '../../model/clip.ts';
import { Branch } from './branch.ts';
import type { BranchAtWork, BranchMaker, RowAtWork } from './row.ts';
import { StageUnit } from './stageUnit.ts';
import { UNWATCHED, type Watch } from './watch.ts';

/**
 * One arrangement of stages passes into another: first sound is let into the new one, so that nothing in it begins with a
 * jump, then, once it has come through, it takes the old one's place. In seconds.
 */
const LET_IN_SECONDS = 0.012;
const CROSSFADE_BEGINS = 0.008;
const CROSSFADE_ENDS = 0.036;

/** Two arrangements of the same place in a row of stages, one fading into the other. */
interface Change {
  /** The units before this place are shared. */
  readonly at: number;
  readonly old: readonly StageUnit[];
  readonly fresh: readonly StageUnit[];
  /** What goes into the fresh units. */
  readonly letIn: Float32Array[];
  readonly output: Float32Array[];
  /** Frames by which the fresh units are late: until then they have nothing to say. */
  readonly late: number;
  /** True where the fresh units go on where the old ones are: they have had the sound all along. */
  readonly goesOn: boolean;
  frames: number;
}

interface SectionSurroundings {
  readonly watch?: Watch;
  /** The branches that are run before the one it stands in. */
  readonly earlier?: readonly BranchAtWork[];
  readonly movement?: ModulationBus;
  /** Where the source lies on the timeline. */
  readonly span?: Span;
}

/**
 * Live stages in a row, at work. Its plan may change while it runs: units whose stage is still there go on; where stages
 * were added, removed, moved, switched or given another word, the old and the new arrangement run side by side and are
 * crossfaded. `process` allocates nothing; `update` does and is called between blocks.
 */
export class Section implements RowAtWork {
  /** Channels of the last processed block; the input itself when there is no stage. */
  output: readonly Float32Array[] = [];
  private readonly sampleRate: number;
  private readonly inputChannels: number;
  private readonly watch: Watch;
  private readonly movement: ModulationBus;
  /** True where it is at the top, and not a branch: then the movement is its own to drive. */
  private readonly drives: boolean;
  /** The branches that are run before the one it stands in. */
  private readonly earlier: readonly BranchAtWork[];
  private units: StageUnit[] = [];
  /** Frames that unit i waits at the beginning, until the first frame reaches it. */
  private waits: number[] = [];
  private elapsed = 0;
  private shape: string;
  private change: Change | undefined;
  private readonly catalogue: Catalogue;

  /** `movement` is that of the stages around a branch; without one, the section has its own, over `span`. */
  constructor(
    catalogue: Catalogue,
    plan: readonly Planned[],
    sampleRate: number,
    inputChannels: number,
    { watch = UNWATCHED, earlier = [], movement, span = { start: 0, end: 1 } }: SectionSurroundings = {},
  ) {
    this.catalogue = catalogue;
    this.watch = watch;
    this.earlier = earlier;
    this.drives = movement === undefined;
    this.movement =
      movement ??
      new ModulationBus(modulatorsOf(plan), sampleRate, span, {
        ...watch,
        latency: latestHearing(catalogue, plan, sampleRate),
        sumsAhead: true,
      });
    this.sampleRate = sampleRate;
    this.inputChannels = inputChannels;
    this.shape = shapeOf(catalogue, plan);
    let channels = inputChannels;
    let latency = 0;
    for (const planned of plan) {
      const unit = new StageUnit(catalogue, planned, this.movement, channels, makeBranch, watch, earlier);
      unit.late = latency;
      this.units.push(unit);
      this.waits.push(latency);
      channels = unit.output.length;
      latency += unit.latency;
    }
  }

  get latency(): number {
    let sum = 0;
    for (let u = 0; u < this.units.length; u++) sum += this.units[u].latency;
    return sum;
  }

  get memoryFrames(): number {
    return this.units.reduce((sum, unit) => sum + unit.memoryFrames, 0);
  }

  /** How many modulators stand still because they threw. */
  get modulatorFaults(): number {
    return this.movement.faults;
  }

  /** The units as they are after the last change, in order. */
  get stages(): readonly StageUnit[] {
    return this.units;
  }

  /** True while an arrangement passes into another, here or in a branch. */
  get changing(): boolean {
    if (this.change !== undefined) return true;
    for (let u = 0; u < this.units.length; u++) {
      const { branches } = this.units[u];
      for (let b = 0; b < branches.length; b++) if (branches[b].changing) return true;
    }
    return false;
  }

  /**
   * Passes over to another plan. Whoever calls waits for the last change to be over (`changing`); one that is not is cut
   * short. What stages on their way out are moved by runs on until they are gone.
   */
  update(plan: readonly Planned[]): void {
    this.change = undefined;
    const shape = shapeOf(this.catalogue, plan);
    if (this.drives) this.movement.update(modulatorsOf(plan), latestHearing(this.catalogue, plan, this.sampleRate));
    if (shape !== this.shape) this.rearrange(plan);
    this.shape = shape;
    for (let u = 0; u < this.units.length; u++) this.units[u].update(plan[u]);
    this.setValues(flatValues(plan), 0);
  }

  /** See `StageUnit.setValues`; in the order of the plan of the last `update`. */
  setValues(flat: ArrayLike<number>, from: number): number {
    let at = from;
    for (let u = 0; u < this.units.length; u++) at = this.units[u].setValues(flat, at);
    return this.drives ? this.movement.setValues(flat, at) : at;
  }

  reset(): void {
    this.elapsed = 0;
    this.change = undefined;
    if (this.drives) this.movement.reset();
    for (let u = 0; u < this.units.length; u++) {
      this.units[u].reset();
      this.waits[u] = this.units[u].late;
    }
  }

  /** Called in place of `process` while nothing plays; see `Movement.rest`. */
  rest(): void {
    if (this.drives) this.movement.rest();
  }

  /** Runs `frames` ≤ BLOCK_FRAMES frames that begin at `position` of the timeline. Allocates nothing. */
  process(input: readonly Float32Array[], frames: number, position: number): void {
    if (this.drives) this.movement.advance(input, position);
    const change = this.change;
    if (!change) {
      this.output = this.run(this.units, 0, this.units.length, input, frames, position);
    } else {
      const { at, old, fresh } = change;
      const joint = this.run(this.units, 0, at, input, frames, position);
      const from = this.run(old, 0, old.length, joint, frames, position);
      this.letIn(change, joint, frames);
      const to = fresh.length > 0 ? this.run(fresh, 0, fresh.length, change.letIn, frames, position) : joint;
      this.fade(change, from, to, frames);
      this.output = this.run(this.units, at + fresh.length, this.units.length, change.output, frames, position);
      change.frames += frames;
      if (change.frames >= change.late + CROSSFADE_ENDS * this.sampleRate) this.change = undefined;
    }
    this.elapsed += frames;
    if (this.drives && !this.changing) this.movement.release();
  }

  private run(
    units: readonly StageUnit[],
    first: number,
    end: number,
    input: readonly Float32Array[],
    frames: number,
    position: number,
  ): readonly Float32Array[] {
    let current = input;
    for (let u = first; u < end; u++) {
      const unit = units[u];
      if (units === this.units && this.elapsed < this.waits[u]) {
        for (let c = 0; c < unit.output.length; c++) unit.output[c].fill(0, 0, frames);
      } else unit.process(current, frames, position);
      current = unit.output;
    }
    return current;
  }

  private letIn(change: Change, joint: readonly Float32Array[], frames: number): void {
    const length = LET_IN_SECONDS * this.sampleRate;
    for (let c = 0; c < joint.length; c++) {
      const into = change.letIn[c];
      for (let i = 0; i < frames; i++)
        into[i] = (change.goesOn ? 1 : smoothStep((change.frames + i) / length)) * joint[c][i];
    }
  }

  private fade(change: Change, from: readonly Float32Array[], to: readonly Float32Array[], frames: number): void {
    const begin = change.frames - change.late - CROSSFADE_BEGINS * this.sampleRate;
    const length = (CROSSFADE_ENDS - CROSSFADE_BEGINS) * this.sampleRate;
    for (let c = 0; c < change.output.length; c++) {
      const a = from[c < from.length ? c : from.length - 1];
      const b = to[c < to.length ? c : to.length - 1];
      const out = change.output[c];
      for (let i = 0; i < frames; i++) out[i] = a[i] + smoothStep((begin + i) / length) * (b[i] - a[i]);
    }
  }

  /** Keeps the units at both ends that fit the new plan and replaces those between. */
  private rearrange(plan: readonly Planned[]): void {
    const { units: old, sampleRate } = this;
    const inputs = plan.map((_, p) => channelsAfter(this.catalogue, plan.slice(0, p), this.inputChannels));
    let at = 0;
    while (at < old.length && at < plan.length && old[at].fits(plan[at], sampleRate, inputs[at])) at++;
    // Only what moves them is new.
    if (at === old.length && at === plan.length) return;
    let kept = 0;
    while (kept < Math.min(old.length, plan.length) - at) {
      const p = plan.length - 1 - kept;
      if (!old[old.length - 1 - kept].fits(plan[p], sampleRate, inputs[p])) break;
      kept++;
    }
    const fresh = plan
      .slice(at, plan.length - kept)
      .map(
        (planned, n) =>
          new StageUnit(this.catalogue, planned, this.movement, inputs[at + n], makeBranch, this.watch, this.earlier),
      );
    const replaced = old.slice(at, old.length - kept);
    const goesOn = fresh.map((unit) => replaced.some((before) => unit.takeOver(before)));
    const width = (units: readonly StageUnit[]) =>
      units.at(-1)?.output.length ?? old[at - 1]?.output.length ?? this.inputChannels;
    // Before a kept unit both are as wide; at the end the wider one counts.
    const channels = Math.max(width(replaced), width(fresh));
    this.units = [...old.slice(0, at), ...fresh, ...old.slice(old.length - kept)];
    this.waits = this.units.map(() => 0); // sound is on its way everywhere by now
    let latency = 0;
    for (const unit of this.units) {
      unit.late = latency;
      latency += unit.latency;
    }
    this.change = {
      at,
      old: replaced,
      fresh,
      letIn: blocks(width(old.slice(0, at))),
      output: blocks(channels),
      late: fresh.reduce((sum, unit) => sum + unit.latency, 0),
      goesOn: goesOn.every(Boolean),
      frames: 0,
    };
  }
}

function blocks(channels: number): Float32Array[] {
  return Array.from({ length: channels }, () => new Float32Array(BLOCK_FRAMES));
}

/** A branch at work, with its stages in a row of their own that is moved with those around it. */
export const makeBranch: BranchMaker = (catalogue, plan, place) => {
  const { movement, inputChannels, watch, earlier } = place;
  const section = new Section(catalogue, plan.stages, movement.sampleRate, inputChannels, { watch, earlier, movement });
  return new Branch(plan, section, place);
};
