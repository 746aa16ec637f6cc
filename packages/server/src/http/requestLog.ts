import type { Middleware } from 'koa';
import type { Logger } from 'pino';
import { newId } from '../database/identity.ts';

/**
 * Notes each request under an id of its own, which its answer carries as `X-Request-Id`. What is asked for behind the path –
 * names, a token – is not noted.
 */
export function requestLog(log: Logger): Middleware {
  return async (context, next) => {
    const id = newId();
    const { method, path } = context;
    const begun = performance.now();
    context.state['requestId'] = id;
    context.set('X-Request-Id', id);
    await next();
    log.info(
      { request: id, method, path, status: context.status, ms: Math.round(performance.now() - begun) },
      'request',
    );
  };
}
