import { timingSafeEqual, createHash } from 'node:crypto';
import { setTimeout as wait } from 'node:timers/promises';
import type { Middleware } from 'koa';
import { Problem } from './problem.ts';

const LOCAL_NAMES = new Set(['127.0.0.1', 'localhost', '[::1]']);
const COOKIE = 'hexenkessel-token';

/**
 * Refuses requests that a foreign page or a rebound host name makes in a user's browser, and, where a token is set,
 * those without it.
 */
export function guard(options: { host: string; token: string | undefined }): Middleware {
  const slowing = { wrong: 0 };
  return async (context, next) => {
    const named = hostName(context.get('host'));
    if (!LOCAL_NAMES.has(named) && named !== options.host)
      throw new Problem(403, `Requests for the host "${named}" are not answered.`);
    const origin = context.get('origin');
    if (origin === 'null') throw new Problem(403, 'Requests from pages without an origin are not answered.');
    if (origin !== '' && hostOf(origin) !== context.get('host'))
      throw new Problem(403, `Requests from pages of ${origin} are not answered.`);
    if (options.token !== undefined) await admit(context, options.token, slowing);
    await next();
  };
}

/** undefined for what is no origin. */
function hostOf(origin: string): string | undefined {
  return URL.canParse(origin) ? new URL(origin).host : undefined;
}

function hostName(host: string): string {
  return host.replace(/:\d+$/, '');
}

/** Milliseconds by which each wrong token in a row is answered later than the one before, and the most. */
const SLOWER = 100;
const SLOWEST = 5000;

/**
 * A token in the address becomes a cookie, so that the page can be opened once with `/?token=…`. Who guesses waits longer
 * each time; who has it never does.
 */
async function admit(context: Parameters<Middleware>[0], token: string, slowing: { wrong: number }): Promise<void> {
  const asked = context.query['token'];
  const given =
    context.get('authorization').replace(/^Bearer /, '') ||
    context.cookies.get(COOKIE) ||
    (typeof asked === 'string' ? asked : '');
  if (!sameText(given, token)) {
    // Without any there is nothing to guess by.
    if (given !== '') await wait(Math.min(SLOWEST, SLOWER * 2 ** Math.min(10, slowing.wrong++)));
    throw new Problem(401, 'Open the page once as /?token=…, or send the token as a bearer token.');
  }
  slowing.wrong = 0;
  if (asked !== undefined) context.cookies.set(COOKIE, token, { httpOnly: true, sameSite: 'strict' });
}

/** Compares in constant time; hashing makes the lengths equal. */
function sameText(a: string, b: string): boolean {
  const digest = (text: string) => createHash('sha256').update(text).digest();
  return timingSafeEqual(digest(a), digest(b));
}
