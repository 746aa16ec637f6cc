/** A server that other machines reach: by which names, through a proxy, over TLS, with a token. */
import { readFileSync } from 'node:fs';
import { request as plain, type IncomingMessage } from 'node:http';
import { request as secure } from 'node:https';
import { afterEach, expect, test } from 'vitest';
import { readConfig, type Config } from '../config.ts';
import { TestServer } from '../testing/testServer.ts';

const TOKEN = 'a token of some length';
const pem = (name: string) => readFileSync(new URL(`../testing/tls.${name}.pem`, import.meta.url), 'utf8');
const TLS = { cert: pem('cert'), key: pem('key') };

let server: TestServer | undefined;
afterEach(() => server?.remove());

const start = async (config: Partial<Config>) => {
  server = await TestServer.start(undefined, undefined, { token: TOKEN, ...config });
};

interface Got {
  readonly status: number | undefined;
  readonly headers: IncomingMessage['headers'];
  readonly text: string;
}

function get(path: string, headers: Record<string, string> = {}): Promise<Got> {
  const { hostname, port, protocol } = new URL(server!.address);
  return new Promise((resolve, reject) => {
    const ask = protocol === 'https:' ? secure : plain;
    ask({ hostname, port, path, headers, ...(protocol === 'https:' ? { ca: TLS.cert } : {}) }, (response) => {
      let text = '';
      response.on('data', (piece: Buffer) => (text += piece.toString()));
      response.on('end', () => resolve({ status: response.statusCode, headers: response.headers, text }));
    })
      .on('error', reject)
      .end();
  });
}

const bearer = { authorization: `Bearer ${TOKEN}` };

test('it answers to its names, with any subdomain, case, port and point behind, and to no others', async () => {
  await start({ names: ['museum.test'] });
  const statusOf = async (host: string) => (await get('/api/health', { ...bearer, host })).status;
  for (const host of ['museum.test', 'MUSEUM.test:4666', 'fog.museum.test', 'museum.test.', 'localhost'])
    expect([host, await statusOf(host)]).toEqual([host, 200]);
  for (const host of ['museum.test.elsewhere.test', 'othermuseum.test', 'test'])
    expect([host, await statusOf(host)]).toEqual([host, 403]);
});

test('what a proxy says is believed only when one is said to be there', async () => {
  const said = { ...bearer, host: '127.0.0.1:4666', 'x-forwarded-host': 'museum.test', origin: 'https://museum.test' };
  await start({ names: ['museum.test'] });
  expect((await get('/api/health', said)).status).toBe(403);
  await server?.remove();
  await start({ names: ['museum.test'], proxy: true });
  expect((await get('/api/health', said)).status).toBe(200);
  expect((await get('/api/health', { ...said, origin: 'https://elsewhere.test' })).status).toBe(403);
  expect((await get('/api/health', { ...said, 'x-forwarded-host': 'elsewhere.test' })).status).toBe(403);
});

test('over plain HTTP from elsewhere the page says that it needs TLS; a script still gets in', async () => {
  await start({ names: ['museum.test'], proxy: true });
  const page = await get('/', { ...bearer, host: 'museum.test' });
  expect([page.status, page.headers['content-type']]).toEqual([403, 'text/html; charset=utf-8']);
  expect(page.text).toContain('needs HTTPS');
  expect((await get('/api/health', { ...bearer, host: 'museum.test' })).status).toBe(200);
  const proxied = { host: '127.0.0.1', 'x-forwarded-host': 'museum.test', 'x-forwarded-proto': 'https' };
  expect((await get('/', { ...bearer, ...proxied })).status).toBe(404); // no page is served in this test
});

test('over TLS the token leaves the address, and its cookie is sent over TLS alone', async () => {
  await start({ names: ['museum.test'], tls: TLS });
  expect(server?.address).toMatch(/^https:/);
  expect((await get('/api/health')).status).toBe(401);
  const first = await get(`/library?find=fog&token=${encodeURIComponent(TOKEN)}`);
  expect([first.status, first.headers.location]).toEqual([302, '/library?find=fog']);
  const cookie = String(first.headers['set-cookie']);
  for (const word of ['secure', 'httponly', 'samesite=strict']) expect(cookie.toLowerCase()).toContain(word);
  expect((await get('/api/health', { cookie: cookie.split(';')[0] })).status).toBe(200);
});

test('who guesses tokens waits longer each time', async () => {
  await start({});
  const times: number[] = [];
  for (let n = 0; n < 4; n++) {
    const begun = performance.now();
    expect((await get('/api/health', { authorization: `Bearer guess ${n}` })).status).toBe(401);
    times.push(performance.now() - begun);
  }
  expect(times[3]).toBeGreaterThan(800);
  expect((await get('/api/health', bearer)).status).toBe(200);
});

test('what does not fit together is refused at the start, with what is allowed', () => {
  const token = { HEXENKESSEL_TOKEN: TOKEN };
  expect(readConfig({ HEXENKESSEL_NAMES: 'Museum.test., fog.test', ...token }, '/x').names).toEqual([
    'museum.test',
    'fog.test',
  ]);
  for (const [environment, why] of [
    [{ HEXENKESSEL_NAMES: 'museum.test' }, 'HEXENKESSEL_TOKEN'],
    [{ HEXENKESSEL_PROXY: '1' }, 'HEXENKESSEL_TOKEN'],
    [{ HEXENKESSEL_PROXY: 'yes', ...token }, 'allowed is 1'],
    [{ HEXENKESSEL_NAMES: 'museum.test:80', ...token }, 'without ports'],
    [{ HEXENKESSEL_CERT: '/x/cert.pem' }, 'belong together'],
    [{ HEXENKESSEL_CERT: '/x/cert.pem', HEXENKESSEL_KEY: '/x/key.pem' }, 'HEXENKESSEL_CERT names a file'],
  ] as const)
    expect(() => readConfig(environment, '/x')).toThrow(why);
});

test('at another address than that of the machine itself it answers there alone, by that address, and with its token', async () => {
  await start({ host: '127.0.0.2' });
  expect(server!.address).toMatch(/^http:\/\/127\.0\.0\.2:\d+$/);
  expect((await get('/api/health', bearer)).status).toBe(200);
  expect((await get('/api/health')).status).toBe(401);
  expect((await get('/api/health', { ...bearer, host: '127.0.0.3' })).status).toBe(403);
  const elsewhere = server!.address.replace('127.0.0.2', '127.0.0.1');
  await expect(fetch(`${elsewhere}/api/health`, { headers: bearer })).rejects.toThrow();
  // From another machine sound would need HTTPS; the page says so.
  const page = await get('/', bearer);
  expect([page.status, page.text]).toEqual([403, expect.stringContaining('needs HTTPS here')]);
});
