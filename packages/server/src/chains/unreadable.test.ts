/** Documents that cannot be read hide nothing else. */
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { emptyChain, parseChain } from '@hexenkessel/core/chain';
import type { ChainEntry, ChainState, Desk, Sound, SoundNeeds, Storage } from '@hexenkessel/core/protocol';
import { TestServer, flip, pluck, wavBytes } from '../testing/testServer.ts';

let server: TestServer;
beforeAll(async () => void (server = await TestServer.start()));
afterAll(() => server.remove());

/** Writes past the server, as a fault or another version would. */
function spoil(sql: string, ...values: readonly string[]): void {
  const database = new Database(join(server.folder, 'hexenkessel.sqlite'));
  database.prepare(sql).run(...values);
  database.close();
}
const chains = async () => (await server.get<ChainEntry[]>('/chains')).body;
const entryOf = async (id: string) => (await chains()).find((entry) => entry.id === id);
const upload = async (name: string, seconds: number) => (await server.upload(name, wavBytes(pluck(seconds)))).body;

const SPOILED = [
  ['no JSON', '{"format":"hexenkessel.chain"', 'What is stored of it is no JSON'],
  ['nothing', '', 'What is stored of it is no JSON'],
  [
    'a stage that there is no more',
    JSON.stringify({ ...flip({ name: 'x' }), stages: [{ id: 'a', kind: 'wobble' }] }),
    'wobble',
  ],
  ['a version to come', JSON.stringify({ ...flip({ name: 'x' }), version: 99 }), 'version'],
] as const;

test.each(SPOILED)('%s: an entry with its fault, downloaded as it is and deleted', async (_, text, fault) => {
  const good = await server.addChain(flip({ name: 'Good' }));
  const bad = await server.addChain(flip({ name: 'Bad' }));
  await server.send('POST', `/chains/${bad.id}/versions`, { revision: 1, document: flip({ name: 'Bad' }), why: '' });
  await server.send('PUT', `/chains/${bad.id}/draft`, { revision: 2, document: flip({ name: 'Bad' }) });
  spoil('UPDATE drafts SET document = ? WHERE chain_id = ?', text, bad.id);

  expect(await entryOf(good.id)).toMatchObject({ name: 'Good', stages: ['Reverse'], fault: null });
  const entry = await entryOf(bad.id);
  expect(entry).toMatchObject({ name: 'Bad', version: 1, unsaved: true });
  expect(entry?.fault).toContain(fault);
  const opened = await server.get<{ detail: string }>(`/chains/${bad.id}`);
  expect([opened.status, opened.body.detail]).toEqual([422, entry?.fault]);
  expect((await server.get(`/chains/${bad.id}/versions/1`)).status).toBe(200);

  const zip = Buffer.from(await (await server.fetch(`/chains/${bad.id}/stored`)).arrayBuffer());
  for (const part of ['draft.hxk.json', text, 'version-1.hxk.json', JSON.stringify(flip({ name: 'Bad' }))])
    expect(zip.includes(part)).toBe(true);

  expect((await server.send('DELETE', `/chains/${good.id}`)).status).toBe(409);
  expect((await server.send('DELETE', `/chains/${bad.id}`)).status).toBe(204);
  expect(await entryOf(bad.id)).toBeUndefined();
  expect((await server.get(`/chains/${bad.id}`)).status).toBe(404);
  expect(await entryOf(good.id)).toBeDefined();
});

test('storage and needs go on, and keep what the unreadable one may name', async () => {
  const [named, other, source] = [
    await upload('Named', 0.11),
    await upload('Other', 0.12),
    await upload('Plain', 0.13),
  ];
  const bed = await server.addChain(
    parseChain(BUILT_INS, {
      ...emptyChain(BUILT_INS, 'Bedded'),
      stages: [{ id: 'bed', kind: 'bed', settings: { sound: { sound: 'Named', sha256: named.sha256 } } }],
    }),
  );
  const made = await server.startRender(source.id, (await server.addChain(flip({ name: 'Turned' }))).id);
  const rendered = (await server.finished(made.body.id)).soundId!;
  spoil('UPDATE drafts SET document = substr(document, 1, length(document) - 1) WHERE chain_id = ?', bed.id);

  const needs = async (id: string) => (await server.get<SoundNeeds>(`/sounds/${id}/needs`)).body;
  expect((await needs(named.id)).chains).toEqual([{ id: bed.id, name: 'Bedded' }]);
  expect((await needs(other.id)).chains).toEqual([]);
  const storage = (await server.get<Storage>('/storage')).body;
  expect(storage.unneeded.map(({ id }) => id)).toContain(rendered);
  expect((await server.send('DELETE', `/sounds/${named.id}`)).status).toBe(409);
  expect((await server.send('DELETE', `/sounds/${other.id}`)).status).toBe(204);
});

test('a chain that renders were made with goes from the list, and they keep its name', async () => {
  const source = await upload('Source', 0.14);
  const { id } = await server.addChain(flip({ name: 'Made it' }));
  const done = await server.finished((await server.startRender(source.id, id)).body.id);
  spoil('UPDATE drafts SET document = ? WHERE chain_id = ?', 'x', id);
  expect((await server.send('DELETE', `/chains/${id}`)).status).toBe(204);
  expect(await entryOf(id)).toBeUndefined();
  const sound = (await server.get<Sound>(`/sounds/${done.soundId}`)).body;
  expect(sound.lineage).toMatchObject({ chainName: 'Made it', sourceName: 'Source' });
  expect((await server.send('POST', '/renders', { sourceId: source.id, chainId: id, revision: 1 })).status).toBe(404);
});

test('a render whose chain cannot be read fails by itself, and those behind it are made', async () => {
  const source = await upload('Queue', 0.15);
  const { id } = await server.addChain(flip({ name: 'Queued' }));
  const long = await server.addChain(
    parseChain(BUILT_INS, {
      ...emptyChain(BUILT_INS, 'Long'),
      stages: Array.from({ length: 8 }, (_, n) => ({ id: `h${n}`, kind: 'hall', settings: { decay: 20 } })),
      render: { tail: { mode: 'fixed', length: 60 } },
    }),
  );
  // What waits behind a long one is spoiled meanwhile.
  const before = await server.startRender(source.id, long.id);
  const [first, second] = [await server.startRender(source.id, id), await server.startRender(source.id, id)];
  spoil('UPDATE renders SET document = ? WHERE id = ?', '{', first.body.id);
  await server.send('POST', `/renders/${before.body.id}/cancel`);
  expect(await server.finished(second.body.id)).toMatchObject({ status: 'done' });
  const list = (await server.get<{ id: string; status: string; error: string }[]>('/renders')).body;
  expect(list.find((entry) => entry.id === first.body.id)).toMatchObject({
    status: 'failed',
    error: expect.stringContaining('no JSON') as string,
  });
});

test('a slot that cannot be read is left out and not lost; another one is kept beside it', async () => {
  const { id } = await server.addChain(flip({ name: 'Slotted' }));
  const slot = (name: string) => ({ name, document: flip({ name }) });
  await server.send('PATCH', `/chains/${id}/desk`, { slots: { B: slot('Dark'), C: slot('Bright') } });
  spoil(`UPDATE desks SET content = replace(content, '"kind":"reverse"', '"kind":"wobble"') WHERE chain_id = ?`, id);
  const after = await server.send<Desk>('PATCH', `/chains/${id}/desk`, { slots: { C: slot('Bright') } });
  expect(Object.keys(after.body.slots)).toEqual(['C']);
  spoil(`UPDATE desks SET content = replace(content, '"kind":"wobble"', '"kind":"reverse"') WHERE chain_id = ?`, id);
  expect(Object.keys((await server.get<Desk>(`/chains/${id}/desk`)).body.slots)).toEqual(['B', 'C']);
  spoil('UPDATE desks SET content = ? WHERE chain_id = ?', 'none', id);
  expect((await server.get<Desk>(`/chains/${id}/desk`)).body.slots).toEqual({});
  expect((await server.get<ChainState>(`/chains/${id}`)).status).toBe(200);
});
