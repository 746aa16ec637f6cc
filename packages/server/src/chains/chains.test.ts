import { afterAll, beforeAll, expect, test } from 'vitest';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { assign, emptyChain, parseChain, type ChainDocument } from '@hexenkessel/core/chain';
import type { ChainEntry, ChainState } from '@hexenkessel/core/protocol';
import { TestServer } from '../testing/testServer.ts';

let server: TestServer;
beforeAll(async () => void (server = await TestServer.start()));
afterAll(() => server.remove());

const hall = parseChain(BUILT_INS, {
  ...emptyChain(BUILT_INS, 'Dome'),
  stages: [{ id: 'hall', kind: 'hall' }],
  about: { tags: ['room'] },
});
type Conflict = { detail: string; current: ChainState };

test('a chain begins, is drafted, kept as versions, and every version stays', async () => {
  const begun = await server.addChain(hall);
  expect(begun).toMatchObject({ revision: 1, unsaved: true, versions: [] });
  const first = await server.send<ChainState>('POST', `/chains/${begun.id}/versions`, {
    revision: 1,
    document: hall,
    why: 'first',
  });
  expect(first).toMatchObject({
    status: 201,
    body: { revision: 2, unsaved: false, versions: [{ number: 1, why: 'first' }] },
  });
  const darker = assign(BUILT_INS, hall, 'hall.decay=5s');
  const draft = await server.send<ChainState>('PUT', `/chains/${begun.id}/draft`, { revision: 2, document: darker });
  expect(draft.body).toMatchObject({ revision: 3, unsaved: true });
  expect(draft.body.document).toEqual(darker);
  const second = await server.send<ChainState>('POST', `/chains/${begun.id}/versions`, {
    revision: 3,
    document: darker,
    why: '',
  });
  expect(second.body.versions.map(({ number }) => number)).toEqual([2, 1]);
  expect((await server.get<ChainDocument>(`/chains/${begun.id}/versions/1`)).body).toEqual(hall);
  expect((await server.get<ChainDocument>(`/chains/${begun.id}/versions/2`)).body).toEqual(darker);
  expect((await server.get(`/chains/${begun.id}/versions/3`)).status).toBe(404);
  const [entry] = (await server.get<ChainEntry[]>('/chains')).body;
  expect(entry).toMatchObject({ name: 'Dome', tags: ['room'], stages: ['Hall reverb'], version: 2, unsaved: false });
});

test('two windows: the stale save gets 409 with the other state, nothing is overwritten', async () => {
  const { id } = await server.addChain(hall);
  const theirs = assign(BUILT_INS, hall, 'hall.decay=1s');
  const mine = assign(BUILT_INS, hall, 'hall.decay=9s');
  expect((await server.send('PUT', `/chains/${id}/draft`, { revision: 1, document: theirs })).status).toBe(200);
  for (const [method, path] of [
    ['PUT', 'draft'],
    ['POST', 'versions'],
  ] as const) {
    const refused = await server.send<Conflict>(method, `/chains/${id}/${path}`, {
      revision: 1,
      document: mine,
      why: '',
    });
    expect(refused.status).toBe(409);
    expect(refused.type).toContain('problem+json');
    expect(refused.body.current).toMatchObject({ revision: 2 });
    expect(refused.body.current.document).toEqual(theirs);
  }
  expect((await server.get<ChainState>(`/chains/${id}`)).body.document).toEqual(theirs);
});

test('of many saves at once exactly one wins', async () => {
  const { id } = await server.addChain(hall);
  const saves = await Promise.all(
    Array.from({ length: 8 }, (_, n) =>
      server.send('PUT', `/chains/${id}/draft`, { revision: 1, document: { ...hall, name: `Dome ${n}` } }),
    ),
  );
  expect(saves.filter(({ status }) => status === 200)).toHaveLength(1);
  expect(saves.filter(({ status }) => status === 409)).toHaveLength(7);
});

test.each([
  [
    'an unknown stage',
    { document: { ...hall, stages: [{ id: 'a', kind: 'wobble' }] } },
    422,
    'no stage of kind "wobble"',
  ],
  [
    'a number out of range',
    { document: { ...hall, stages: [{ id: 'h', kind: 'hall', settings: { decay: 900 } }] } },
    422,
    'decay time is 900; allowed is 100 ms to 60 s',
  ],
  ['no document', {}, 422, 'document'],
  ['a path for a name', { document: { ...hall, name: '../../etc/passwd' } }, 422, 'slashes'],
  ['5 MB of JSON', { document: { ...hall, about: { notes: 'x'.repeat(5_000_000) } } }, 413, '2 MiB'],
])('%s is refused and nothing is stored', async (_, body, status, message) => {
  const before = (await server.get<ChainEntry[]>('/chains')).body.length;
  const answer = await server.send<{ detail: string }>('POST', '/chains', body);
  expect(answer.status).toBe(status);
  expect(answer.type).toContain('problem+json');
  expect(answer.body.detail).toContain(message);
  expect((await server.get<ChainEntry[]>('/chains')).body.length).toBe(before);
});

test('what is no JSON, what is no address', async () => {
  const broken = await server.fetch('/chains', {
    method: 'POST',
    body: '{"document":',
    headers: { 'content-type': 'application/json' },
  });
  expect(broken.status).toBe(400);
  expect(((await broken.json()) as { detail: string }).detail).toContain('not JSON');
  expect((await server.get('/chain')).status).toBe(404);
  expect((await server.send('PUT', '/chains/none/draft', { revision: 1, document: hall })).status).toBe(404);
});

test('the list says what is inside a chain at any depth, by every name it has', async () => {
  const spring = { id: 'in', kind: 'hall', name: 'Spring' };
  const { id } = await server.addChain(
    parseChain(BUILT_INS, {
      ...emptyChain(BUILT_INS, 'Looped'),
      stages: [{ id: 'e', kind: 'echo', branches: [{ id: 'l', stages: [spring] }] }],
    }),
  );
  const entry = (await server.get<ChainEntry[]>('/chains')).body.find((one) => one.id === id);
  expect(entry?.stages).toEqual(['Delay']);
  expect(entry?.contains).toEqual(['Delay', 'echo', 'Spring', 'Hall reverb', 'hall']);
});

test('a chain may bring an id of its own; one that is taken is refused with what is there', async () => {
  const id = '01HZZZZZZZZZZZZZZZZZZZZZZZ';
  const begun = await server.send<ChainState>('POST', '/chains', { id, document: hall });
  expect(begun).toMatchObject({ status: 201, body: { id, revision: 1 } });
  const again = await server.send<Conflict>('POST', '/chains', { id, document: { ...hall, name: 'Other' } });
  expect(again.status).toBe(409);
  expect(again.body.current.document.name).toBe('Dome');
  const odd = await server.send<Conflict>('POST', '/chains', { id: '../../etc', document: hall });
  expect(odd.status).toBe(422);
});
