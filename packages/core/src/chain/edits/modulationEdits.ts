import type { Catalogue } from '../../catalogue/catalogue.ts';
import { modulatorOf } from '../../modulation/modulators/index.ts';
import * as movement from '../movement.ts';
import type { Route } from '../movementSchema.ts';
import type { ChainDocument } from '../schema.ts';
import { modulatorTitle } from '../targets.ts';
import type { ChainEdit } from './chainEdit.ts';
import { labelIn, partName, targetIn } from './names.ts';

const ROUTE_NAMES = { bend: 'curve', on: 'switch' } as const;

/** What a modulator or a control is called. */
function sourceIn(chain: ChainDocument, id: string): string {
  const modulator = chain.modulators.find((one) => one.id === id);
  return modulator ? modulatorTitle(modulator) : (chain.panel.find((one) => one.id === id)?.name ?? id);
}

/** A new modulator, moving a setting where one is given. */
export function addModulator(catalogue: Catalogue, kind: string, target?: string): ChainEdit {
  const { title } = modulatorOf(kind);
  return {
    name: (before) =>
      target === undefined ? `add ${title}` : `modulate ${labelIn(catalogue, before, target)} by a new ${title}`,
    change: (before) => movement.addModulator(catalogue, before, kind, target),
  };
}

/** A setting moved by a modulator or a control that is there. */
export function modulate(catalogue: Catalogue, target: string, from: string): ChainEdit {
  return {
    name: (before) => `modulate ${labelIn(catalogue, before, target)} by ${sourceIn(before, from)}`,
    change: (before) => movement.addRoute(catalogue, before, from, target),
  };
}

export function nameModulator(id: string, name: string): ChainEdit {
  return {
    name: ({ modulators }) => {
      const kind = modulators.find((one) => one.id === id)?.kind;
      return `name of ${kind === undefined ? id : modulatorOf(kind).title}`;
    },
    change: (before) => movement.changeModulator(before, id, (one) => ({ ...one, name })),
  };
}

export function switchModulator(id: string, on: boolean): ChainEdit {
  return {
    name: (before) => `${sourceIn(before, id)} ${on ? 'on' : 'off'}`,
    change: (before) => movement.changeModulator(before, id, (one) => ({ ...one, on })),
  };
}

export function removeModulator(id: string): ChainEdit {
  return {
    name: (before) => `remove ${sourceIn(before, id)}`,
    change: (before) => movement.removeModulator(before, id),
  };
}

function routeIn(catalogue: Catalogue, chain: ChainDocument, id: string): readonly [from: string, to: string] {
  const route = chain.routes.find((one) => one.id === id);
  if (!route) return [id, id];
  return [sourceIn(chain, route.from), targetIn(catalogue, chain, route.to)];
}

export function changeRoute(catalogue: Catalogue, id: string, part: Partial<Route>): ChainEdit {
  return {
    name: (before) => `${partName<Route>(ROUTE_NAMES, part)} of ${routeIn(catalogue, before, id).join(' on ')}`,
    change: (before) => movement.changeRoute(before, id, (route) => ({ ...route, ...part })),
  };
}

export function removeRoute(catalogue: Catalogue, id: string): ChainEdit {
  return {
    name: (before) => `remove route from ${routeIn(catalogue, before, id).join(' to ')}`,
    change: (before) => ({ ...before, routes: before.routes.filter((route) => route.id !== id) }),
  };
}
