import type { FetchBaseQueryMeta } from '@reduxjs/toolkit/query/react';

/** Which list is asked for: sorted by what, with which words in it. */
export interface ListAsked {
  readonly sort?: string;
  readonly find?: string;
  readonly kind?: string;
  readonly readable?: true;
  readonly limit?: number;
}

/** One page of a list. */
export interface ListPage<T> {
  readonly items: readonly T[];
  /** Entries on all pages. */
  readonly total: number;
  /** What the next one is asked for with; null: it is the last. */
  readonly next: string | null;
}

/** All of a list, in its own order. */
export const ALL: ListAsked = { sort: '', find: '' };
/** What stands on the first page: some sources to begin with, and the chains one worked on last. */
export const START_SOUNDS: ListAsked = { kind: 'source', limit: 40 };
export const START_CHAINS: ListAsked = { readable: true, limit: 8 };

/** Entries that come at once. */
const PAGE = 200;

/** How a list of the server is asked for page by page; it says where the next one begins in a header (RFC 8288). */
export function pagesOf<T>(url: string) {
  return {
    infiniteQueryOptions: {
      initialPageParam: null as string | null,
      getNextPageParam: ({ next }: ListPage<T>) => next ?? undefined,
    },
    query: ({ queryArg, pageParam }: { readonly queryArg: ListAsked; readonly pageParam: string | null }) => ({
      url,
      params: { limit: PAGE, ...given(queryArg), ...(pageParam === null ? {} : { after: pageParam }) },
    }),
    transformResponse: (items: T[], meta: FetchBaseQueryMeta | undefined): ListPage<T> => {
      const headers = meta?.response?.headers;
      const link = /<([^>]*)>; rel="next"/.exec(headers?.get('link') ?? '')?.[1];
      return {
        items,
        total: Number(headers?.get('x-total-count') ?? items.length),
        next: link === undefined ? null : new URL(link, location.origin).searchParams.get('after'),
      };
    },
  };
}

/** What is empty is not asked for. */
const given = (asked: ListAsked) => Object.fromEntries(Object.entries(asked).filter(([, value]) => value !== ''));
