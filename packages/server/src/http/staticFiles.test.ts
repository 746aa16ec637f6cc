/** How the page's own files are sent, seen by a client that decodes nothing by itself. */
import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { brotliCompressSync, brotliDecompressSync, gunzipSync, gzipSync } from 'node:zlib';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { TestServer } from '../testing/testServer.ts';

const SCRIPT = `console.log(${JSON.stringify('fog '.repeat(2000))});\n`;
const PAGE = '<!doctype html><title>Fog</title>';
let web: string;
let server: TestServer;

interface Got {
  readonly status: number;
  readonly headers: Readonly<Record<string, string | undefined>>;
  readonly body: Buffer;
}

function ask(path: string, headers: Record<string, string> = {}, method = 'GET'): Promise<Got> {
  const { hostname, port } = new URL(server.address);
  return new Promise((resolve, reject) => {
    request({ hostname, port, path, headers, method }, (response) => {
      const pieces: Buffer[] = [];
      response.on('data', (piece: Buffer) => pieces.push(piece));
      response.on('end', () =>
        resolve({
          status: response.statusCode ?? 0,
          headers: response.headers as Got['headers'],
          body: Buffer.concat(pieces),
        }),
      );
    })
      .on('error', reject)
      .end();
  });
}

beforeAll(async () => {
  web = await mkdtemp(join(tmpdir(), 'hexenkessel-web-'));
  await mkdir(join(web, 'assets'));
  await writeFile(join(web, 'index.html'), PAGE);
  await writeFile(join(web, 'assets/main-abc123.js'), SCRIPT);
  await writeFile(join(web, 'assets/main-abc123.js.br'), brotliCompressSync(SCRIPT));
  await writeFile(join(web, 'assets/main-abc123.js.gz'), gzipSync(SCRIPT));
  await writeFile(join(web, 'assets/plain.css'), 'a{}');
  server = await TestServer.start(undefined, web);
});
afterAll(async () => {
  await server.remove();
  await rm(web, { recursive: true });
});

test('a script goes out as the client takes it: Brotli before gzip before plain, each with a tag of its own', async () => {
  const path = '/assets/main-abc123.js';
  const br = await ask(path, { 'accept-encoding': 'gzip, deflate, br' });
  const gz = await ask(path, { 'accept-encoding': 'gzip' });
  const plain = await ask(path);
  const none = await ask(path, { 'accept-encoding': 'br;q=0, identity' });
  expect([br, gz, plain, none].map(({ headers }) => headers['content-encoding'])).toEqual([
    'br',
    'gzip',
    undefined,
    undefined,
  ]);
  expect(brotliDecompressSync(br.body).toString()).toBe(SCRIPT);
  expect(gunzipSync(gz.body).toString()).toBe(SCRIPT);
  expect(plain.body.toString()).toBe(SCRIPT);
  expect(br.body.length).toBeLessThan(200);
  expect(new Set([br, gz, plain].map(({ headers }) => headers['etag'])).size).toBe(3);
  for (const { headers } of [br, gz, plain]) {
    expect(headers['cache-control']).toBe('public, max-age=31536000, immutable');
    expect(headers['vary']).toMatch(/accept-encoding/i);
    expect(headers['content-type']).toMatch(/javascript/);
  }
});

test('what has no hash in its name is asked for anew, and not sent again; a 304 isolates the page, too', async () => {
  const page = await ask('/');
  expect([page.status, page.body.toString(), page.headers['cache-control']]).toEqual([200, PAGE, 'no-cache']);
  const again = await ask('/', { 'if-none-match': page.headers['etag'] ?? '' });
  expect([again.status, again.body.length]).toEqual([304, 0]);
  for (const name of [
    'cross-origin-opener-policy',
    'cross-origin-embedder-policy',
    'content-security-policy',
    'etag',
    'cache-control',
  ])
    expect([name, again.headers[name]]).toEqual([name, page.headers[name]]);
  expect(again.headers['cross-origin-embedder-policy']).toBe('require-corp');
});

test('a part is sent where one is asked for; one that lies outside is refused', async () => {
  const part = await ask('/assets/plain.css', { range: 'bytes=1-2' });
  expect([part.status, part.body.toString(), part.headers['content-range']]).toEqual([206, '{}', 'bytes 1-2/3']);
  const outside = await ask('/assets/plain.css', { range: 'bytes=9-' });
  expect([outside.status, outside.headers['content-range']]).toEqual([416, 'bytes */3']);
});

test('the head alone has the length and no body', async () => {
  const { status, headers, body } = await ask('/assets/plain.css', {}, 'HEAD');
  expect([status, headers['content-length'], body.length]).toEqual([200, '3', 0]);
});

test('deep links are the page; files that are not there, and what lies above the folder, are not', async () => {
  expect((await ask('/bench/01J')).body.toString()).toBe(PAGE);
  expect((await ask('/script/favourite-lamp.hxk.js')).body.toString()).toBe(PAGE);
  expect((await ask('/robots.txt')).status).toBe(404);
  expect((await ask('/assets/other.js')).status).toBe(404);
  expect((await ask('/../../etc/passwd.txt')).status).toBe(404);
  expect((await ask('/%2e%2e/%2e%2e/etc/passwd.txt')).status).toBe(404);
});

test('events are never compressed', async () => {
  const { hostname, port } = new URL(server.address);
  const headers = await new Promise<Got['headers']>((resolve, reject) => {
    const asked = request(
      { hostname, port, path: '/api/renders/events', headers: { 'accept-encoding': 'gzip, br' } },
      (response) => {
        resolve(response.headers as Got['headers']);
        asked.destroy();
      },
    );
    asked.on('error', (error: NodeJS.ErrnoException) => error.code !== 'ECONNRESET' && reject(error)).end();
  });
  expect(headers['content-type']).toContain('text/event-stream');
  expect(headers['content-encoding']).toBeUndefined();
});
