import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pino } from 'pino';
import { expect, test } from 'vitest';
import { startServer } from '../server.ts';

test('each request is noted under the id that its answer carries, without names or tokens', async () => {
  const lines: string[] = [];
  const log = pino({ level: 'info' }, { write: (line: string) => void lines.push(line) });
  const dataFolder = await mkdtemp(join(tmpdir(), 'hexenkessel-log-'));
  const token = 'a token of some length';
  const server = await startServer(
    {
      host: '127.0.0.1',
      port: 0,
      dataFolder,
      webFolder: undefined,
      favouritesFolder: undefined,
      token,
      names: [],
      proxy: false,
      tls: undefined,
    },
    log,
  );
  const found = await fetch(`${server.address}/api/sounds?token=${encodeURIComponent(token)}&find=Secret`, {
    redirect: 'manual',
    headers: { authorization: `Bearer ${token}` },
  });
  const lost = await fetch(`${server.address}/api/sounds/nobody`, { headers: { authorization: `Bearer ${token}` } });
  await server.close();
  await rm(dataFolder, { recursive: true });
  const noted = lines.map((line) => JSON.parse(line) as Record<string, unknown>).filter(({ msg }) => msg === 'request');
  expect(noted).toMatchObject([
    { request: found.headers.get('x-request-id'), method: 'GET', path: '/api/sounds', status: 302 },
    { request: lost.headers.get('x-request-id'), method: 'GET', path: '/api/sounds/nobody', status: 404 },
  ]);
  expect(lines.join('')).not.toMatch(/token of|token%20of|Secret/);
});
