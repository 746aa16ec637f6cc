import { useCallback } from 'react';
import { useLocation, useSearchParams } from 'react-router';

/**
 * A text that stands in the address, so that going back, reloading and a link bring it along; the empty one does not stand
 * there. It replaces what is in the history.
 */
export function useKeptInAddress(key: string): readonly [string, (text: string) => void] {
  const [search, setSearch] = useSearchParams();
  const { state } = useLocation() as { readonly state: unknown };
  const change = useCallback(
    (text: string) => {
      setSearch(
        (before) => {
          if (text === '') before.delete(key);
          else before.set(key, text);
          return before;
        },
        { replace: true, state },
      );
    },
    [setSearch, key, state],
  );
  return [search.get(key) ?? '', change];
}
