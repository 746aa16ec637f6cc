import { createContext, useContext } from 'react';
import { chainFor, type ChainDocument } from '@hexenkessel/core/chain';
import type { Sound } from '@hexenkessel/core/protocol';
import { useAppSelector, type RootState } from '../app/store.ts';

/** The sound that the chain is seen and heard on. */
export const BenchSoundContext = createContext<Sound | undefined>(undefined);

export function useShownSound(): Sound {
  const sound = useContext(BenchSoundContext);
  if (!sound) throw new Error('There is no sound around.');
  return sound;
}

/** The chain as it is seen and heard: what is tried out stands in its place, a sound may bring its tempo. */
export function shownChain({ chain, playback }: RootState, sound: Sound | undefined): ChainDocument {
  return chainFor(playback.audition?.document ?? chain.present.document, sound);
}

/** Something of the chain as it is seen and heard; rendered again only when it is another one. */
export function useShown<S>(select: (chain: ChainDocument) => S, isEqual?: (a: S, b: S) => boolean): S {
  const sound = useContext(BenchSoundContext);
  return useAppSelector((state) => select(shownChain(state, sound)), isEqual);
}
