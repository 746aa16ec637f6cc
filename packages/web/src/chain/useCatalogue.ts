import { BUILT_INS, type Catalogue } from '@hexenkessel/core/stages';
import { useAppSelector } from '../app/store.ts';

/** The stages that the chain on the Bench can name: those that are built in, and its own. */
export function useCatalogue(): Catalogue {
  return BUILT_INS.for({ scripts: useAppSelector((state) => state.chain.present.document.scripts) });
}
