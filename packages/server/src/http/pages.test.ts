/** Lists that are read page by page: in every order, with whatever comes in between, nothing twice and nothing left out. */
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { afterAll, beforeAll, expect, test } from 'vitest';
import fc from 'fast-check';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { emptyChain, parseChain } from '@hexenkessel/core/chain';
import type {
  ChainEntry,
  ChainName,
  ChainState,
  Render,
  Sound,
  SoundName,
  SoundNeeds,
} from '@hexenkessel/core/protocol';
import { TestServer, flip, pluck, wavBytes } from '../testing/testServer.ts';

let server: TestServer;
beforeAll(async () => {
  server = await TestServer.start();
  for (const [n, about] of ABOUTS.entries())
    await server.addChain(flip({ name: NAMES[n % NAMES.length], about, timing: { tempo: 60 + 10 * (n % 4) } }));
  for (const [n, name] of NAMES.entries()) await server.upload(name, wavBytes(pluck(0.1 + 0.01 * (n % 3))));
});
afterAll(() => server.remove());

const NAMES = ['Öl', 'oar', 'Zinc', 'apple', 'Apple', 'über', 'Bell 2', 'bell 10', 'Ebb & flow', 'fog', 'Fog bank'];
const ABOUTS = Array.from({ length: 23 }, (_, n) => ({
  kind: ['swell', 'Hall', ''][n % 3],
  character: n % 4 === 0 ? [] : [['warm', 'Dark', 'glassy'][n % 3]],
  tags: n % 5 === 0 ? [] : [`tag ${n % 3}`, 'drums'],
  rating: n % 6,
}));

interface Paged<T> {
  readonly items: T[];
  readonly total: number;
  readonly next: string | undefined;
}

async function page<T>(path: string): Promise<Paged<T>> {
  const answer = await server.fetch(path.replace(/^\/api/, ''));
  expect(answer.status).toBe(200);
  const link = /^<(.*)>; rel="next"$/.exec(answer.headers.get('link') ?? '')?.[1];
  return { items: (await answer.json()) as T[], total: Number(answer.headers.get('x-total-count')), next: link };
}

async function allPages<T>(path: string, between?: () => Promise<unknown>): Promise<T[]> {
  const items: T[] = [];
  for (let next: string | undefined = path; next !== undefined;) {
    const one: Paged<T> = await page<T>(next);
    items.push(...one.items);
    next = one.next;
    await between?.();
  }
  return items;
}

/** What each order goes by, of an entry as it is told of. */
const CHAIN_KEYS: Readonly<Record<string, (chain: ChainEntry) => string | number>> = {
  changed: ({ updatedAt }) => updatedAt,
  name: ({ name }) => name.toLowerCase(),
  category: ({ kind }) => kind.toLowerCase(),
  character: ({ character }) => (character[0] ?? '').toLowerCase(),
  tags: ({ tags }) => tags.join('","').toLowerCase(),
  rating: ({ rating }) => rating,
  tempo: ({ tempo }) => tempo,
  version: ({ version }) => version ?? 0,
};
const SOUND_KEYS: Readonly<Record<string, (sound: Sound) => string | number>> = {
  added: ({ id }) => id,
  name: ({ name }) => name.toLowerCase(),
  origin: ({ lineage }) => `${lineage?.sourceName ?? ''} ${lineage?.chainName ?? ''}`.toLowerCase(),
  length: ({ frames, sampleRate }) => frames / sampleRate,
  format: ({ format, sampleRate }) => `${format} ${sampleRate}`,
  peak: ({ peak }) => peak ?? -1000,
  loudness: ({ loudness }) => loudness ?? -1000,
  time: ({ timeReference, sampleRate }) => (timeReference ?? 0) / sampleRate,
};

const inOrder = (keys: readonly (string | number)[], desc: boolean) =>
  keys.every((key, n) => n === 0 || (desc ? keys[n - 1] >= key : keys[n - 1] <= key));

test('in every order and with pages of any length all entries come, each once', async () => {
  const wholes = { chains: await page<ChainEntry>('/chains'), sounds: await page<Sound>('/sounds') };
  await fc.assert(
    fc.asyncProperty(
      fc.oneof(
        fc.record({ list: fc.constant('chains' as const), sort: fc.constantFrom(...Object.keys(CHAIN_KEYS)) }),
        fc.record({ list: fc.constant('sounds' as const), sort: fc.constantFrom(...Object.keys(SOUND_KEYS)) }),
      ),
      fc.boolean(),
      fc.integer({ min: 1, max: 30 }),
      async ({ list, sort }, desc, limit) => {
        const items = await allPages<ChainEntry & Sound>(`/${list}?limit=${limit}&sort=${desc ? '-' : ''}${sort}`);
        const whole = wholes[list];
        expect(items.map(({ id }) => id).sort()).toEqual(whole.items.map(({ id }) => id).sort());
        expect(whole.total).toBe(items.length);
        const key = (list === 'chains' ? CHAIN_KEYS : SOUND_KEYS)[sort] as (
          entry: ChainEntry & Sound,
        ) => string | number;
        expect(inOrder(items.map(key), desc)).toBe(true);
      },
    ),
    { numRuns: 60, endOnFailure: true },
  );
});

test('what comes in while pages are read moves nothing of what was there', async () => {
  const before = (await page<ChainEntry>('/chains')).items.map(({ id }) => id);
  const added: string[] = [];
  const items = await allPages<ChainEntry>('/chains?limit=4&sort=name', async () => {
    if (added.length < 3) added.push((await server.addChain(flip({ name: `aaa ${added.length}` }))).id);
  });
  expect(
    items
      .map(({ id }) => id)
      .filter((id) => !added.includes(id))
      .sort(),
  ).toEqual([...before].sort());
  expect(new Set(items.map(({ id }) => id)).size).toBe(items.length);
});

test.each([
  ['/chains?find=fog', ['Fog bank', 'fog']],
  ['/chains?find=FOG+bank', ['Fog bank']],
  ['/chains?find=og', []],
  ['/chains?find=reverse+%C3%96l', ['Öl']],
  ['/sounds?find=fog', ['Fog bank', 'fog']],
  ['/sounds?find=og+B', ['Fog bank']],
  ['/sounds?find=signal+fog', []],
  ['/sounds?kind=render', []],
  ['/sounds/names?find=%C3%9CBER', ['über']],
])('%s finds by words', async (path, names) => {
  const found = (await page<{ name: string }>(path)).items.map(({ name }) => name);
  expect([...new Set(found)].sort()).toEqual(names);
});

test.each([
  ['/chains?after=nowhere', 'is no place in this list'],
  ['/sounds?after=WzFd', 'is no place in this list'],
  ['/chains?sort=beauty', 'sort'],
  ['/sounds?limit=0', 'limit'],
  ['/sounds?limit=501', 'limit'],
  ['/sounds?kind=noise', 'kind'],
  ['/renders?done=maybe', 'done'],
])('%s is refused by name', async (path, word) => {
  const { status, body } = await server.get<{ detail: string }>(path);
  expect(status).toBe(422);
  expect(body.detail).toContain(word);
});

test('some are asked for by their ids; what is not there is left out', async () => {
  const [a, b] = (await page<SoundName>('/sounds/names')).items;
  expect((await page<Sound>(`/sounds?ids=${b.id},nobody,${a.id}`)).items.map(({ id }) => id)).toEqual([a.id, b.id]);
  const [chain] = (await page<ChainName>('/chains/names')).items;
  expect((await page<ChainEntry>(`/chains?ids=${chain.id}`)).items.map(({ id }) => id)).toEqual([chain.id]);
  expect((await page<ChainEntry>('/chains?ids=nobody')).items).toEqual([]);
});

test('a summary follows what is saved, also what is written past the server, and what cannot be read is left out where asked', async () => {
  const { id, revision } = await server.addChain(flip({ name: 'First' }));
  const entry = async () => (await page<ChainEntry>(`/chains?ids=${id}`)).items[0];
  const document = flip({ name: 'Second', about: { kind: 'swell', tags: ['late'] } });
  await server.send('POST', `/chains/${id}/versions`, { revision, document, why: '' });
  expect(await entry()).toMatchObject({ name: 'Second', kind: 'swell', tags: ['late'], version: 1, unsaved: false });
  expect((await page<ChainEntry>('/chains?find=late')).items.map((one) => one.id)).toEqual([id]);
  const database = new Database(join(server.folder, 'hexenkessel.sqlite'));
  database.prepare('UPDATE versions SET document = ? WHERE chain_id = ?').run('{', id);
  expect(await entry()).toMatchObject({ fault: expect.stringContaining('no JSON') as string });
  expect((await page<ChainEntry>(`/chains?ids=${id}&readable=true`)).items).toEqual([]);
  expect((await page<ChainName>('/chains/names')).items.some((one) => one.id === id)).toBe(false);
  database.prepare('UPDATE versions SET document = ? WHERE chain_id = ?').run(JSON.stringify(document), id);
  database.close();
  expect(await entry()).toMatchObject({ fault: null, kind: 'swell' });
});

test('a sound is needed by a version that names it, and as long as no other would do', async () => {
  const bed = (sound: object) =>
    parseChain(BUILT_INS, {
      ...emptyChain(BUILT_INS, 'Bed'),
      stages: [{ id: 'bed', kind: 'bed', settings: { sound } }],
    });
  const needs = async (id: string) => (await server.get<SoundNeeds>(`/sounds/${id}/needs`)).body.chains;
  const own = (await server.upload('Only one', wavBytes(pluck(0.31)))).body;
  const { id, revision } = await server.addChain(emptyChain(BUILT_INS, 'Bed'));
  const first = { revision, document: bed({ sound: own.name }), why: '' };
  const kept = (await server.send<ChainState>('POST', `/chains/${id}/versions`, first)).body;
  await server.send('PUT', `/chains/${id}/draft`, { revision: kept.revision, document: bed({ sound: '' }) });
  expect(await needs(own.id)).toEqual([{ id, name: 'Bed' }]);
  const other = (await server.upload('Only one', wavBytes(pluck(0.32)))).body;
  expect([await needs(own.id), await needs(other.id)]).toEqual([[], []]);
  const exact = { revision: kept.revision + 1, document: bed({ sound: 'whatever', sha256: other.sha256 }), why: '' };
  await server.send('POST', `/chains/${id}/versions`, exact);
  expect([await needs(own.id), await needs(other.id)]).toEqual([[], [{ id, name: 'Bed' }]]);
});

test('renders are asked for by chain, by source and by whether they are done; a family is all that belongs together', async () => {
  const source = (await server.upload('Grandmother', wavBytes(pluck(0.2)))).body;
  const chain = await server.addChain(flip({ name: 'Twice' }));
  const render = async (id: string) =>
    (await server.finished((await server.startRender(id, chain.id)).body.id)).soundId!;
  const child = await render(source.id);
  const grandchild = await render(child);
  const sibling = await render(source.id);
  const list = async (query: string) => (await page<Render>(`/renders?${query}`)).items.map(({ soundId }) => soundId);
  expect(await list(`chain=${chain.id}`)).toEqual([sibling, grandchild, child]);
  expect(await list(`chain=${chain.id}&source=${source.id}`)).toEqual([sibling, child]);
  expect(await list(`source=${source.id}&done=false`)).toEqual([]);
  expect(await list(`source=${source.id}&done=true&limit=1`)).toEqual([sibling]);
  for (const id of [source.id, child, grandchild]) {
    const family = (await page<Sound>(`/sounds/${id}/family`)).items.map((one) => one.id);
    expect(family).toEqual([sibling, grandchild, child, source.id]);
  }
  expect((await page<Sound>('/sounds?sort=-origin&limit=1')).items[0].lineage?.chainName).toBe('Twice');
});
