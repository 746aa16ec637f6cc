/** Live stages in a row at work over a sound that comes in blocks, as every offline render runs them. */
import { gaveUpOf, type GaveUp } from './gaveUp.ts';
import type { Catalogue } from '../../catalogue/catalogue.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import { refuseTooLong, stageEnd, type TailPlan } from './overhang.ts';
import type { Clip, Span, Timeline } from '../../model/clip.ts';
import type { ModulationBus } from '../modulation/modulationBus.ts';
import { movementFrom } from '../modulation/busFrom.ts';
import { modulatorsOf } from '../plan/plannedModulation.ts';
import { latestHearing } from '../plan/plan.ts';
import type { Planned } from '../plan/planned.ts';
import type { UnitAtWork } from '../run/row.ts';
import { makeBranch } from '../run/section.ts';
import { StageUnit } from '../run/stageUnit.ts';

/** The sound that goes in. */
export interface RunInput {
  readonly sampleRate: number;
  readonly channels: number;
  /** Frames from the source's first. */
  readonly origin: number;
  readonly frames: number;
  /** Where the source lies on the timeline. */
  readonly span: Span;
  /** The time that what moves goes by; that of the source when left out. */
  readonly timeline?: Timeline | undefined;
  /** What the run's first stage heard, where these are later stages that go on from a kept clip: followers listen to it. */
  readonly heard?: Clip | undefined;
}

/** What comes out of a stage, of the run itself or inside another. */
export interface Tap {
  readonly id: string;
  readonly unit: UnitAtWork;
  /** Frames by which its output lags the run's input. */
  readonly latency: number;
  /** Frames until its output ends. */
  readonly frames: number;
}

interface Work {
  readonly unit: StageUnit;
  /** Latency before it and with it. */
  readonly before: number;
  readonly latency: number;
  readonly frames: number;
}

/** Runs live stages block by block. Each begins and ends as it would behind a kept clip, so that both give the same bytes. */
export class RunStream {
  /** Frames to run until all that arrives late has come. */
  readonly total: number;
  /** For each stage, itself and then the stages inside it. */
  readonly taps: readonly (readonly Tap[])[];
  private readonly works: readonly Work[];
  /** Where the input's first frame lies on the timeline. */
  private readonly origin: number;
  private readonly movement: ModulationBus;
  private readonly heard: Clip | undefined;
  private readonly heardBlock: readonly Float32Array[];

  constructor(catalogue: Catalogue, stages: readonly Planned[], input: RunInput, tail: TailPlan) {
    const { place, span } = input.timeline ?? { place: 0, span: input.span };
    this.origin = input.origin + place;
    this.movement = movementFrom(
      modulatorsOf(stages),
      this.origin,
      input.sampleRate,
      span,
      latestHearing(catalogue, stages, input.sampleRate),
    );
    this.heard = input.heard;
    this.heardBlock = (input.heard?.channels ?? []).map(() => new Float32Array(BLOCK_FRAMES));
    let latency = 0;
    let end = input.origin + input.frames;
    let channels = input.channels;
    this.works = stages.map((planned) => {
      const unit = new StageUnit(catalogue, planned, this.movement, channels, makeBranch);
      const before = latency;
      unit.late = before;
      channels = unit.output.length;
      latency += unit.latency;
      end = stageEnd(catalogue, tail, planned, end, input.sampleRate);
      return { unit, before, latency, frames: end - input.origin };
    });
    this.total = end - input.origin + latency;
    this.taps = this.works.map(({ unit, before, latency: behind, frames }) => [
      { id: unit.id, unit, latency: behind, frames },
      ...tapsInside(unit, before, frames),
    ]);
  }

  /** The last stage's output; a run has at least one stage. */
  get last(): Tap {
    return this.taps[this.taps.length - 1][0];
  }

  /** Stages that have given up, those inside others too. */
  get gaveUp(): readonly GaveUp[] {
    return gaveUpOf(this.taps.flat().map(({ unit }) => unit));
  }

  /** InputError when a stage's output is too long to be held whole. */
  refuseTooLong(): void {
    for (const { unit, frames } of this.works) refuseTooLong(frames, unit.output.length, unit.title);
  }

  /** Runs `count` ≤ BLOCK_FRAMES frames that begin `at` frames after the input's first; the taps' units hold what comes out. */
  run(block: readonly Float32Array[], at: number, count: number): void {
    if (this.heard) fillBlock(this.heardBlock, this.heard.channels, at);
    this.movement.advance(this.heard ? this.heardBlock : block, this.origin + at);
    let current = block;
    for (const { unit, before, latency, frames } of this.works) {
      // It begins with the first frame that reaches it, as it would behind a kept clip.
      if (at >= before) unit.process(current, count, this.origin + at);
      current = unit.output;
      // Behind its end a stage is silent, as it will be when its output is taken from the cache.
      const sounding = frames + latency - at;
      if (sounding < count) for (const samples of current) samples.fill(0, Math.max(0, sounding));
    }
  }
}

function tapsInside(holder: UnitAtWork, before: number, frames: number): Tap[] {
  return holder.branches.flatMap(({ section }) => {
    let latency = before;
    return section.stages.flatMap((unit) => {
      const inner = tapsInside(unit, latency, frames);
      latency += unit.latency;
      return [{ id: unit.id, unit, latency, frames }, ...inner];
    });
  });
}

/** Copies `count` frames to position `at`; what falls outside is dropped. */
export function copyBlock(from: readonly Float32Array[], to: readonly Float32Array[], at: number, count: number): void {
  const first = Math.max(0, -at);
  from.forEach((samples, c) => {
    const last = Math.min(count, to[c].length - at);
    if (last > first) to[c].set(samples.subarray(first, last), at + first);
  });
}

/** Fills `block` with the frames of a sound from `at` on, silence where it has none. */
export function fillBlock(block: readonly Float32Array[], from: readonly Float32Array[], at: number): void {
  for (let c = 0; c < block.length; c++) {
    const samples = from[c];
    const count = Math.max(0, Math.min(BLOCK_FRAMES, samples.length - at));
    if (count > 0) block[c].set(samples.subarray(at, at + count));
    block[c].fill(0, count);
  }
}
