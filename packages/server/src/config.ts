import { resolve } from 'node:path';

export interface Config {
  readonly host: string;
  readonly port: number;
  /** Folder of the database and the audio. */
  readonly dataFolder: string;
  /** Folder of the built interface; undefined: none is served. */
  readonly webFolder: string | undefined;
  /** Asked of every request when the server is reached from other machines. */
  readonly token: string | undefined;
}

const LOOPBACK = new Set(['127.0.0.1', '::1', 'localhost']);

/** Reads HOST, PORT, HEXENKESSEL_DATA and HEXENKESSEL_TOKEN. Throws when they do not fit together. */
export function readConfig(environment: NodeJS.ProcessEnv, root: string): Config {
  const host = environment['HOST'] ?? '127.0.0.1';
  const port = Number(environment['PORT'] ?? 4666);
  if (!Number.isInteger(port) || port < 0 || port > 65535) {
    throw new Error(`PORT is "${environment['PORT']}"; allowed is a whole number from 0 to 65535.`);
  }
  const token = environment['HEXENKESSEL_TOKEN'];
  if (!LOOPBACK.has(host) && (token === undefined || token.length < 16)) {
    throw new Error(
      `HOST is ${host}, which other machines can reach: set HEXENKESSEL_TOKEN to at least 16 characters.`,
    );
  }
  return {
    host,
    port,
    token: LOOPBACK.has(host) ? undefined : token,
    dataFolder: resolve(environment['HEXENKESSEL_DATA'] ?? `${root}/data`),
    webFolder: resolve(`${root}/packages/web/dist`),
  };
}
