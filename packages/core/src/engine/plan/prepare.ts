/** What stages work out before they run, done where it holds nothing up. */
import type { Catalogue, Definition } from '../../catalogue/catalogue.ts';
import type { Prepared } from '../../stages/contract.ts';
import { wordsOf } from './plan.ts';
import type { Planned } from './planned.ts';

/** What `prepareStage` reads of a stage. */
export type Preparable = Pick<Planned, 'kind' | 'definition' | 'sounds' | 'values'>;

/** Works out what a stage needs before it runs; undefined where that is nothing. */
export function prepareStage(catalogue: Catalogue, asked: Preparable, sampleRate: number): Prepared | undefined {
  const stage = catalogue.of(asked);
  return stage.runs === 'live'
    ? stage.prepare?.({ sampleRate, sounds: asked.sounds, kernels: catalogue.kernels }, asked.values)
    : undefined;
}

/** Says all that `prepareStage` depends on; undefined where it gives nothing. */
export function preparedKey(catalogue: Catalogue, asked: Preparable, sampleRate: number): string | undefined {
  const stage = catalogue.of(asked);
  if (stage.runs !== 'live' || !stage.prepare) return undefined;
  const there = Object.keys(asked.sounds).filter((key) => asked.sounds[key] !== undefined);
  const needsSounds = Object.values(stage.params).some(({ type }) => type === 'sound');
  if (needsSounds && there.length === 0) return undefined;
  return JSON.stringify([asked.kind, asked.definition?.key, sampleRate, there, wordsOf(catalogue, asked)]);
}

/** The stages of a plan and of all branches in it. */
export function plannedStages(plan: readonly Planned[]): Planned[] {
  return plan.flatMap((stage) => [stage, ...stage.branches.flatMap(({ stages }) => plannedStages(stages))]);
}

/** Its source was needed to prepare it; what only plays it is spared the text. */
function withoutSource(definition: Definition | undefined): Definition | undefined {
  if (!definition) return undefined;
  const { source: _, ...rest } = definition;
  return rest;
}

/** The plan with what `find` gives for each of its stages. */
export function withPrepared(
  plan: readonly Planned[],
  find: (stage: Planned) => Prepared | undefined,
): readonly Planned[] {
  return plan.map((stage) => {
    const prepared = find(stage);
    const branches = stage.branches.map((branch) => ({ ...branch, stages: withPrepared(branch.stages, find) }));
    return { ...stage, branches, ...(prepared && { prepared, definition: withoutSource(stage.definition) }) };
  });
}
