/** Chains that are begun on the page: they come to be on the server with the first thing that is done to them. */
import { useNavigate } from 'react-router';
import { ulid } from 'ulid';
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

/** Goes to the Bench with an empty chain that only this page knows of. */
export function useBeginChain(): (soundId?: string) => void {
  const navigate = useNavigate();
  return (soundId) =>
    void navigate(`/bench/${ulid()}${soundId === undefined ? '' : `?sound=${soundId}`}`, { state: { begun: true } });
}

/** Whether the address was come to by beginning a chain. */
export function isBegun(state: unknown): boolean {
  return typeof state === 'object' && state !== null && 'begun' in state;
}
