import { timingSafeEqual, createHash } from 'node:crypto';
import { setTimeout as wait } from 'node:timers/promises';
import { isIP } from 'node:net';
import type { Middleware } from 'koa';
import type { Config } from '../config.ts';
import { Problem } from './problem.ts';

const LOCAL_NAMES = new Set(['127.0.0.1', 'localhost', '[::1]']);
const COOKIE = 'hexenkessel-token';

type Options = Pick<Config, 'host' | 'token' | 'names' | 'proxy' | 'tls'>;

/**
 * Refuses requests that a foreign page or a rebound host name makes in a user's browser, and, where a token is set,
 * those without it. Away from this machine the page needs a secure context; without one it is told so.
 */
export function guard(options: Options): Middleware {
  const slowing = { wrong: 0 };
  return async (context, next) => {
    const host = ((options.proxy && context.get('x-forwarded-host')) || context.get('host')).toLowerCase();
    const named = hostName(host);
    const local = LOCAL_NAMES.has(named);
    if (!local && !isOwn(named, options)) throw new Problem(403, `Requests for the host "${named}" are not answered.`);
    const origin = context.get('origin');
    if (origin === 'null') throw new Problem(403, 'Requests from pages without an origin are not answered.');
    if (origin !== '' && hostOf(origin) !== host)
      throw new Problem(403, `Requests from pages of ${origin} are not answered.`);
    const secure =
      options.tls !== undefined || (options.proxy && context.get('x-forwarded-proto').toLowerCase() === 'https');
    if (!secure && !local && context.method === 'GET' && !context.path.startsWith('/api/')) {
      context.status = 403;
      context.type = 'text/html';
      context.body = NEEDS_TLS;
      return;
    }
    if (options.token !== undefined && (await admit(context, { token: options.token, secure, slowing })) === 'sent on')
      return;
    await next();
  };
}

const NEEDS_TLS = `<!doctype html>
<html lang="en">
<title>Hexenkessel needs HTTPS</title>
<h1>Hexenkessel needs HTTPS here</h1>
<p>Browsers play and render sound only on this machine itself or over HTTPS. Whoever runs the server sets HEXENKESSEL_CERT and
HEXENKESSEL_KEY, or puts a proxy with TLS before it and sets HEXENKESSEL_PROXY=1; docs/operating.md says how.</p>
</html>
`;

function isOwn(named: string, { host, names }: Options): boolean {
  if (named === host || names.some((name) => named === name || named.endsWith(`.${name}`))) return true;
  // Listening everywhere, it is reached by each address of this machine.
  return EVERYWHERE.has(host) && isIP(named.replace(/^\[|\]$/g, '')) !== 0;
}

const EVERYWHERE = new Set(['0.0.0.0', '::']);

/** undefined for what is no origin. */
function hostOf(origin: string): string | undefined {
  return URL.canParse(origin) ? new URL(origin).host : undefined;
}

/** Without the port, and without the point that a name may end with. */
function hostName(host: string): string {
  return host.replace(/:\d+$/, '').replace(/\.$/, '');
}

/** Milliseconds by which each wrong token in a row is answered later than the one before, and the most. */
const SLOWER = 100;
const SLOWEST = 5000;

interface Admission {
  readonly token: string;
  readonly secure: boolean;
  readonly slowing: { wrong: number };
}

/**
 * A token in the address becomes a cookie, so that the page can be opened once with `/?token=…`, and leaves the address. Who
 * guesses waits longer each time; who has it never does.
 */
async function admit(
  context: Parameters<Middleware>[0],
  { token, secure, slowing }: Admission,
): Promise<'in' | 'sent on'> {
  const { token: asked, ...query } = context.query;
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
  if (asked === undefined) return 'in';
  context.cookies.secure = secure;
  context.cookies.set(COOKIE, token, { httpOnly: true, sameSite: 'strict', secure });
  if (context.method !== 'GET') return 'in';
  context.query = query;
  context.redirect(context.url);
  return 'sent on';
}

/** Compares in constant time; hashing makes the lengths equal. */
function sameText(a: string, b: string): boolean {
  const digest = (text: string) => createHash('sha256').update(text).digest();
  return timingSafeEqual(digest(a), digest(b));
}
