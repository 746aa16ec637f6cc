import type { ChainDocument } from '../schema.ts';

/** One step of work on a chain: what undo calls it, and what it does. Both look at the chain that it is done to. */
export interface ChainEdit {
  /** As in “Undo: remove Echo”. */
  readonly name: (before: ChainDocument) => string;
  /** Gives the chain itself where there is nothing to do. InputError for what cannot be done. */
  readonly change: (before: ChainDocument) => ChainDocument;
}

/** The chain taken over as a whole, under a name: a version, another window’s, a variation. */
export function replaceChain(name: string, chain: ChainDocument): ChainEdit {
  return { name: () => name, change: () => chain };
}
