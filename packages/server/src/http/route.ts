import { bodyParser } from '@koa/bodyparser';
import type Router from '@koa/router';
import type { RouterContext, RouterMiddleware } from '@koa/router';
import * as z from 'zod';
import { Problem } from './problem.ts';

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
  /** True where it is a page of a list: its headers say how many there are and where it goes on. */
  readonly paged?: boolean;
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

const parseJson = bodyParser({ enableTypes: ['json'], jsonLimit: '2mb' }) as RouterMiddleware;

/** A body is read as what the route takes, and as nothing else; 415 says what that is. */
const bodyOf = ({ body, upload }: Route): RouterMiddleware => {
  return async (context, next) => {
    const given = context.get('content-type').split(';')[0];
    if (body) {
      if (given !== '' && !context.is('json', '+json'))
        throw new Problem(415, `The body was sent as ${given}; JSON is needed here, sent as application/json.`);
      await parseJson(context, next);
      return;
    }
    if (upload && context.is('json', '+json', 'multipart/*', 'urlencoded'))
      throw new Problem(
        415,
        `The body was sent as ${given}; the file itself is needed here, sent as ${upload.slice(0, -1).join(', ')} or ${upload.at(-1)}.`,
      );
    await next();
  };
};

export function mountRoutes(router: Router, routes: readonly Route[]): void {
  for (const one of routes) {
    const { method, path, params, query, body, status, handle } = one;
    router[method](`/api${path.replace(/\{(\w+)\}/g, ':$1')}`, bodyOf(one), async (context) => {
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
