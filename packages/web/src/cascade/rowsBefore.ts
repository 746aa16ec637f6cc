import { remembered } from '@hexenkessel/core/model';
import type { StageDocument } from '@hexenkessel/core/chain';
import type { CascadeState } from './chainRenderer.ts';
import type { RowKey, RowPicture } from './renderReport.ts';

/** A row, and the rows whose sound went before it. */
interface Before {
  readonly key: RowKey;
  readonly before: Before | undefined;
}

const SOURCE: Before = { key: 'source', before: undefined };

/** For each stage, wherever it stands, the rows of the sounds that go into it, the nearest first. */
const allBefore = remembered((stages: readonly StageDocument[]): ReadonlyMap<string, Before> => {
  const found = new Map<string, Before>();
  const walk = (list: readonly StageDocument[], first: Before) => {
    let before = first;
    for (const stage of list) {
      found.set(stage.id, before);
      for (const branch of stage.branches ?? []) walk(branch.stages, before);
      if (stage.on) before = { key: `stage:${stage.id}`, before };
    }
  };
  walk(stages, SOURCE);
  return found;
});

/** The picture of what goes into a stage; of what goes before that, where it is not rendered yet. */
export function rowBefore(
  stages: readonly StageDocument[],
  stageId: string,
  rows: CascadeState['rows'],
): RowPicture | undefined {
  for (let before = allBefore(stages).get(stageId); before; before = before.before) {
    const row = rows[before.key];
    if (row) return row;
  }
  return undefined;
}

/**
 * What goes into a stage, and the stage at the top of the chain that holds it or is it. Undefined for the first of a branch
 * that gets a part of the sound, which is shown nowhere.
 */
export function inputRow(
  stages: readonly StageDocument[],
  stageId: string,
): { readonly row: RowKey; readonly top: string } | undefined {
  const before = allBefore(stages).get(stageId);
  const holders = holdersOf(stages, stageId);
  const nearest = holders?.at(-1);
  if (!before || !holders) return undefined;
  if (nearest && isFirst(nearest, stageId) && !(nearest.kind === 'split' && nearest.settings['mode'] === 'copies'))
    return undefined;
  return { row: before.key, top: holders[0]?.id ?? stageId };
}

/** The stages that a stage lies in, from the top. */
function holdersOf(stages: readonly StageDocument[], stageId: string): readonly StageDocument[] | undefined {
  for (const stage of stages) {
    if (stage.id === stageId) return [];
    const inside = (stage.branches ?? []).map((branch) => holdersOf(branch.stages, stageId)).find(Boolean);
    if (inside) return [stage, ...inside];
  }
  return undefined;
}

function isFirst(holder: StageDocument, stageId: string): boolean {
  const branch = holder.branches?.find(({ stages }) => stages.some(({ id }) => id === stageId));
  const index = branch?.stages.findIndex(({ id }) => id === stageId) ?? 0;
  return branch?.stages.slice(0, index).every(({ on }) => !on) ?? true;
}

/** The row that is heard for a stage: its own, or what goes into it while it is off. */
export function heardRow(stages: readonly StageDocument[], stageId: string): RowKey {
  const stage = stages.find(({ id }) => id === stageId);
  return stage?.on ? `stage:${stageId}` : (allBefore(stages).get(stageId) ?? SOURCE).key;
}
