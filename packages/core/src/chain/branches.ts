/** Stages inside stages: finding, counting and changing them wherever they stand. */
import type { Catalogue } from '../catalogue/catalogue.ts';
import type { ResolvedValues } from '../stages/contract.ts';
import { mapShared } from '../model/sharing.ts';
import type { Params } from '../params/params.ts';
import type { BranchDocument, ChainDocument, StageDocument } from './schema.ts';

/** A stage that holds stages with as many branches as its settings ask for, near `wanted` if they leave a choice. */
export function withBranches(
  catalogue: Catalogue,
  stage: StageDocument,
  taken: Set<string>,
  wanted = stage.branches?.length ?? 0,
): StageDocument {
  const definition = catalogue.of(stage);
  if (!definition.holds) return stage;
  const { min, max } = definition.holds.count(stage.settings as ResolvedValues<Params>);
  const branches = (stage.branches ?? []).slice(0, max);
  while (branches.length < Math.max(min, Math.min(max, wanted))) {
    const id = freeId(`${stage.id}-b`, taken, branches.length + 1);
    taken.add(id);
    branches.push({ id, name: '', level: 0, pan: 0, muted: false, inverted: false, stages: [] });
  }
  return { ...stage, branches };
}

/** An id that nothing has yet. */
export function freeId(beginning: string, taken: ReadonlySet<string>, first = 1): string {
  for (let n = first; ; n++) {
    const id = n === 1 && first === 1 ? beginning : `${beginning}${n}`;
    if (!taken.has(id)) return id;
  }
}

/** A stage with the branch, if any, that it stands in. */
export interface Placed {
  readonly stage: StageDocument;
  /** Ids of the stage and the branch it stands in; undefined at the top. */
  readonly holder: { readonly stage: StageDocument; readonly branch: BranchDocument } | undefined;
  readonly depth: number;
}

/** Every stage of a chain, a stage before those inside it. */
export function allStages(stages: readonly StageDocument[], holder?: Placed['holder'], depth = 1): Placed[] {
  return stages.flatMap((stage) => [
    { stage, holder, depth },
    ...(stage.branches ?? []).flatMap((branch) => allStages(branch.stages, { stage, branch }, depth + 1)),
  ]);
}

/** Ids of all stages and branches. */
export function idsOf(chain: ChainDocument): Set<string> {
  return new Set(
    allStages(chain.stages).flatMap(({ stage }) => [stage.id, ...(stage.branches ?? []).map(({ id }) => id)]),
  );
}

/** The chain with every list of stages, at any depth, put through `change`, innermost first; it shares what stays the same. */
export function mapStages(
  chain: ChainDocument,
  change: (stages: readonly StageDocument[], branchId: string | undefined) => readonly StageDocument[],
): ChainDocument {
  const inside = (stages: readonly StageDocument[], branchId: string | undefined): readonly StageDocument[] =>
    change(
      mapShared(stages, (stage) => {
        if (!stage.branches) return stage;
        const branches = mapShared(stage.branches, (branch) => {
          const changed = inside(branch.stages, branch.id);
          return changed === branch.stages ? branch : { ...branch, stages: changed };
        });
        return branches === stage.branches ? stage : { ...stage, branches };
      }),
      branchId,
    );
  const stages = inside(chain.stages, undefined);
  return stages === chain.stages ? chain : { ...chain, stages };
}

/** The chain with one stage, wherever it stands, changed. */
export function changeStage(
  chain: ChainDocument,
  id: string,
  change: (stage: StageDocument) => StageDocument,
): ChainDocument {
  return mapStages(chain, (stages) => mapShared(stages, (stage) => (stage.id === id ? change(stage) : stage)));
}

/** The chain with one branch changed. */
export function changeBranch(
  chain: ChainDocument,
  id: string,
  change: (branch: BranchDocument) => BranchDocument,
): ChainDocument {
  return mapStages(chain, (stages) =>
    mapShared(stages, (stage) =>
      stage.branches?.some((branch) => branch.id === id)
        ? { ...stage, branches: stage.branches.map((branch) => (branch.id === id ? change(branch) : branch)) }
        : stage,
    ),
  );
}

/** The chain as it is heard when some branches are heard alone: those beside them are muted. */
export function withSolos(chain: ChainDocument, solos: readonly string[]): ChainDocument {
  if (solos.length === 0) return chain;
  return mapStages(chain, (stages) =>
    mapShared(stages, (stage) =>
      stage.branches?.some(({ id }) => solos.includes(id))
        ? {
            ...stage,
            branches: stage.branches.map((branch) => ({ ...branch, muted: !solos.includes(branch.id) })),
          }
        : stage,
    ),
  );
}

/** Where a stage stands: the list that holds it, and its place there. */
export function placeOf(
  chain: ChainDocument,
  id: string,
): { readonly branchId: string | undefined; readonly index: number; readonly count: number } | undefined {
  const placed = allStages(chain.stages).find(({ stage }) => stage.id === id);
  if (!placed) return undefined;
  const siblings = placed.holder?.branch.stages ?? chain.stages;
  return { branchId: placed.holder?.branch.id, index: siblings.indexOf(placed.stage), count: siblings.length };
}

/** The chain with one list of stages changed: that of a branch, or the chain's own. */
export function changeList(
  chain: ChainDocument,
  branchId: string | undefined,
  change: (stages: readonly StageDocument[]) => readonly StageDocument[],
): ChainDocument {
  if (branchId === undefined) return { ...chain, stages: change(chain.stages) };
  return changeBranch(chain, branchId, (branch) => ({ ...branch, stages: change(branch.stages) }));
}

/** The branches that are run before a stage: those before the ones that it stands in. */
export function branchesBefore(
  catalogue: Catalogue,
  chain: ChainDocument,
  stageId: string,
): { readonly id: string; readonly name: string }[] {
  const placed = allStages(chain.stages);
  const before: { readonly id: string; readonly name: string }[] = [];
  let holder = placed.find(({ stage }) => stage.id === stageId)?.holder;
  while (holder) {
    const { stage, branch } = holder;
    const siblings = stage.branches ?? [];
    before.unshift(
      ...siblings
        .slice(
          0,
          siblings.findIndex(({ id }) => id === branch.id),
        )
        .map((sibling) => ({ id: sibling.id, name: branchName(catalogue.for(chain), stage, sibling) })),
    );
    holder = placed.find((candidate) => candidate.stage.id === stage.id)?.holder;
  }
  return before;
}

/** What a branch goes by: the designer's name, or what its stage calls it. */
export function branchName(catalogue: Catalogue, stage: StageDocument, branch: BranchDocument): string {
  const branches = stage.branches ?? [];
  const index = branches.findIndex(({ id }) => id === branch.id);
  const definition = catalogue.of(stage);
  const title = definition.holds?.title(stage.settings as ResolvedValues<Params>, index, branches.length);
  return branch.name || title || `Branch ${index + 1}`;
}

/** The chain with one more, empty branch in a stage. */
export function addBranch(catalogue: Catalogue, chain: ChainDocument, stageId: string): ChainDocument {
  const taken = idsOf(chain);
  return changeStage(chain, stageId, (stage) =>
    withBranches(catalogue.for(chain), stage, taken, (stage.branches?.length ?? 0) + 1),
  );
}

/** The chain without a branch and what stands in it. */
export function removeBranch(chain: ChainDocument, branchId: string): ChainDocument {
  return mapStages(chain, (stages) =>
    stages.map((stage) =>
      stage.branches ? { ...stage, branches: stage.branches.filter(({ id }) => id !== branchId) } : stage,
    ),
  );
}

/** True when whole-clip stages may stand in a branch too; at the top, without an id, they always may. */
export function takesClipStages(catalogue: Catalogue, chain: ChainDocument, branchId: string | undefined): boolean {
  if (branchId === undefined) return true;
  const known = catalogue.for(chain);
  const placed = allStages(chain.stages).find(({ stage }) => stage.branches?.some(({ id }) => id === branchId));
  for (let at = placed; at; at = at.holder && findStage(chain, at.holder.stage.id)) {
    const stage = known.of(at.stage);
    if (stage.runs === 'live' && stage.holds?.clipStages !== true) return false;
  }
  return placed !== undefined;
}

const findStage = (chain: ChainDocument, id: string) => allStages(chain.stages).find(({ stage }) => stage.id === id);

/** True for a stage that cannot run live: it needs the whole clip, or one that is on does in a branch of it. */
export function needsWholeClip(catalogue: Catalogue, { branches = [], ...stage }: StageDocument): boolean {
  return (
    catalogue.of(stage).runs === 'offline' ||
    branches.some(({ stages }) => stages.some((inner) => inner.on && needsWholeClip(catalogue, inner)))
  );
}

/** The name of a branch of that id; empty when there is none. */
export function branchTitle(catalogue: Catalogue, chain: ChainDocument, branchId: string): string {
  for (const { stage } of allStages(chain.stages)) {
    const branch = stage.branches?.find(({ id }) => id === branchId);
    if (branch) return branchName(catalogue.for(chain), stage, branch);
  }
  return '';
}

/** A stage with its number, `2` or, in the second branch of that one, `2b1`, and the branch that it stands in. */
export interface Numbered {
  readonly stage: StageDocument;
  readonly number: string;
  /** Title of the branch; undefined at the top. */
  readonly branch: string | undefined;
}

/** Every stage, a stage before those inside it, numbered as they stand. */
export function numberedStages(catalogue: Catalogue, chain: ChainDocument): Numbered[] {
  const walk = (stages: readonly StageDocument[], before: string, branch: string | undefined): Numbered[] =>
    stages.flatMap((stage, index) => {
      const number = `${before}${index + 1}`;
      const inside = (stage.branches ?? []).flatMap(({ id, stages: nested }, b) =>
        walk(nested, `${number}${branchLetter(b)}`, branchTitle(catalogue, chain, id)),
      );
      return [{ stage, number, branch }, ...inside];
    });
  return walk(chain.stages, '', undefined);
}

export const branchLetter = (index: number): string => String.fromCharCode(97 + index);
