import { request } from 'node:http';
import { connect } from 'node:net';
import { Validator } from '@seriousme/openapi-schema-validator';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { readConfig } from '../config.ts';
import { TestServer } from '../testing/testServer.ts';

interface Described {
  readonly paths: Record<
    string,
    Record<
      string,
      {
        operationId: string;
        requestBody?: { content: object };
        responses: Record<string, { content?: object }>;
      }
    >
  >;
  readonly components: { schemas: Record<string, object> };
}

let server: TestServer;
beforeAll(async () => void (server = await TestServer.start()));
afterAll(() => server.remove());

/** A request with headers that fetch does not let one set. */
function statusOf(headers: Record<string, string>): Promise<number | undefined> {
  const { hostname, port } = new URL(server.address);
  return new Promise((resolve, reject) => {
    request({ hostname, port, path: '/api/health', headers }, (response) => {
      response.resume();
      resolve(response.statusCode);
    })
      .on('error', reject)
      .end();
  });
}

test('health, and headers that isolate the page', async () => {
  const response = await server.fetch('/health');
  expect(await response.json()).toEqual({
    status: 'up',
    version: '0.1.0',
    freeBytes: expect.any(Number),
    queued: 0,
    running: 0,
  });
  expect(response.headers.get('cross-origin-opener-policy')).toBe('same-origin');
  expect(response.headers.get('cross-origin-embedder-policy')).toBe('require-corp');
  const policy = response.headers.get('content-security-policy') ?? '';
  expect(policy).toContain("script-src 'self' 'wasm-unsafe-eval';");
  expect(policy).not.toContain("'unsafe-eval'");
});

test('foreign host names and pages are turned away', async () => {
  const { host } = new URL(server.address);
  expect(await statusOf({ host })).toBe(200);
  expect(await statusOf({ host, origin: server.address })).toBe(200);
  expect(await statusOf({ host: 'rebound.example' })).toBe(403);
  expect(await statusOf({ host, origin: 'http://elsewhere.example' })).toBe(403);
  expect(await statusOf({ host, origin: 'null' })).toBe(403);
});

/** A request as it is written, which fetch would put right. */
function raw(lines: readonly string[], body: Uint8Array | string = ''): Promise<{ status: number; text: string }> {
  const { hostname, port, host } = new URL(server.address);
  return new Promise((resolve, reject) => {
    const socket = connect(Number(port), hostname, () => {
      const length = typeof body === 'string' ? Buffer.byteLength(body) : body.length;
      socket.write(`${lines[0]} HTTP/1.1\r\nHost: ${host}\r\nConnection: close\r\nContent-Length: ${length}\r\n`);
      socket.write(
        `${lines
          .slice(1)
          .map((line) => `${line}\r\n`)
          .join('')}\r\n`,
      );
      socket.write(body);
    });
    let text = '';
    socket.on('data', (piece: Buffer) => (text += piece.toString('latin1')));
    socket.on('error', reject);
    socket.on('close', () => resolve({ status: Number(text.split(' ')[1]), text }));
  });
}

const JSON_TYPE = 'Content-Type: application/json';

const ODD: readonly (readonly [string, number, string, readonly string[], string])[] = [
  ['an origin that is none', 403, 'Requests from pages of', ['GET /api/health', 'Origin: not an origin'], ''],
  ['a path that is not written as one', 404, 'no sound with the id %E0', ['GET /api/sounds/%E0%A4%A'], ''],
  ['a path that leads out', 404, 'nothing at', ['GET /api/../../etc/passwd'], ''],
  ['a zero in a path', 404, 'sound', ['GET /api/sounds/%00'], ''],
  ['a method that is not there', 405, 'allowed is .*GET', ['DELETE /api/health'], ''],
  ['one that nobody knows', 405, 'allowed is .*GET', ['PROPFIND /api/health'], ''],
  ['JSON that is none', 400, 'not JSON', ['POST /api/chains', JSON_TYPE], '{"document": '],
  ['gzip that is none', 400, 'not JSON', ['POST /api/chains', JSON_TYPE, 'Content-Encoding: gzip'], 'no gzip at all'],
  ['a packing that nobody knows', 415, 'packed', ['POST /api/chains', JSON_TYPE, 'Content-Encoding: lzw'], '{}'],
  ['text for JSON', 415, 'text/plain; JSON is needed', ['POST /api/chains', 'Content-Type: text/plain'], '{}'],
  [
    'a sound sent as JSON',
    415,
    'the file itself is needed',
    ['POST /api/sounds?name=x', JSON_TYPE],
    'RIFF....WAVEfmt ',
  ],
  [
    'a sound sent as a form',
    415,
    'audio/wav',
    ['POST /api/sounds?name=x', 'Content-Type: multipart/form-data; boundary=x'],
    '--x',
  ],
];

test.each(ODD)('%s is answered with %i in words', async (_what, status, words, lines, body) => {
  const answer = await raw(lines, body);
  expect(answer.status).toBe(status);
  expect(answer.text).toMatch(new RegExp(words));
  expect(answer.text).toContain('application/problem+json');
  if (status === 405) expect(answer.text).toMatch(/\r\nallow: .*GET/i);
});

test('the OpenAPI document describes every operation with its schemas', async () => {
  const { body } = await server.get<{
    openapi: string;
    components: { schemas: Record<string, { $id: string }> };
    paths: Record<string, Record<string, { responses: object; parameters: { name: string }[] }>>;
  }>('/openapi.json');
  expect(body.openapi).toBe('3.1.0');
  const operations = Object.entries(body.paths).flatMap(([path, methods]) =>
    Object.keys(methods).map((method) => `${method} ${path}`),
  );
  expect(operations.sort()).toEqual(
    [
      'get /api/favourites/chains',
      'get /api/health',
      'get /api/backup',
      'get /api/chains',
      'get /api/chains/names',
      'get /api/chains/{id}',
      'get /api/chains/{id}/desk',
      'get /api/chains/{id}/stored',
      'delete /api/chains/{id}',
      'get /api/chains/{id}/versions/{number}',
      'get /api/renders',
      'get /api/renders/events',
      'get /api/renders/{id}',
      'get /api/sounds',
      'get /api/sounds/names',
      'get /api/sounds/{id}/family',
      'get /api/sounds/{id}',
      'get /api/sounds/{id}/audio',
      'get /api/sounds/{id}/dither',
      'get /api/sounds/{id}/needs',
      'get /api/export',
      'get /api/scripts',
      'get /api/scripts/{id}',
      'post /api/scripts',
      'put /api/scripts/{id}',
      'delete /api/scripts/{id}',
      'get /api/storage',
      'delete /api/sounds/{id}',
      'patch /api/sounds/{id}',
      'post /api/renders/{id}/again',
      'post /api/restore',
      'post /api/storage/clean',
      'put /api/sounds/{id}/audio',
      'patch /api/chains/{id}/desk',
      'post /api/chains',
      'post /api/chains/{id}/versions',
      'post /api/mixes',
      'post /api/renders',
      'post /api/renders/{id}/cancel',
      'post /api/sounds',
      'put /api/chains/{id}/draft',
    ].sort(),
  );
  expect(body.paths['/api/sounds/{id}/audio']['get'].parameters.map(({ name }) => name)).toEqual([
    'id',
    'kind',
    'depth',
    'rate',
  ]);
  // A chain is described once, by its published schema, and referred to by what that goes by.
  const { $id } = body.components.schemas['Chain'];
  expect($id).toBe('urn:hexenkessel:chain:2');
  expect(JSON.stringify(body.paths['/api/chains']['post'])).toContain(JSON.stringify({ $ref: $id }));
});

test('the OpenAPI document is valid to a validator that is not ours, and every schema in it compiles', async () => {
  const { body } = await server.get<Described>('/openapi.json');
  const { valid, errors } = await new Validator().validate({ ...body });
  expect([valid, errors]).toEqual([true, undefined]);
  const operations = Object.values(body.paths).flatMap((methods) => Object.values(methods));
  const ids = operations.map(({ operationId }) => operationId);
  expect(new Set(ids).size).toBe(ids.length);
  expect(ids.every((id) => /^[a-z][A-Za-z]+$/.test(id))).toBe(true);
  const ajv = new Ajv2020({ strict: true, strictTypes: false, allowUnionTypes: true });
  ajv.addVocabulary(['components']);
  ajv.addSchema({ $id: 'urn:hexenkessel:document', components: body.components }, undefined, false, false);
  for (const name of Object.keys(body.components.schemas))
    expect(() => ajv.compile({ $ref: `urn:hexenkessel:document#/components/schemas/${name}` }), name).not.toThrow();
  // What is answered fits what is said of it.
  const fits = ajv.compile({
    type: 'array',
    items: { $ref: 'urn:hexenkessel:document#/components/schemas/ChainEntry' },
  });
  await server.send('POST', '/chains', { document: { format: 'hexenkessel.chain', version: 2, name: 'Fits' } });
  const { body: listed } = await server.get<unknown[]>('/chains');
  expect(listed).toHaveLength(1);
  expect(fits(listed)).toBe(true);
  expect(fits([{ ...(listed[0] as object), rating: 'high' }])).toBe(false);
});

test('files that come in and go out, and events, are described by their types', async () => {
  const { body } = await server.get<Described>('/openapi.json');
  const { paths } = body;
  expect(Object.keys(paths['/api/sounds']['post'].requestBody!.content)).toContain('audio/flac');
  expect(paths['/api/export']['get'].responses['200'].content).toEqual({ 'application/zip': {} });
  expect(paths['/api/renders/events']['get'].responses['200'].content).toEqual({ 'text/event-stream': {} });
  expect(Object.keys(paths['/api/sounds/{id}/audio']['get'].responses)).toEqual([
    '200',
    '206',
    '304',
    '416',
    'default',
  ]);
  expect(paths['/api/sounds']['get'].responses['200'].content).toEqual({
    'application/json': { schema: { type: 'array', items: { $ref: '#/components/schemas/Sound' } } },
  });
});

describe('configuration', () => {
  test('loopback by default, other addresses only with a token', () => {
    expect(readConfig({}, '/x')).toMatchObject({
      host: '127.0.0.1',
      port: 4666,
      dataFolder: '/x/data',
      token: undefined,
    });
    expect(() => readConfig({ HOST: '0.0.0.0' }, '/x')).toThrow('HEXENKESSEL_TOKEN');
    expect(readConfig({ HOST: '0.0.0.0', HEXENKESSEL_TOKEN: 'a'.repeat(16) }, '/x').token).toHaveLength(16);
    expect(() => readConfig({ PORT: 'harbour' }, '/x')).toThrow('whole number');
  });
});
