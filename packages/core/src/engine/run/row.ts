/** What stages in a row, a stage and a branch are to each other: each holds the next, and a branch holds a row again. */
import type { Placement, BranchProcessor } from '../../stages/contract.ts';
import type { Catalogue } from '../../catalogue/catalogue.ts';
import type { ModulationBus } from '../modulation/modulationBus.ts';
import type { Planned, PlannedBranch } from '../plan/planned.ts';
import type { Watch } from './watch.ts';

/** A stage at work, to those that hold it and look at it. */
export interface UnitAtWork {
  readonly id: string;
  readonly kind: string;
  /** What kind of stage it is, in words. */
  readonly title: string;
  readonly output: readonly Float32Array[];
  readonly latency: number;
  readonly branches: readonly BranchAtWork[];
  /** How often it had to be started afresh. */
  readonly failures: number;
  /** True while it is silent because it threw. */
  readonly faulted: boolean;
  /** See `LiveProcessor.givenUp`. */
  readonly givenUp: number;
  /** Highest sample since the last call. */
  takePeak(): number;
  /** Microseconds used since the last call. */
  takeCost(): number;
}

/** Stages in a row at work, to the branch that holds them. */
export interface RowAtWork {
  readonly output: readonly Float32Array[];
  readonly latency: number;
  readonly memoryFrames: number;
  readonly changing: boolean;
  /** How many modulators stand still because they threw. */
  readonly modulatorFaults: number;
  readonly stages: readonly UnitAtWork[];
  update(plan: readonly Planned[]): void;
  setValues(flat: ArrayLike<number>, from: number): number;
  reset(): void;
  process(input: readonly Float32Array[], frames: number, position: number): void;
}

/** A branch at work, to the stage that holds it. */
export interface BranchAtWork extends BranchProcessor {
  readonly id: string;
  readonly section: RowAtWork;
  readonly memoryFrames: number;
  readonly changing: boolean;
  update(plan: PlannedBranch): void;
  setValues(flat: ArrayLike<number>, from: number): number;
  reset(): void;
}

/** Where a branch stands. */
export interface BranchPlace {
  readonly movement: ModulationBus;
  readonly inputChannels: number;
  readonly placement: Placement;
  /** Frames of the slowest branch beside it. */
  readonly latency: number;
  readonly watch: Watch;
  /** The branches that are run before this one. */
  readonly earlier: readonly BranchAtWork[];
}

/** Puts a branch to work. */
export type BranchMaker = (catalogue: Catalogue, plan: PlannedBranch, place: BranchPlace) => BranchAtWork;
