import type { Catalogue } from '../../catalogue/catalogue.ts';
import * as branches from '../branches.ts';
import type { BranchDocument } from '../schema.ts';
import type { ChainEdit } from './chainEdit.ts';
import { partName } from './names.ts';

const NAMES = { muted: 'mute', inverted: 'polarity', level: 'level', pan: 'place' } as const;

export function addBranch(catalogue: Catalogue, stageId: string): ChainEdit {
  return { name: () => 'add a branch', change: (before) => branches.addBranch(catalogue, before, stageId) };
}

export function changeBranch(catalogue: Catalogue, id: string, part: Partial<BranchDocument>): ChainEdit {
  return {
    name: (before) => `${partName(NAMES, part)} of ${branches.branchTitle(catalogue, before, id)}`,
    change: (before) => branches.changeBranch(before, id, (branch) => ({ ...branch, ...part })),
  };
}

export function removeBranch(catalogue: Catalogue, id: string): ChainEdit {
  return {
    name: (before) => `remove ${branches.branchTitle(catalogue, before, id)}`,
    change: (before) => branches.removeBranch(before, id),
  };
}
