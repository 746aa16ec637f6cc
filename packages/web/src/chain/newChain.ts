/** What a chain is before anything is done to it. */
import { BUILT_INS } from '@hexenkessel/core/stages';
import { emptyChain, stageTitle, type ChainDocument } from '@hexenkessel/core/chain';

/** What a chain is called until it is asked for its name. */
const UNNAMED = 'New chain';

export const newDocument = (): ChainDocument => emptyChain(BUILT_INS, UNNAMED);

export const isUnnamed = ({ name }: Pick<ChainDocument, 'name'>): boolean => name === UNNAMED;

const LONGEST_NAME = 80;

/** A name to begin with: what it does, stage by stage. */
export function suggestedName(document: ChainDocument): string {
  const catalogue = BUILT_INS.for(document);
  const titles = document.stages.map((stage) => stageTitle(catalogue, stage));
  return titles.join(', ').slice(0, LONGEST_NAME) || UNNAMED;
}
