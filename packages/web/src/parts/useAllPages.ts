import { useCallback, useMemo } from 'react';
import type { ListPage } from '../api/pages.ts';

/** A query that comes page by page. */
interface Paged<T> {
  readonly data?: { readonly pages: readonly ListPage<T>[] } | undefined;
  readonly error?: unknown;
  readonly isLoading: boolean;
  readonly isUninitialized?: boolean;
  readonly hasNextPage: boolean;
  readonly isFetching: boolean;
  readonly fetchNextPage: () => unknown;
  readonly refetch: () => unknown;
}

/** What has come of a list so far, how many there are of it, and the way to more. */
export function useAllPages<T>(query: Paged<T>) {
  const { data, error, isLoading, isUninitialized, hasNextPage, isFetching, fetchNextPage, refetch } = query;
  const whole = useMemo(
    () => data && { items: data.pages.flatMap(({ items }) => items), total: data.pages[0]?.total ?? 0 },
    [data],
  );
  const more = useCallback(() => {
    if (hasNextPage && !isFetching) fetchNextPage();
  }, [hasNextPage, isFetching, fetchNextPage]);
  return {
    data: whole,
    error,
    isLoading,
    isUninitialized: isUninitialized ?? false,
    refetch,
    more,
    hasMore: hasNextPage,
  };
}
