import type { RouterContext } from '@koa/router';
import type { Knex } from 'knex';
import { InputError } from '@hexenkessel/core/model';
import * as z from 'zod';

/** Entries of a page where nobody says, and the most that may be asked for. */
const PAGE = 100;
const MOST = 500;

/** A list that is read page by page. */
export interface Page<T> {
  readonly items: T[];
  /** How many there are on all pages. */
  readonly total: number;
  /** What the next page is asked for with; null: this is the last. */
  readonly next: string | null;
}

/** What is asked of a list: which page of it, in which order, and what shall be in it. */
export interface PageQuery<S extends string> {
  readonly limit: number;
  readonly after?: string | undefined;
  readonly sort?: S | `-${S}` | undefined;
  readonly find?: string | undefined;
}

/** The query of a route that gives a list, which may be sorted by any of `sorts`. */
export function pageQuery<S extends string>(sorts: readonly [S, ...S[]]) {
  const orders = sorts.flatMap((sort): (S | `-${S}`)[] => [sort, `-${sort}`]);
  return z.object({
    limit: z.coerce.number().int().min(1).max(MOST).default(PAGE),
    after: z.string().max(2000).optional().describe('Where the page begins, from the Link header of the one before.'),
    sort: z
      .enum(orders as [S | `-${S}`])
      .optional()
      .describe('With a minus: from the last to the first.'),
    find: z.string().max(200).optional().describe('Words that are all found in an entry.'),
  });
}

/** Only these, by their ids with commas between; in an address there is room for so many. */
export const idList = () =>
  z
    .string()
    .transform((text) => text.split(',').filter(Boolean))
    .pipe(z.array(z.string().max(80)).max(MOST))
    .optional()
    .describe(`Only these: at most ${MOST} ids with commas between.`);

/** The words of a text in lower case, by which it is found. */
export const wordsOf = (text: string): string[] =>
  text
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean);

/**
 * Reads a page of a query. `by`: an expression that is never null; what is equal by it is in the order of `id`. It goes by
 * the last entry's key and not by a count, so that what comes or goes meanwhile moves nothing.
 */
export async function readPage<R extends object>(
  query: Knex.QueryBuilder,
  { by, id, desc }: { readonly by: string; readonly id: string; readonly desc: boolean },
  { after, limit }: { readonly after?: string | undefined; readonly limit: number },
): Promise<Page<R>> {
  const counted = (await query.clone().clearSelect().count({ n: '*' })) as { n: number }[];
  const direction = desc ? 'desc' : 'asc';
  const page = query
    .clone()
    .select({ page_key: query.client.raw(by) as Knex.Raw, page_id: id })
    .orderByRaw(`${by} ${direction}, ${id} ${direction}`)
    .limit(limit + 1);
  if (after !== undefined) page.whereRaw(`(${by}, ${id}) ${desc ? '<' : '>'} (?, ?)`, readKey(after));
  const rows = (await page) as (R & { readonly page_key: unknown; readonly page_id: string })[];
  const items = rows.slice(0, limit);
  const last = items.at(-1);
  const more = rows.length > limit && last !== undefined;
  return { items, total: Number(counted[0].n), next: more ? printKey([last.page_key, last.page_id]) : null };
}

const printKey = (key: readonly unknown[]) => Buffer.from(JSON.stringify(key)).toString('base64url');

function readKey(text: string): [string | number, string] {
  try {
    const key: unknown = JSON.parse(Buffer.from(text, 'base64url').toString());
    return z.tuple([z.union([z.string(), z.number()]), z.string()]).parse(key);
  } catch {
    throw new InputError(
      `"${text}" is no place in this list; the one of the Link header of the page before is allowed.`,
    );
  }
}

/** Answers with the entries; how many there are and where it goes on stands in the headers (RFC 8288). */
export function answerPage<T>(context: RouterContext, { items, total, next }: Page<T>): T[] {
  context.set('X-Total-Count', String(total));
  if (next !== null) {
    const query = new URLSearchParams({ ...(context.query as Record<string, string>), after: next });
    context.set('Link', `<${context.path}?${query.toString()}>; rel="next"`);
  }
  return items;
}
