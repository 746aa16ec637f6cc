/** What things are called in the names of steps. */
import type { Catalogue } from '../../catalogue/catalogue.ts';
import type { ChainDocument } from '../schema.ts';
import { findTarget } from '../targets.ts';

/** What the parts of something are called, by their keys: the first of those that are changed names the step. */
export function partName<T extends object>(
  names: Readonly<Partial<Record<keyof T, string>>>,
  part: Partial<T>,
): string {
  const [key] = Object.keys(part) as (keyof T)[];
  return names[key] ?? String(key);
}

/** What a setting is called, without its owner. */
export function labelIn(catalogue: Catalogue, chain: ChainDocument, target: string): string {
  return findTarget(catalogue, chain, target)?.label ?? target;
}

/** The same with its owner. */
export function targetIn(catalogue: Catalogue, chain: ChainDocument, target: string): string {
  const found = findTarget(catalogue, chain, target);
  return found ? `${found.owner}, ${found.label}` : target;
}
