import type Router from '@koa/router';
import type { RouterContext } from '@koa/router';
import * as z from 'zod';

export interface Call<P, Q, B> {
  readonly params: P;
  readonly query: Q;
  readonly body: B;
  readonly context: RouterContext;
}

/** An answer that is not JSON. */
export interface AnsweredFile {
  readonly types: readonly string[];
  readonly description: string;
  /** True: it has an ETag, and a part of it can be asked for. */
  readonly inParts?: boolean;
}

/** One operation of the interface: its schemas check what comes in and describe it in the OpenAPI document. */
export interface Route {
  readonly method: 'get' | 'post' | 'put' | 'patch' | 'delete';
  /** With parameters in braces: `/sounds/{id}`. */
  readonly path: string;
  readonly summary: string;
  /** What the operation goes by in the OpenAPI document: a verb and what it is done to. */
  readonly id: string;
  /** Media types of a body that is a file. */
  readonly upload?: readonly string[];
  /** What is answered where that is not JSON. */
  readonly file?: AnsweredFile;
  readonly params?: z.ZodType;
  readonly query?: z.ZodType;
  readonly body?: z.ZodType;
  /** What is answered as JSON; undefined for nothing, or a file. */
  readonly response?: z.ZodType;
  readonly status: number;
  /** Gives the body; `undefined` when it has answered by itself. */
  readonly handle: (call: Call<never, never, never>) => Promise<unknown>;
}

type Parsed<T> = T extends z.ZodType ? z.output<T> : undefined;

/** Declares a route with the types of its schemas flowing into its handler. */
export function route<
  P extends z.ZodType | undefined = undefined,
  Q extends z.ZodType | undefined = undefined,
  B extends z.ZodType | undefined = undefined,
>(
  declaration: Omit<Route, 'params' | 'query' | 'body' | 'status' | 'handle'> & {
    params?: P;
    query?: Q;
    body?: B;
    status?: number;
    handle: (call: Call<Parsed<P>, Parsed<Q>, Parsed<B>>) => Promise<unknown>;
  },
): Route {
  return { status: 200, ...declaration } as unknown as Route;
}

export function mountRoutes(router: Router, routes: readonly Route[]): void {
  for (const { method, path, params, query, body, status, handle } of routes) {
    router[method](`/api${path.replace(/\{(\w+)\}/g, ':$1')}`, async (context) => {
      const call = {
        params: params?.parse(context.params),
        query: query?.parse(context.query),
        body: body?.parse((context.request as { body?: unknown }).body),
        context,
      };
      const answer = await handle(call as Call<never, never, never>);
      if (answer === undefined) return;
      context.status = status;
      context.body = answer;
    });
  }
}
