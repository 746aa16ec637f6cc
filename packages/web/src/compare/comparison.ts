import { createContext, useContext } from 'react';
import type { BlindPair } from './BlindDialog.tsx';
import type { Compared } from './useCompare.ts';

/** What the chain is compared with. */
export interface Comparison {
  readonly compared: Compared;
  /** Two unnamed things that are compared at the moment. */
  readonly blind: BlindPair | undefined;
  readonly setBlind: (pair: BlindPair | undefined) => void;
  /** Both unnamed things can be heard, at the same loudness. */
  readonly blindReady: boolean;
}

export const ComparisonContext = createContext<Comparison | undefined>(undefined);

export function useComparison(): Comparison {
  const comparison = useContext(ComparisonContext);
  if (!comparison) throw new Error('Nothing is compared around.');
  return comparison;
}
