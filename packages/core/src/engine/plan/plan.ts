/** A chain as the engine runs it: every value in its canonical unit, plain data that can be sent between threads. */
import type { Catalogue } from '../../catalogue/catalogue.ts';
import { deriveSeed } from '../../dsp/random.ts';
import { needsWholeClip } from '../../chain/branches.ts';
import type { BranchDocument, ChainDocument, StageDocument } from '../../chain/schema.ts';
import type { Beats, LiveStage } from '../../stages/contract.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import { MovementPlan, modulatorShape, modulatorsOf, moveShape, type PlannedModulator } from './plannedModulation.ts';
import type { Planned, PlannedBranch, Run } from './planned.ts';
import { resolveAll, type SettingResolver } from './resolve.ts';
import { beatsOf, timelineShifts, type TimelineShift } from './tempoLanes.ts';
import { isSynced } from '../../timing/tempo.ts';
import type { TempoMap } from '../../timing/tempoMap.ts';
import { reachableValues } from './reachableValues.ts';
import { NO_SOUNDS, type SoundBank } from './soundBank.ts';

/** The chain's stages that are switched on, with every value in its canonical unit at this sample rate. */
export function planStages(
  catalogue: Catalogue,
  chain: ChainDocument,
  sampleRate: number,
  sounds: SoundBank = NO_SOUNDS,
  tempoMap?: TempoMap,
): Planned[] {
  const resolve: SettingResolver = (params, settings) => resolveAll(params, settings, chain.timing, sampleRate, sounds);
  const movement = new MovementPlan(chain, sampleRate, resolve, tempoMap);
  const shifts = tempoMap && tempoMap.changes.length > 1 ? timelineShifts(tempoMap, sampleRate) : undefined;
  const beats = tempoMap ? beatsOf(tempoMap, sampleRate) : [{ frame: 0, quarter: 0, tempo: chain.timing.tempo }];
  return plan(catalogue.for(chain), chain.stages, { seed: chain.render.seed, resolve, movement, shifts, beats });
}

/** All modulators of a chain that are switched on, also those that move nothing yet. */
export function planModulators(
  chain: ChainDocument,
  sampleRate: number,
  sounds: SoundBank = NO_SOUNDS,
): readonly PlannedModulator[] {
  const resolve: SettingResolver = (params, settings) => resolveAll(params, settings, chain.timing, sampleRate, sounds);
  return new MovementPlan(chain, sampleRate, resolve).modulators;
}

interface Conditions {
  readonly seed: number;
  readonly resolve: SettingResolver;
  readonly movement: MovementPlan;
  readonly shifts: readonly TimelineShift[] | undefined;
  readonly beats: readonly Beats[];
}

function plan(catalogue: Catalogue, stages: readonly StageDocument[], conditions: Conditions): Planned[] {
  const { seed, resolve, movement } = conditions;
  return stages.flatMap((document, index): Planned[] => {
    if (!document.on) return [];
    const stage = catalogue.of(document);
    const { values, sounds } = resolve(stage.params, document.settings);
    const { id, kind, mix, level } = document;
    const branches = (document.branches ?? []).map((branch) => planBranch(catalogue, branch, conditions));
    const grid = stage.runs === 'live' ? stage.grid : undefined;
    // A stage that needs the whole clip in a branch makes the one that holds it wait for it, too.
    const whole = branches.some((branch) => branch.stages.some((inner) => inner.runs === 'offline'));
    const moves =
      stage.runs === 'live' ? movement.withTempo(movement.movesOf(id), stage.params, document.settings, grid) : [];
    const keepsTime = grid !== undefined && isSynced(document.settings[grid]);
    const inside = branches.flatMap((branch) => branch.moves);
    const nested = branches.flatMap((branch) => branch.stages.flatMap(({ modulators }) => modulators));
    const modulators = movement.modulatorsFor([...moves, ...inside], nested);
    const apart = stage.runs === 'live' && stage.sidesApart === true && movement.parts(moves);
    return [
      {
        index,
        id,
        kind,
        definition: catalogue.definitionOf(document),
        runs: whole ? 'offline' : stage.runs,
        mix,
        level,
        values,
        seed: deriveSeed(seed, id),
        sounds,
        branches,
        moves,
        modulators,
        shifts: keepsTime ? conditions.shifts : undefined,
        ...(stage.runs === 'live' && stage.hearsBeats ? { beats: conditions.beats } : {}),
        apart,
      },
    ];
  });
}

function planBranch(catalogue: Catalogue, document: BranchDocument, conditions: Conditions): PlannedBranch {
  const { id, level, pan, muted, inverted } = document;
  const moves = conditions.movement.movesOf(id);
  return { id, level, pan, muted, inverted, stages: plan(catalogue, document.stages, conditions), moves };
}

/** Says all that a stage's output depends on besides its input. */
export function contentKey(planned: Planned): string {
  return JSON.stringify(contentOf(planned));
}

/** A sound is known by its key among the values; what it is called and where it stands among its siblings is no matter. */
function contentOf({
  kind,
  definition,
  mix,
  level,
  values,
  seed,
  branches,
  moves,
  modulators,
  shifts,
  beats,
  apart,
}: Planned): unknown {
  const inside = branches.map(({ stages, ...branch }) => [branch, stages.map(contentOf)]);
  const moving = modulators.map(({ sounds: _sounds, ...modulator }) => modulator);
  return [kind, definition?.key, mix, level, values, seed, inside, moves, moving, shifts, apart, beats];
}

/** Cuts the planned stages into runs at the whole-clip stages. */
export function cutIntoRuns(planned: readonly Planned[]): Run[] {
  const runs: Run[] = [];
  let live: Planned[] = [];
  const close = () => {
    if (live.length > 0) runs.push({ runs: 'live', stages: live });
    live = [];
  };
  for (const step of planned) {
    if (step.runs === 'live') {
      live.push(step);
    } else {
      close();
      runs.push({ runs: 'offline', stage: step });
    }
  }
  close();
  return runs;
}

/** Place of the last whole-clip stage that is switched on; −1 when there is none. What lies behind it can run live. */
export function lastClipStage(catalogue: Catalogue, chain: ChainDocument): number {
  const known = catalogue.for(chain);
  return chain.stages.findLastIndex((stage) => stage.on && needsWholeClip(known, stage));
}

/** The live stages behind the last whole-clip stage. */
export function liveEnd(catalogue: Catalogue, chain: ChainDocument, sampleRate: number, sounds?: SoundBank): Planned[] {
  const last = lastClipStage(catalogue, chain);
  return planStages(catalogue, chain, sampleRate, sounds).filter(({ index }) => index > last);
}

/** The definition of a planned live stage. */
export function liveStageOf(catalogue: Catalogue, planned: Planned): LiveStage {
  return catalogue.of(planned) as LiveStage;
}

/**
 * Frames by which a live stage's output lags its input. Always whole blocks: so every stage behind it sees the same
 * blocks whether it is streamed together with this one or starts from a kept clip, and gives the same bytes.
 */
export function latencyOf(catalogue: Catalogue, planned: Planned, sampleRate: number): number {
  const stage = liveStageOf(catalogue, planned);
  const own = stage.latencyFrames?.(planned.values, sampleRate) ?? 0;
  if (stage.takesUpLatency) return wholeBlocks(own);
  const inside = Math.max(0, ...planned.branches.map(({ stages }) => pathLatency(catalogue, stages, sampleRate)));
  return wholeBlocks(own) + inside;
}

/** Latency of stages in a row. */
export function pathLatency(catalogue: Catalogue, stages: readonly Planned[], sampleRate: number): number {
  return stages.reduce((sum, planned) => sum + latencyOf(catalogue, planned, sampleRate), 0);
}

/** Frames by which the latest of stages in a row, or of those inside them, hears what moves it, at the most. */
export function latestHearing(catalogue: Catalogue, stages: readonly Planned[], sampleRate: number): number {
  return stages.reduce((sum, planned) => {
    const own = liveStageOf(catalogue, planned).latencyFrames?.(planned.values, sampleRate) ?? 0;
    const inside = planned.branches.map((branch) => latestHearing(catalogue, branch.stages, sampleRate));
    return sum + wholeBlocks(own) + Math.max(0, ...inside);
  }, 0);
}

/** The next multiple of the block length. */
export function wholeBlocks(frames: number): number {
  return Math.ceil(frames / BLOCK_FRAMES) * BLOCK_FRAMES;
}

/** Seconds until a live stage has fallen by 60 dB, with all that stands in its branches. */
export function tailOf(catalogue: Catalogue, planned: Planned): number {
  const inside = planned.branches.map(({ stages }) => stages.reduce((sum, stage) => sum + tailOf(catalogue, stage), 0));
  const stage = liveStageOf(catalogue, planned);
  // Where something moves it, the longest it may come to ring counts.
  return Math.max(...reachableValues(catalogue, planned).map((values) => stage.tailSeconds(values, inside)));
}

/** Channels that leave stages in a row. */
export function channelsAfter(catalogue: Catalogue, stages: readonly Planned[], inputChannels: number): number {
  return stages.some((planned) => liveStageOf(catalogue, planned).widens) ? 2 : inputChannels;
}

/**
 * What cannot change while a stage runs: which stage it is, its words, its branches. Two plans with the same shape differ
 * in numbers and switches alone.
 */
export function shapeOf(catalogue: Catalogue, stages: readonly Planned[]): string {
  return JSON.stringify([stages.map((planned) => shape(catalogue, planned)), modulatorsOf(stages).map(modulatorShape)]);
}

function shape(catalogue: Catalogue, planned: Planned): unknown {
  const { id, kind, definition, seed, branches, moves, apart, beats } = planned;
  const inside = branches.map((branch) => [
    branch.id,
    branch.moves.map(moveShape),
    branch.stages.map((stage) => shape(catalogue, stage)),
  ]);
  return [id, kind, definition?.key, seed, apart, wordsOf(catalogue, planned), moves.map(moveShape), inside, beats];
}

/** The values that are words, lists or curves, or fixed; a change of one needs a new processor. */
export function wordsOf(catalogue: Catalogue, planned: Pick<Planned, 'kind' | 'definition' | 'values'>): unknown[] {
  const { params } = catalogue.of(planned);
  return Object.entries(planned.values)
    .filter(([key, value]) => {
      const param = params[key];
      const moves = typeof value === 'number' || typeof value === 'boolean';
      return !moves || (param !== undefined && 'fixed' in param && param.fixed === true);
    })
    .map(([, value]) => value);
}
