import { useKeptInAddress } from './useKeptInAddress.ts';

/** By what a table can be sorted: what the server calls it, by the titles of columns. */
export type Sorts = Readonly<Record<string, string>>;

interface Order {
  /** The column that it is sorted by, and which way. */
  readonly by: { readonly title: string; readonly desc: boolean } | undefined;
  /** How the server is asked for it; empty: in its own order. */
  readonly asked: string;
  readonly sortBy: (title: string) => void;
}

/** The order of a table, which stands in the address. Sorted by the same column again, it is turned round. */
export function useOrder(sorts: Sorts): Order {
  const [kept, setKept] = useKeptInAddress('sort');
  const desc = kept.startsWith('-');
  const title = desc ? kept.slice(1) : kept;
  const by = Object.hasOwn(sorts, title) ? { title, desc } : undefined;
  return {
    by,
    asked: by ? `${desc ? '-' : ''}${sorts[title]}` : '',
    sortBy: (next) => setKept(by?.title === next && !by.desc ? `-${next}` : next),
  };
}
