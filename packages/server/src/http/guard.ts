import { timingSafeEqual, createHash } from 'node:crypto';
import type { Middleware } from 'koa';
import { Problem } from './problem.ts';

const LOCAL_NAMES = new Set(['127.0.0.1', 'localhost', '[::1]']);
const COOKIE = 'hexenkessel-token';

/**
 * Refuses requests that a foreign page or a rebound host name makes in a user's browser, and, where a token is set,
 * those without it.
 */
export function guard(options: { host: string; token: string | undefined }): Middleware {
  return async (context, next) => {
    const named = hostName(context.get('host'));
    if (!LOCAL_NAMES.has(named) && named !== options.host)
      throw new Problem(403, `Requests for the host "${named}" are not answered.`);
    const origin = context.get('origin');
    if (origin !== '' && origin !== 'null' && new URL(origin).host !== context.get('host')) {
      throw new Problem(403, `Requests from pages of ${origin} are not answered.`);
    }
    if (origin === 'null') throw new Problem(403, 'Requests from pages without an origin are not answered.');
    if (options.token !== undefined) admit(context, options.token);
    await next();
  };
}

function hostName(host: string): string {
  return host.replace(/:\d+$/, '');
}

/** A token in the address becomes a cookie, so that the page can be opened once with `/?token=…`. */
function admit(context: Parameters<Middleware>[0], token: string): void {
  const asked = context.query['token'];
  const given =
    context.get('authorization').replace(/^Bearer /, '') ||
    context.cookies.get(COOKIE) ||
    (typeof asked === 'string' ? asked : '');
  if (!sameText(given, token))
    throw new Problem(401, 'Open the page once as /?token=…, or send the token as a bearer token.');
  if (asked !== undefined) context.cookies.set(COOKIE, token, { httpOnly: true, sameSite: 'strict' });
}

/** Compares in constant time; hashing makes the lengths equal. */
function sameText(a: string, b: string): boolean {
  const digest = (text: string) => createHash('sha256').update(text).digest();
  return timingSafeEqual(digest(a), digest(b));
}
