/** Settings that something outside their stage names: `hall.decay`, `hall.mix`, `split-b.pan`, `lfo.rate`. */
import type { Catalogue } from '../catalogue/catalogue.ts';
import { BRANCH_PARAMS } from '../stages/branchParams.ts';
import { STAGE_PARAMS } from '../stages/stageParams.ts';
import { mapShared, remembered } from '../model/sharing.ts';
import { modulatorOf } from '../modulation/modulators/index.ts';
import { isScaled, labelOf, toggle, type Param, type Params, type SettingValue } from '../params/params.ts';
import { HEAD_ID } from '../heads/contract.ts';
import { allStages, branchName, changeBranch, changeStage } from './branches.ts';
import type { ChainDocument, ModulatorDocument } from './schema.ts';

const STAGE_SWITCH = { on: toggle({ default: true, doc: 'Off lets everything through as it is.' }) };

/** A setting, and whose it is. */
export interface Target {
  readonly target: string;
  readonly id: string;
  readonly key: string;
  readonly of: 'head' | 'stage' | 'branch' | 'modulator';
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

/** What has settings: the head, a stage, a branch, a modulator. */
interface Owner extends Pick<Target, 'id' | 'of'> {
  readonly owner: () => string;
  /** Parameters in the order of their rows, with what is set and whether they run. */
  readonly rows: readonly (readonly [params: Params, live: boolean, valueOf: (key: string) => SettingValue])[];
}

/** Everything in a chain that has settings, in order. */
function* ownersOf(catalogue: Catalogue, chain: ChainDocument): Generator<Owner> {
  const known = catalogue.for(chain);
  const { head } = chain;
  const { title, params } = catalogue.headOf(head);
  if (Object.keys(params).length > 0)
    yield { id: HEAD_ID, of: 'head', owner: () => title, rows: [[params, false, (key) => head.settings[key]]] };
  for (const { stage } of allStages(chain.stages)) {
    const definition = known.of(stage);
    const live = definition.runs === 'live';
    const owner = () => stage.name || definition.title;
    const of = 'stage';
    const rows: Owner['rows'][number][] = [
      [definition.params, live, (key) => stage.settings[key]],
      [STAGE_PARAMS, live, (key) => stage[key as 'mix']],
    ];
    if (!('on' in definition.params)) rows.push([STAGE_SWITCH, false, () => stage.on]);
    yield { id: stage.id, of, owner, rows };
    for (const branch of stage.branches ?? [])
      yield {
        id: branch.id,
        of: 'branch',
        owner: () => `${owner()} ${branchName(known, stage, branch)}`,
        rows: [[BRANCH_PARAMS, live, (key) => branch[key as 'level']]],
      };
  }
  for (const modulator of chain.modulators)
    yield {
      id: modulator.id,
      of: 'modulator',
      owner: () => modulatorTitle(modulator),
      rows: [[modulatorOf(modulator.kind).params, true, (key) => modulator.settings[key]]],
    };
}

function targetIn({ id, of, owner, rows }: Owner, key: string): Target | undefined {
  const row = rows.find(([params]) => key in params);
  if (!row) return undefined;
  const [params, live, valueOf] = row;
  const param = params[key];
  const movable = live && (isScaled(param) || param.type === 'toggle') && param.fixed !== true;
  return {
    target: `${id}.${key}`,
    id,
    key,
    of,
    owner: owner(),
    label: labelOf(key, param),
    param,
    value: valueOf(key),
    movable,
  };
}

/** Every setting of a chain that something else can name. */
export function targetsOf(catalogue: Catalogue, chain: ChainDocument): Target[] {
  return [...ownersOf(catalogue, chain)].flatMap((owner) =>
    owner.rows.flatMap(([params]) => Object.keys(params).map((key) => targetIn(owner, key) as Target)),
  );
}

/** Who has settings in a chain, by id. */
const ownersIn = remembered(
  (chain: ChainDocument, catalogue: Catalogue) =>
    new Map([...ownersOf(catalogue, chain)].map((owner) => [owner.id, owner])),
);

/** The setting that a target names; undefined when there is none. */
export function findTarget(catalogue: Catalogue, chain: ChainDocument, target: string): Target | undefined {
  const { id, key } = splitTarget(target);
  const owner = ownersIn(chain, catalogue).get(id);
  return owner && targetIn(owner, key);
}

/** That there is no such setting, and which there are instead. */
export function noSuchSetting(catalogue: Catalogue, chain: ChainDocument, target: string): string {
  const { id } = splitTarget(target);
  const owners = [...ownersOf(catalogue, chain)];
  const owner = owners.find((candidate) => candidate.id === id);
  const instead = owner
    ? `"${id}" (${owner.owner()}) has ${owner.rows.flatMap(([params]) => Object.keys(params)).join(', ')}`
    : `there are settings of ${owners.map((candidate) => candidate.id).join(', ') || 'nothing yet'}`;
  return `there is no setting "${target}"; ${instead}`;
}

/** The chain with one setting changed, whatever it belongs to. */
export function withSetting(
  catalogue: Catalogue,
  chain: ChainDocument,
  target: string,
  value: SettingValue,
): ChainDocument {
  const { id, key } = splitTarget(target);
  if (id === HEAD_ID) return { ...chain, head: { ...chain.head, settings: { ...chain.head.settings, [key]: value } } };
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
    key in catalogue.for(chain).of(before).params
      ? { ...before, settings: { ...before.settings, [key]: value } }
      : { ...before, [key]: value },
  );
}

/** The chain without what names settings, modulators or controls that are not there any more. */
export function withoutDangling(catalogue: Catalogue, chain: ChainDocument): ChainDocument {
  const there = (target: string) => findTarget(catalogue, chain, target) !== undefined;
  const movable = (target: string) => findTarget(catalogue, chain, target)?.movable === true;
  const sources = new Set([...chain.modulators, ...chain.panel].map(({ id }) => id));
  const kept = <T>(list: readonly T[], holds: (entry: T) => boolean) => (list.every(holds) ? list : list.filter(holds));
  return {
    ...chain,
    panel: mapShared(chain.panel, (control) => {
      const drives = kept(control.drives, ({ target }) => there(target));
      return drives === control.drives ? control : { ...control, drives };
    }),
    routes: kept(chain.routes, ({ from, to }) => sources.has(from) && movable(to)),
    lanes: kept(chain.lanes, ({ target }) => movable(target)),
    locked: kept(chain.locked, there),
  };
}
