/** Settings that something outside their stage names: `hall.decay`, `hall.mix`, `split-b.pan`, `lfo.rate`. */
import { BRANCH_PARAMS } from '../engine/branchParams.ts';
import { STAGE_PARAMS } from '../engine/stageParams.ts';
import { modulatorOf } from '../modulation/modulators/index.ts';
import { stageOf } from '../stages/index.ts';
import { isScaled, labelOf, toggle, type Param, type Params, type SettingValue } from '../stages/params.ts';
import { allStages, branchName, changeBranch, changeStage } from './branches.ts';
import type { ChainDocument, ModulatorDocument } from './schema.ts';

const STAGE_SWITCH = { on: toggle({ default: true, doc: 'Off lets everything through as it is.' }) };

/** A setting, and whose it is. */
export interface Target {
  readonly target: string;
  readonly id: string;
  readonly key: string;
  readonly of: 'stage' | 'branch' | 'modulator';
  /** What whose it is goes by. */
  readonly owner: string;
  /** Name on its row. */
  readonly label: string;
  readonly param: Param;
  readonly value: SettingValue;
  /** True when it can be moved while it runs. */
  readonly movable: boolean;
}

export function splitTarget(target: string): { readonly id: string; readonly key: string } {
  const point = target.indexOf('.');
  return { id: target.slice(0, point), key: target.slice(point + 1) };
}

/** What a modulator goes by: the designer's name, or what its kind is called. */
export function modulatorTitle({ name, kind }: ModulatorDocument): string {
  return name || modulatorOf(kind).title;
}

/** Every setting of a chain that something else can name. */
export function targetsOf(chain: ChainDocument): Target[] {
  const listed = (
    common: Pick<Target, 'id' | 'of' | 'owner'>,
    params: Params,
    valueOf: (key: string) => SettingValue,
    live: boolean,
  ): Target[] =>
    Object.entries(params).map(([key, param]) => ({
      ...common,
      key,
      target: `${common.id}.${key}`,
      label: labelOf(key, param),
      param,
      value: valueOf(key),
      movable: live && (isScaled(param) || param.type === 'toggle') && param.fixed !== true,
    }));
  const inStages = allStages(chain.stages).flatMap(({ stage }): Target[] => {
    const definition = stageOf(stage.kind);
    const own = { id: stage.id, of: 'stage', owner: stage.name || definition.title } as const;
    const live = definition.reach === 'live';
    const branches = (stage.branches ?? []).flatMap((branch) =>
      listed(
        { id: branch.id, of: 'branch', owner: `${own.owner} ${branchName(stage, branch)}` },
        BRANCH_PARAMS,
        (key) => branch[key as 'level'],
        live,
      ),
    );
    return [
      ...listed(own, definition.params, (key) => stage.settings[key], live),
      ...listed(own, STAGE_PARAMS, (key) => stage[key as 'mix'], live),
      ...('on' in definition.params ? [] : listed(own, STAGE_SWITCH, () => stage.on, false)),
      ...branches,
    ];
  });
  const inModulators = chain.modulators.flatMap((modulator) =>
    listed(
      { id: modulator.id, of: 'modulator', owner: modulatorTitle(modulator) },
      modulatorOf(modulator.kind).params,
      (key) => modulator.settings[key],
      true,
    ),
  );
  return [...inStages, ...inModulators];
}

/** The setting that a target names; undefined when there is none. */
export function findTarget(chain: ChainDocument, target: string): Target | undefined {
  return targetsOf(chain).find((candidate) => candidate.target === target);
}

/** The chain with one setting changed, whatever it belongs to. */
export function withSetting(chain: ChainDocument, target: string, value: SettingValue): ChainDocument {
  const { id, key } = splitTarget(target);
  if (chain.modulators.some((modulator) => modulator.id === id))
    return {
      ...chain,
      modulators: chain.modulators.map((modulator) =>
        modulator.id === id ? { ...modulator, settings: { ...modulator.settings, [key]: value } } : modulator,
      ),
    };
  const stage = allStages(chain.stages).find((placed) => placed.stage.id === id)?.stage;
  if (!stage) return changeBranch(chain, id, (branch) => ({ ...branch, [key]: value }));
  return changeStage(chain, id, (before) =>
    key in stageOf(before.kind).params
      ? { ...before, settings: { ...before.settings, [key]: value } }
      : { ...before, [key]: value },
  );
}

/** The chain without what names settings, modulators or controls that are not there any more. */
export function withoutDangling(chain: ChainDocument): ChainDocument {
  const settings = new Map(targetsOf(chain).map((target) => [target.target, target]));
  const movable = (target: string) => settings.get(target)?.movable === true;
  const sources = new Set([...chain.modulators, ...chain.panel].map(({ id }) => id));
  const kept = <T>(list: readonly T[], holds: (entry: T) => boolean) => (list.every(holds) ? list : list.filter(holds));
  const panel = chain.panel.map((control) => {
    const drives = kept(control.drives, ({ target }) => settings.has(target));
    return drives === control.drives ? control : { ...control, drives };
  });
  return {
    ...chain,
    panel: panel.every((control, n) => control === chain.panel[n]) ? chain.panel : panel,
    routes: kept(chain.routes, ({ from, to }) => sources.has(from) && movable(to)),
    lanes: kept(chain.lanes, ({ target }) => movable(target)),
    locked: kept(chain.locked, (target) => settings.has(target)),
  };
}
