import { InputError, sameValue } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { checkEdit, withoutDangling, type ChainEdit } from '@hexenkessel/core/chain';
import { refuse } from '../app/refusals.ts';
import type { AppDispatch, RootState } from '../app/store.ts';
import { chainChanged } from './chainSlice.ts';

/**
 * Does one step on the chain. The result is checked first: what is not allowed is told and leaves the chain as it was.
 * Those of the same gesture become one. Gives true when it was done.
 */
export function edit({ name, change }: ChainEdit, gesture?: string) {
  return (dispatch: AppDispatch, getState: () => RootState): boolean => {
    const before = getState().chain.present.document;
    const step = name(before);
    try {
      const document = checkEdit(BUILT_INS, before, withoutDangling(BUILT_INS, change(before)));
      if (!sameValue(document, before)) dispatch(chainChanged({ document, step, gesture }));
      return true;
    } catch (error) {
      if (!(error instanceof InputError)) throw error;
      refuse(`Could not apply: ${step}`, error);
      return false;
    }
  };
}
