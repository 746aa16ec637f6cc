import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';

export interface Config {
  readonly host: string;
  readonly port: number;
  /** Folder of the database and the audio. */
  readonly dataFolder: string;
  /** Folder of the built interface; undefined: none is served. */
  readonly webFolder: string | undefined;
  /** Folder of scripts that others look after; undefined: none. */
  readonly favouritesFolder: string | undefined;
  /** Asked of every request when the server is reached from other machines. */
  readonly token: string | undefined;
  /** Names by which it is reached beside its address, in small letters; their subdomains count as them. */
  readonly names: readonly string[];
  /** True when a proxy stands before it, whose `X-Forwarded-…` are believed. */
  readonly proxy: boolean;
  /** PEM texts; undefined: plain HTTP. */
  readonly tls: { readonly cert: string; readonly key: string } | undefined;
}

const LOOPBACK = new Set(['127.0.0.1', '::1', 'localhost']);

/** HEXENKESSEL_DATA, or a folder of the project. */
export function dataFolderOf(environment: NodeJS.ProcessEnv, root: string): string {
  return resolve(environment['HEXENKESSEL_DATA'] ?? `${root}/data`);
}

/**
 * Reads HOST, PORT, HEXENKESSEL_DATA, HEXENKESSEL_TOKEN, HEXENKESSEL_NAMES, HEXENKESSEL_PROXY, HEXENKESSEL_CERT,
 * HEXENKESSEL_KEY and HEXENKESSEL_FAVOURITES. Throws when they do not fit together.
 */
export function readConfig(environment: NodeJS.ProcessEnv, root: string): Config {
  const favourites = environment['HEXENKESSEL_FAVOURITES'];
  const host = environment['HOST'] ?? '127.0.0.1';
  const port = Number(environment['PORT'] ?? 4666);
  if (!Number.isInteger(port) || port < 0 || port > 65535) {
    throw new Error(`PORT is "${environment['PORT']}"; allowed is a whole number from 0 to 65535.`);
  }
  const names = (environment['HEXENKESSEL_NAMES'] ?? '')
    .split(',')
    .map((name) => name.trim().toLowerCase().replace(/\.$/, ''))
    .filter(Boolean);
  const odd = names.find((name) => !/^[a-z0-9.-]+$/.test(name));
  if (odd !== undefined)
    throw new Error(
      `HEXENKESSEL_NAMES holds "${odd}"; allowed are host names with commas between them, without ports.`,
    );
  const proxy = oneOf(environment, 'HEXENKESSEL_PROXY', ['', '1']) === '1';
  // Who stands behind a proxy is reached from elsewhere, whatever it listens on.
  const reached = !LOOPBACK.has(host) || names.length > 0 || proxy;
  const token = environment['HEXENKESSEL_TOKEN'];
  if (reached && (token === undefined || token.length < 16)) {
    const why = LOOPBACK.has(host) ? 'HEXENKESSEL_NAMES or HEXENKESSEL_PROXY is set' : `HOST is ${host}`;
    throw new Error(
      `${why}, so that other machines can reach the server: set HEXENKESSEL_TOKEN to at least 16 characters.`,
    );
  }
  return {
    host,
    port,
    names,
    proxy,
    tls: readTls(environment),
    token: reached ? token : undefined,
    dataFolder: dataFolderOf(environment, root),
    favouritesFolder: favourites === undefined || favourites === '' ? undefined : resolve(favourites),
    webFolder: resolve(`${root}/packages/web/dist`),
  };
}

function oneOf(environment: NodeJS.ProcessEnv, key: string, allowed: readonly string[]): string {
  const value = environment[key] ?? '';
  if (allowed.includes(value)) return value;
  throw new Error(`${key} is "${value}"; allowed is ${allowed.filter(Boolean).join(', ')}, or nothing.`);
}

function readTls(environment: NodeJS.ProcessEnv): Config['tls'] {
  const [cert, key] = ['HEXENKESSEL_CERT', 'HEXENKESSEL_KEY'].map((name) => environment[name]);
  if (cert === undefined && key === undefined) return undefined;
  if (cert === undefined || key === undefined)
    throw new Error('HEXENKESSEL_CERT and HEXENKESSEL_KEY belong together: the paths of two PEM files.');
  const read = (name: string, path: string) => {
    try {
      return readFileSync(path, 'utf8');
    } catch (error) {
      throw new Error(`${name} names a file that cannot be read: ${(error as Error).message}.`);
    }
  };
  return { cert: read('HEXENKESSEL_CERT', cert), key: read('HEXENKESSEL_KEY', key) };
}
