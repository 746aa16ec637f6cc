import type { Beats, Prepared, ResolvedValues } from '../../stages/contract.ts';
import type { Params } from '../../params/params.ts';
import type { Clip } from '../../model/clip.ts';
import type { Definition } from '../../catalogue/catalogue.ts';
import type { TimelineShift } from './tempoLanes.ts';
import type { PlannedModulator, PlannedMove } from './plannedModulation.ts';

/** A stage as the engine runs it: every value in its canonical unit, plain data that can be sent between threads. */
export interface Planned {
  /** Place among its siblings in the document. */
  readonly index: number;
  readonly id: string;
  readonly kind: string;
  /** What it is made from, if it is not built in. */
  readonly definition?: Definition | undefined;
  readonly runs: 'live' | 'offline';
  readonly mix: number;
  /** dB after the mix. */
  readonly level: number;
  readonly values: ResolvedValues<Params>;
  readonly seed: number;
  /** The sounds its parameters name, as far as they are there. */
  readonly sounds: Readonly<Record<string, Clip | undefined>>;
  /** What its stage's `prepare` gave, where that has run already. */
  readonly prepared?: Prepared;
  readonly branches: readonly PlannedBranch[];
  /** What moves its settings, its mix and its level. */
  readonly moves: readonly PlannedMove[];
  /** The modulators in play here and in its branches, each behind those that move it. */
  readonly modulators: readonly PlannedModulator[];
  /** Where it keeps to a grid in beats and the tempo changes: what it has the timeline counted from. */
  readonly shifts?: readonly TimelineShift[] | undefined;
  /** The tempos of the timeline, for a stage that hears beats. */
  readonly beats?: readonly Beats[] | undefined;
  /** True when its left and right are moved differently, and it can run them one by one. */
  readonly apart: boolean;
}

export interface PlannedBranch {
  readonly id: string;
  /** dB. */
  readonly level: number;
  readonly pan: number;
  readonly muted: boolean;
  readonly inverted: boolean;
  readonly stages: readonly Planned[];
  /** What moves its level and its place. */
  readonly moves: readonly PlannedMove[];
}

/** A stretch of the chain that is run at once: one whole-clip stage, or neighbouring live stages streamed in blocks. */
export type Run =
  | { readonly runs: 'offline'; readonly stage: Planned }
  | { readonly runs: 'live'; readonly stages: readonly Planned[] };
