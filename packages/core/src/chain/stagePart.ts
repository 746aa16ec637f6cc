/** A stage on its own way: as a chain of its own that holds what moves it, and put into another chain. */
import type { Catalogue } from '../catalogue/catalogue.ts';
import type { SettingValue, SoundRef } from '../params/params.ts';
import { allStages, changeList, freeId } from './branches.ts';
import { stageTitle } from './edit.ts';
import { takenIds } from './panel.ts';
import type { ChainDocument, StageDocument } from './schema.ts';
import { splitTarget } from './targets.ts';
import { emptyChain, parseChain } from './validate.ts';

/**
 * A stage, with those inside it, as a chain of its own at the same tempo. `withMovement`: with its lanes, its routes and
 * the modulators they come from, and the controls that drive it; what those drive elsewhere stays behind. The chain itself
 * stays as it is. Undefined for an id that no stage has.
 */
export function stageAsChain(
  catalogue: Catalogue,
  chain: ChainDocument,
  id: string,
  withMovement: boolean,
): ChainDocument | undefined {
  const stage = allStages(chain.stages).find((placed) => placed.stage.id === id)?.stage;
  if (!stage) return undefined;
  const inside = allStages([stage]).map((placed) => placed.stage);
  const ids = new Set(inside.flatMap((one) => [one.id, ...(one.branches ?? []).map((branch) => branch.id)]));
  const scripts = chain.scripts.filter((script) => inside.some((one) => one.script === script.id));
  const known = catalogue.for(chain);
  return parseChain(catalogue, {
    ...emptyChain(catalogue, stageTitle(known, stage)),
    timing: chain.timing,
    scripts,
    stages: [mapSettings(stage, (value) => (isForeignBranch(value, ids) ? { sound: '' } : value))],
    ...(withMovement ? movementOf(chain, ids) : {}),
  });
}

/** What moves the settings of some stages and branches: everything that a modulator among it is moved by, too. */
function movementOf(
  chain: ChainDocument,
  ids: ReadonlySet<string>,
): Pick<ChainDocument, 'lanes' | 'routes' | 'modulators' | 'panel'> {
  const kept = new Set(ids);
  const isKept = ({ target }: { readonly target: string }) => kept.has(splitTarget(target).id);
  const routes = () => chain.routes.filter((route) => isKept({ target: route.to }));
  // A modulator that moves something kept is kept, and with it what moves the modulator.
  for (let before = -1; before < kept.size;) {
    before = kept.size;
    for (const { from } of routes()) if (chain.modulators.some(({ id }) => id === from)) kept.add(from);
  }
  const sources = new Set(routes().map(({ from }) => from));
  return {
    lanes: chain.lanes.filter(isKept),
    routes: routes(),
    modulators: chain.modulators.filter(({ id }) => kept.has(id)),
    panel: chain.panel
      .map((control) => ({ ...control, drives: control.drives.filter(isKept) }))
      .filter(({ id, drives }) => drives.length > 0 || sources.has(id)),
  };
}

/** Where stages are put: a branch, or the top where it is undefined, and before which of those there. */
export interface StagePlace {
  readonly branchId: string | undefined;
  readonly index: number;
}

/**
 * The chain with all stages of another one put in at a place, and with what moves them. Ids are made fresh where the chain
 * has them already; a script whose text is here is not taken twice. How the other chain begins and renders, and its tempo,
 * stay behind. The result is not checked here: `checkEdit` refuses what is past a limit or may not stand at that place.
 */
export function withStagesOf(
  chain: ChainDocument,
  part: ChainDocument,
  { branchId, index }: StagePlace,
): ChainDocument {
  const fresh = freshIds(chain, part);
  const to = (target: string) => {
    const { id, key } = splitTarget(target);
    return `${fresh.get(id) ?? id}.${key}`;
  };
  const renamed = (stage: StageDocument): StageDocument => ({
    ...mapSettings(stage, (value) => withBranch(value, fresh)),
    id: fresh.get(stage.id)!,
    ...(stage.script === undefined ? {} : { script: fresh.get(stage.script)! }),
    ...(stage.branches && {
      branches: stage.branches.map((branch) => ({
        ...branch,
        id: fresh.get(branch.id)!,
        stages: branch.stages.map(renamed),
      })),
    }),
  });
  const stages = part.stages.map(renamed);
  const withStages = changeList(chain, branchId, (there) => there.toSpliced(index, 0, ...stages));
  return {
    ...withStages,
    scripts: [
      ...chain.scripts,
      ...part.scripts
        .map((script) => ({ ...script, id: fresh.get(script.id)! }))
        .filter(({ id }) => chain.scripts.every((script) => script.id !== id)),
    ],
    panel: [
      ...chain.panel,
      ...part.panel.map((control) => ({
        ...control,
        id: fresh.get(control.id)!,
        drives: control.drives.map((driven) => ({ ...driven, target: to(driven.target) })),
      })),
    ],
    modulators: [
      ...chain.modulators,
      ...part.modulators.map((modulator) => ({ ...modulator, id: fresh.get(modulator.id)! })),
    ],
    routes: [
      ...chain.routes,
      ...part.routes.map((route) => ({
        ...route,
        id: fresh.get(route.id)!,
        from: fresh.get(route.from) ?? route.from,
        to: to(route.to),
      })),
    ],
    lanes: [...chain.lanes, ...part.lanes.map((lane) => ({ ...lane, target: to(lane.target) }))],
  };
}

/** For everything in `part` the id that it gets in the chain. */
function freshIds(chain: ChainDocument, part: ChainDocument): ReadonlyMap<string, string> {
  const taken = takenIds(chain);
  const fresh = new Map<string, string>();
  for (const { id, language, text } of part.scripts) {
    const same = chain.scripts.find((script) => script.language === language && script.text === text);
    if (same) fresh.set(id, same.id);
  }
  for (const id of takenIds({ ...part, scripts: part.scripts.filter((script) => !fresh.has(script.id)) })) {
    const free = freeId(taken.has(id) ? id.replace(/\d+$/, '') || id : id, taken);
    taken.add(free);
    fresh.set(id, free);
  }
  return fresh;
}

/** A stage and those inside it with every setting put through `change`. */
function mapSettings(stage: StageDocument, change: (value: SettingValue) => SettingValue): StageDocument {
  return {
    ...stage,
    settings: Object.fromEntries(Object.entries(stage.settings).map(([key, value]) => [key, change(value)])),
    ...(stage.branches && {
      branches: stage.branches.map((branch) => ({
        ...branch,
        stages: branch.stages.map((inner) => mapSettings(inner, change)),
      })),
    }),
  };
}

const branchOf = (value: SettingValue): string | undefined =>
  typeof value === 'object' && 'sound' in value ? (value as SoundRef).branch : undefined;

const isForeignBranch = (value: SettingValue, ids: ReadonlySet<string>): boolean => {
  const branch = branchOf(value);
  return branch !== undefined && !ids.has(branch);
};

function withBranch(value: SettingValue, fresh: ReadonlyMap<string, string>): SettingValue {
  const branch = branchOf(value);
  return branch === undefined ? value : { ...(value as SoundRef), branch: fresh.get(branch) ?? branch };
}

/** The chain with another sound wherever it names `ref`, in stages and modulators. */
export function withSoundFor(chain: ChainDocument, ref: SoundRef, by: SoundRef): ChainDocument {
  const change = (value: SettingValue): SettingValue => (isSame(value, ref) ? by : value);
  return {
    ...chain,
    stages: chain.stages.map((stage) => mapSettings(stage, change)),
    modulators: chain.modulators.map((modulator) => ({
      ...modulator,
      settings: Object.fromEntries(Object.entries(modulator.settings).map(([key, value]) => [key, change(value)])),
    })),
  };
}

function isSame(value: SettingValue, ref: SoundRef): boolean {
  if (typeof value !== 'object' || !('sound' in value)) return false;
  const { sound, sha256, branch } = value as SoundRef;
  return branch === undefined && sound === ref.sound && sha256 === ref.sha256;
}
