/** Modulators, routes and lanes of a chain: adding, changing and taking them away. */
import { REFERENCE_RATE } from '../timing/tempo.ts';
import type { Catalogue } from '../catalogue/catalogue.ts';
import { isScaled, resolveSetting } from '../params/params.ts';
import { InputError } from '../model/errors.ts';
import type { Curve } from '../modulation/curve.ts';
import { modulatorOf } from '../modulation/modulators/index.ts';
import { freeId } from './branches.ts';
import { takenIds } from './panel.ts';
import type { ChainDocument, LaneDocument, ModulatorDocument, Route } from './schema.ts';
import { findTarget } from './targets.ts';

const FIRST_DEPTH = 0.25;

/** A modulator with its defaults and an id of its own. */
export function newModulator(chain: ChainDocument, kind: string): ModulatorDocument {
  const { params } = modulatorOf(kind);
  return {
    id: freeId(kind, takenIds(chain)),
    kind,
    name: '',
    on: true,
    note: '',
    settings: Object.fromEntries(Object.entries(params).map(([key, param]) => [key, param.default])),
  };
}

/** The chain with a modulator more, moving a setting where one is given. */
export function addModulator(catalogue: Catalogue, chain: ChainDocument, kind: string, target?: string): ChainDocument {
  const modulator = newModulator(chain, kind);
  const added = { ...chain, modulators: [...chain.modulators, modulator] };
  return target === undefined ? added : addRoute(catalogue, added, modulator.id, target);
}

/** The chain with a route more. InputError for a setting that cannot be moved. */
export function addRoute(catalogue: Catalogue, chain: ChainDocument, from: string, to: string): ChainDocument {
  const target = findTarget(catalogue, chain, to);
  if (!target?.movable)
    throw new InputError(
      `${target ? `${target.owner}, ${target.label}` : `"${to}"`} is fixed during playback and cannot be modulated.`,
    );
  const modulator = chain.modulators.find(({ id }) => id === from);
  const route: Route = {
    id: freeId('route', takenIds(chain)),
    from,
    to,
    on: true,
    depth: FIRST_DEPTH,
    polarity: modulator ? modulatorOf(modulator.kind).polarity : 'up',
    bend: 0,
    smoothing: 0,
  };
  return { ...chain, routes: [...chain.routes, route] };
}

export function changeModulator(
  chain: ChainDocument,
  id: string,
  change: (modulator: ModulatorDocument) => ModulatorDocument,
): ChainDocument {
  return { ...chain, modulators: chain.modulators.map((one) => (one.id === id ? change(one) : one)) };
}

/** The chain without a modulator, what it moves and what moves it. */
export function removeModulator(chain: ChainDocument, id: string): ChainDocument {
  const own = (target: string) => target.startsWith(`${id}.`);
  return {
    ...chain,
    modulators: chain.modulators.filter((one) => one.id !== id),
    routes: chain.routes.filter(({ from, to }) => from !== id && !own(to)),
    lanes: chain.lanes.filter(({ target }) => !own(target)),
    locked: chain.locked.filter((target) => !own(target)),
    panel: chain.panel.map((control) => ({
      ...control,
      drives: control.drives.filter(({ target }) => !own(target)),
    })),
  };
}

export function changeRoute(chain: ChainDocument, id: string, change: (route: Route) => Route): ChainDocument {
  return { ...chain, routes: chain.routes.map((one) => (one.id === id ? change(one) : one)) };
}

export function laneOf(chain: ChainDocument, target: string): LaneDocument | undefined {
  return chain.lanes.find((lane) => lane.target === target);
}

/** The chain with a lane's curve, the lane made if there is none. */
export function withLane(chain: ChainDocument, target: string, curve: Curve): ChainDocument {
  const lanes = laneOf(chain, target)
    ? chain.lanes.map((lane) => (lane.target === target ? { ...lane, curve } : lane))
    : [...chain.lanes, { target, on: true, curve }];
  return { ...chain, lanes };
}

/** A lane that says what the setting says already, over the clip. InputError for a setting that cannot be moved. */
export function firstLane(catalogue: Catalogue, chain: ChainDocument, target: string): Curve {
  const found = findTarget(catalogue, chain, target);
  if (!found?.movable)
    throw new InputError(
      `${found ? `${found.owner}, ${found.label}` : `"${target}"`} is fixed during playback and cannot be automated.`,
    );
  const value = isScaled(found.param)
    ? (resolveSetting(found.param, found.value, chain.timing, REFERENCE_RATE) as number)
    : Number(found.value);
  return {
    over: 'clip',
    points: [
      { at: 0, value, bend: 0 },
      { at: 1, value, bend: 0 },
    ],
  };
}
