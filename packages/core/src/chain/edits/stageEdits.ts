import type { Catalogue } from '../../catalogue/catalogue.ts';
import { allStages, changeList, changeStage, idsOf, placeOf, withBranches } from '../branches.ts';
import { stageTitle } from '../edit.ts';
import type { ChainDocument, StageDocument } from '../schema.ts';
import { withoutUnusedScripts } from '../scripts.ts';
import { withStagesOf } from '../stagePart.ts';
import type { ChainEdit } from './chainEdit.ts';
import { moved } from './movedStage.ts';

function find(chain: ChainDocument, id: string): StageDocument | undefined {
  return allStages(chain.stages).find(({ stage }) => stage.id === id)?.stage;
}

function titleIn(catalogue: Catalogue, chain: ChainDocument, id: string): string {
  const stage = find(chain, id);
  return stage ? stageTitle(catalogue.for(chain), stage) : id;
}

/** What its kind is called, whatever name it was given. */
function kindIn(catalogue: Catalogue, chain: ChainDocument, id: string): string {
  const stage = find(chain, id);
  return stage ? catalogue.for(chain).of(stage).title : id;
}

/** Puts a stage at a place of the chain, or of a branch. */
export function insertStage(
  catalogue: Catalogue,
  stage: StageDocument,
  { branchId, index }: { readonly branchId: string | undefined; readonly index: number },
): ChainEdit {
  return {
    name: (before) => `add ${catalogue.for(before).of(stage).title}`,
    change: (before) => changeList(before, branchId, (stages) => stages.toSpliced(index, 0, stage)),
  };
}

/** Puts the stages of another chain in, with what moves them. */
export function pasteStages(
  catalogue: Catalogue,
  part: ChainDocument,
  place: { readonly branchId: string | undefined; readonly index: number },
): ChainEdit {
  const [first, ...more] = part.stages;
  return {
    name: () => `paste ${more.length === 0 ? stageTitle(catalogue.for(part), first) : `${part.stages.length} stages`}`,
    change: (before) => withStagesOf(before, part, place),
  };
}

/** One place up or down; at the end of a branch into the next one. */
export function moveStage(catalogue: Catalogue, id: string, by: -1 | 1): ChainEdit {
  return { name: (before) => `move ${titleIn(catalogue, before, id)}`, change: (before) => moved(before, id, by) };
}

/** From one place at the top of the chain to another. */
export function reorderStages(catalogue: Catalogue, from: number, to: number): ChainEdit {
  return {
    name: (before) => `move ${stageTitle(catalogue.for(before), before.stages[from])}`,
    change: (before) => {
      const { stages } = before;
      return { ...before, stages: stages.toSpliced(from, 1).toSpliced(to, 0, stages[from]) };
    },
  };
}

export function removeStage(catalogue: Catalogue, id: string): ChainEdit {
  return {
    name: (before) => `remove ${titleIn(catalogue, before, id)}`,
    change: (before) =>
      withoutUnusedScripts(
        before,
        changeList(before, placeOf(before, id)?.branchId, (stages) => stages.filter((stage) => stage.id !== id)),
      ),
  };
}

/** On or off; the other one where nothing is said. */
export function switchStage(catalogue: Catalogue, id: string, on?: boolean): ChainEdit {
  const wanted = (stage: StageDocument | undefined) => on ?? !stage?.on;
  return {
    name: (before) => `${titleIn(catalogue, before, id)} ${wanted(find(before, id)) ? 'on' : 'off'}`,
    change: (before) => changeStage(before, id, (stage) => ({ ...stage, on: wanted(stage) })),
  };
}

export function nameStage(catalogue: Catalogue, id: string, name: string): ChainEdit {
  return {
    name: (before) => `name of ${kindIn(catalogue, before, id)}`,
    change: (before) => changeStage(before, id, (stage) => ({ ...stage, name })),
  };
}

/** Several settings at once, as its picture changes them; they may ask for another number of branches. */
export function changeInPicture(
  catalogue: Catalogue,
  id: string,
  change: (settings: StageDocument['settings']) => StageDocument['settings'],
): ChainEdit {
  return {
    name: (before) => `${kindIn(catalogue, before, id)} in its picture`,
    change: (before) =>
      changeStage(before, id, (stage) =>
        withBranches(
          catalogue.for(before),
          { ...stage, settings: { ...stage.settings, ...change(stage.settings) } },
          idsOf(before),
        ),
      ),
  };
}
