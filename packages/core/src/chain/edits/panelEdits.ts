import type { Catalogue } from '../../catalogue/catalogue.ts';
import { changeDriven, reshapeControl } from '../controlShape.ts';
import type { ControlDocument, Driven } from '../movementSchema.ts';
import * as panel from '../panel.ts';
import type { ChainDocument } from '../schema.ts';
import type { ChainEdit } from './chainEdit.ts';
import { labelIn, partName } from './names.ts';

const NAMES = { bend: 'curve', labels: 'words' } as const;

const nameIn = (chain: ChainDocument, id: string) => chain.panel.find((control) => control.id === id)?.name ?? id;

/** Pins a setting to a control, or to a new one. */
export function pin(catalogue: Catalogue, target: string, control?: string): ChainEdit {
  return {
    name: (before) =>
      `pin ${labelIn(catalogue, before, target)}${control === undefined ? '' : ` to ${nameIn(before, control)}`}`,
    change: (before) => panel.pinSetting(catalogue, before, target, control),
  };
}

export function unpin(catalogue: Catalogue, target: string): ChainEdit {
  return {
    name: (before) => `unpin ${labelIn(catalogue, before, target)}`,
    change: (before) => panel.unpinSetting(before, target),
  };
}

export function turnControl(catalogue: Catalogue, id: string, value: number): ChainEdit {
  return {
    name: (before) => nameIn(before, id),
    change: (before) => panel.turnControl(catalogue, before, id, value),
  };
}

/** How a control is made, but for the ends of its scale. */
export function changeControl(catalogue: Catalogue, id: string, part: Partial<ControlDocument>): ChainEdit {
  return {
    name: (before) => `${partName<ControlDocument>(NAMES, part)} of ${nameIn(before, id)}`,
    change: (before) => panel.changeControl(catalogue, before, id, (control) => ({ ...control, ...part })),
  };
}

/** The ends, steps and spread of its scale: what it drives stays where it is, as far as it is still reached. */
export function changeScale(
  catalogue: Catalogue,
  id: string,
  part: Partial<Pick<ControlDocument, 'min' | 'max' | 'step' | 'bend'>>,
): ChainEdit {
  return {
    name: (before) => `${partName<ControlDocument>(NAMES, part)} of ${nameIn(before, id)}`,
    change: (before) => reshapeControl(catalogue, before, id, part),
  };
}

/** From where to where a control drives a setting. */
export function changeReach(catalogue: Catalogue, id: string, target: string, part: Partial<Driven>): ChainEdit {
  return {
    name: (before) => `${nameIn(before, id)} over ${labelIn(catalogue, before, target)}`,
    change: (before) => changeDriven(catalogue, before, id, target, part),
  };
}

export function moveControl(id: string, by: -1 | 1): ChainEdit {
  return {
    name: (before) => `move ${nameIn(before, id)}`,
    change: (before) => {
      const index = before.panel.findIndex((control) => control.id === id);
      const to = index + by;
      if (index < 0 || to < 0 || to >= before.panel.length) return before;
      return { ...before, panel: before.panel.toSpliced(index, 1).toSpliced(to, 0, before.panel[index]) };
    },
  };
}

export function removeControl(id: string): ChainEdit {
  return {
    name: (before) => `remove ${nameIn(before, id)} from the panel`,
    change: (before) => ({ ...before, panel: before.panel.filter((control) => control.id !== id) }),
  };
}
