import type { Catalogue } from '../../catalogue/catalogue.ts';
import type { Curve } from '../../modulation/curve.ts';
import { firstLane, withLane } from '../movement.ts';
import type { ChainEdit } from './chainEdit.ts';
import { labelIn, targetIn } from './names.ts';

/** A lane that says what the setting says already. InputError for a setting that cannot be moved. */
export function automate(catalogue: Catalogue, target: string): ChainEdit {
  return {
    name: (before) => `automate ${labelIn(catalogue, before, target)}`,
    change: (before) => withLane(before, target, firstLane(catalogue, before, target)),
  };
}

/** Another curve; `what` was done to it: a shape, grid, “lane from drums.csv”. */
export function changeLane(catalogue: Catalogue, target: string, what: string, curve: Curve): ChainEdit {
  return {
    name: (before) => `${what} of ${targetIn(catalogue, before, target)}`,
    change: (before) => withLane(before, target, curve),
  };
}

export function switchLane(catalogue: Catalogue, target: string, on: boolean): ChainEdit {
  return {
    name: (before) => `lane of ${targetIn(catalogue, before, target)} ${on ? 'on' : 'off'}`,
    change: (before) => ({
      ...before,
      lanes: before.lanes.map((lane) => (lane.target === target ? { ...lane, on } : lane)),
    }),
  };
}

export function removeLane(catalogue: Catalogue, target: string): ChainEdit {
  return {
    name: (before) => `no lane of ${targetIn(catalogue, before, target)}`,
    change: (before) => ({ ...before, lanes: before.lanes.filter((lane) => lane.target !== target) }),
  };
}
