import type { Middleware } from 'koa';
import type { Logger } from 'pino';
import { InputError } from '@hexenkessel/core/model';
import * as z from 'zod';
import { DiskFull, isDiskFull } from '../store/diskFull.ts';

/** An answer other than success, as RFC 9457 describes it; `extra` joins the body. */
export class Problem extends Error {
  readonly status: number;
  readonly extra: Readonly<Record<string, unknown>>;

  constructor(status: number, detail: string, extra: Readonly<Record<string, unknown>> = {}) {
    super(detail);
    this.status = status;
    this.extra = extra;
  }
}

export const problemSchema = z.object({
  type: z.literal('about:blank'),
  title: z.string(),
  status: z.number().int(),
  detail: z.string(),
  faults: z.array(z.string()).optional(),
});

const TITLES: Readonly<Record<number, string>> = {
  400: 'The request cannot be read',
  401: 'A token is needed',
  403: 'Not from here',
  404: 'Not found',
  405: 'Not possible here',
  409: 'Changed in another window',
  413: 'Too large',
  415: 'Sent as something else',
  422: 'Not allowed',
  429: 'Too much at once',
  500: 'Something went wrong',
  507: 'No room left',
};

/** Turns whatever is thrown into problem+json. What is not meant for users is logged and not shown. */
export function answerProblems(log: Logger): Middleware {
  return async (context, next) => {
    try {
      await next();
      if (context.respond !== false && context.body == null) {
        if (context.status === 404) throw new Problem(404, `There is nothing at ${context.path}.`);
        // The router has said in `Allow` which are.
        if (context.status === 405 || context.status === 501)
          throw new Problem(
            405,
            `${context.method} is not allowed at ${context.path}; allowed is ${context.response.get('allow')}.`,
          );
      }
    } catch (error) {
      const { status, detail, extra } = describe(error);
      if (status >= 500 && status !== 507)
        log.error({ err: error, request: context.state['requestId'] }, 'request failed');
      context.status = status;
      context.body = { type: 'about:blank', title: TITLES[status] ?? 'Refused', status, detail, ...extra };
      context.type = 'application/problem+json';
    }
  };
}

function describe(error: unknown): { status: number; detail: string; extra: Readonly<Record<string, unknown>> } {
  if (error instanceof Problem) return { status: error.status, detail: error.message, extra: error.extra };
  if (error instanceof InputError) return { status: 422, detail: error.message, extra: { faults: error.faults } };
  if (error instanceof z.ZodError) {
    const faults = error.issues.map((issue) => `${issue.path.join('.') || 'request'}: ${issue.message}`);
    return { status: 422, detail: faults.join('; '), extra: { faults } };
  }
  const status = (error as { status?: unknown }).status;
  if (status === 413)
    return { status, detail: 'The request body is larger than the 2 MiB that are allowed here.', extra: {} };
  if (status === 415)
    return {
      status,
      detail: 'The body is packed in a way that is not read here; gzip, deflate and br are.',
      extra: {},
    };
  if (status === 400 || isBadPacking(error)) return { status: 400, detail: 'The request body is not JSON.', extra: {} };
  if (isDiskFull(error)) {
    const { message } = error instanceof DiskFull ? error : new DiskFull();
    return { status: 507, detail: message, extra: {} };
  }
  return { status: 500, detail: 'The server could not do this; its log says why.', extra: {} };
}

/** What the unpacking of a body says that is not packed as it was said to be. */
const isBadPacking = (error: unknown) =>
  /^Z_|^ERR__ERROR_FORMAT|^ERR_BROTLI/.test(String((error as { code?: unknown }).code));
