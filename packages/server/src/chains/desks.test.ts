import { afterAll, beforeAll, expect, test } from 'vitest';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { assign, emptyChain, parseChain } from '@hexenkessel/core/chain';
import { TEST_SIGNALS } from '@hexenkessel/core/analysis';
import type { Desk, Sound } from '@hexenkessel/core/protocol';
import { loadSignals } from '../loadSignals.ts';
import { TestServer, pluck, wavBytes } from '../testing/testServer.ts';

let server: TestServer;
beforeAll(async () => void (server = await TestServer.start()));
afterAll(() => server.remove());

const hall = parseChain(BUILT_INS, { ...emptyChain(BUILT_INS, 'Dome'), stages: [{ id: 'hall', kind: 'hall' }] });

test('a desk is empty at first and keeps what it is given, part by part, over a restart', async () => {
  const { id } = await server.addChain(hall);
  const sound = (await server.upload('Pluck', wavBytes(pluck(0.1)))).body;
  const desk = () => server.get<Desk>(`/chains/${id}/desk`);
  expect((await desk()).body).toEqual({ shelf: [], slot: 'A', slots: {} });
  const darker = assign(BUILT_INS, hall, 'hall.decay=5s');
  await server.send('PATCH', `/chains/${id}/desk`, { shelf: [sound.id] });
  await server.send('PATCH', `/chains/${id}/desk`, { slot: 'B', slots: { A: { name: 'longer', document: darker } } });
  await server.close();
  await server.open();
  expect((await desk()).body).toEqual({
    shelf: [sound.id],
    slot: 'B',
    slots: { A: { name: 'longer', document: darker } },
  });
});

test('what a desk cannot hold is refused in words and changes nothing', async () => {
  const { id } = await server.addChain(hall);
  const keep = (body: object) => server.send<{ detail: string }>('PATCH', `/chains/${id}/desk`, body);
  expect(
    (await keep({ slots: { A: { name: '', document: { ...hall, stages: [{ id: 'x', kind: 'wobble' }] } } } })).body
      .detail,
  ).toContain('wobble');
  expect((await keep({ slot: 'E' })).status).toBe(422);
  expect((await keep({ shelf: Array.from({ length: 41 }, () => 'x') })).status).toBe(422);
  expect((await server.send('PATCH', '/chains/nobody/desk', { shelf: [] })).status).toBe(404);
  // A sound that is not there any more falls off the shelf by itself.
  expect((await keep({ shelf: ['gone'] })).body).toMatchObject({ shelf: [] });
});

test('the test signals are there once, whatever is done with them, and count as no sounds of the user', async () => {
  const signals = async () => (await server.get<Sound[]>('/sounds')).body.filter(({ kind }) => kind === 'signal');
  const { services } = server;
  const before = await services.sounds.count();
  await loadSignals(services);
  await loadSignals(services);
  expect((await signals()).map(({ name }) => name).sort()).toEqual(TEST_SIGNALS.map(({ name }) => name).sort());
  expect(await services.sounds.count()).toBe(before);
  const silence = (await signals()).find(({ name }) => name === 'Silence');
  expect(silence).toMatchObject({ peak: null, frames: 4 * 48000, format: 'f32' });
});
