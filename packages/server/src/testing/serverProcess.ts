import { spawn, type ChildProcess } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { expect } from 'vitest';

/** Built before the tests are run. */
const MAIN = fileURLToPath(new URL('../../dist/main.js', import.meta.url));

/** A server in a process of its own. */
export interface Started {
  readonly process: ChildProcess;
  /** What it has printed so far. */
  readonly printed: () => string;
  /** Its exit code, once it has ended. */
  readonly ended: Promise<number | null>;
}

/** Starts a server as from a shell, on a port that is free. */
export function startProcess(data: string, shell = 'exec "$0" "$@"'): Started {
  const child = spawn('sh', ['-c', shell, process.execPath, MAIN], {
    env: { ...process.env, HEXENKESSEL_DATA: data, PORT: '0', NODE_OPTIONS: '' },
  });
  let text = '';
  for (const stream of [child.stdout, child.stderr]) stream.on('data', (piece: Buffer) => (text += piece.toString()));
  return {
    process: child,
    printed: () => text,
    ended: new Promise((resolve) => child.once('exit', (code) => resolve(code))),
  };
}

/** Waits until it says where it is. */
export async function addressOf({ printed }: Started): Promise<string> {
  await expect.poll(printed, { timeout: 50_000, interval: 20 }).toMatch(/is up at http/);
  return /is up at (\S+)/.exec(printed())?.[1] ?? '';
}
