/**
 * The order of all numbers and switches of a plan in a row, in which the engine takes them while it plays. Written here
 * alone: `flatValues` writes them in it, and whatever is at work – a section, a unit, a branch, the modulation bus – reads
 * its own part by `setValues`, which gives the place behind it.
 *
 * Stages one after another, behind all of them the modulators. A stage: what every stage has (`STAGE_PARAMS`), its own
 * values, the depths of what moves either, its branches. A branch: what every branch has (`BRANCH_PARAMS`), its switches
 * (`BRANCH_SWITCHES`), depths, its stages. A modulator: its values, depths. Switches are 0 and 1; words are left out.
 */
import { BRANCH_PARAMS, BRANCH_SWITCHES } from '../../stages/branchParams.ts';
import { STAGE_PARAMS } from '../../stages/stageParams.ts';
import type { Planned, PlannedBranch } from './planned.ts';
import { modulatorsOf, type PlannedMove } from './plannedModulation.ts';

export function flatValues(stages: readonly Planned[]): number[] {
  return [
    ...stages.flatMap(stageNumbers),
    ...modulatorsOf(stages).flatMap(({ values, moves }) => [...numbersOf(values), ...depthsOf(moves)]),
  ];
}

function stageNumbers(stage: Planned): number[] {
  return [
    ...picked(stage, Object.keys(STAGE_PARAMS)),
    ...numbersOf(stage.values),
    ...depthsOf(stage.moves),
    ...stage.branches.flatMap(branchNumbers),
  ];
}

function branchNumbers(branch: PlannedBranch): number[] {
  return [
    ...picked(branch, Object.keys(BRANCH_PARAMS)),
    ...picked(branch, BRANCH_SWITCHES),
    ...depthsOf(branch.moves),
    ...branch.stages.flatMap(stageNumbers),
  ];
}

function picked(owner: object, keys: readonly string[]): number[] {
  return keys.map((key) => Number((owner as Record<string, unknown>)[key]));
}

function numbersOf(values: Readonly<Record<string, unknown>>): number[] {
  return Object.values(values).flatMap((value) =>
    typeof value === 'number' || typeof value === 'boolean' ? Number(value) : [],
  );
}

function depthsOf(moves: readonly PlannedMove[]): number[] {
  return moves.flatMap(({ routes }) => routes.map(({ depth }) => depth));
}
