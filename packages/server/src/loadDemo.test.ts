import { afterAll, beforeAll, expect, test, vi } from 'vitest';
import { DEMO_CHAINS } from '@hexenkessel/demo';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { emptyChain } from '@hexenkessel/core/chain';
import type { ChainEntry } from '@hexenkessel/core/protocol';
import { loadDemo } from './loadDemo.ts';
import { TestServer, pluck, wavBytes } from './testing/testServer.ts';

// Its sounds take long to make; they are tried with a process that is killed, in start.test.ts.
vi.mock('@hexenkessel/demo', async (original) => ({ ...(await original<object>()), DEMO_SOUNDS: [] }));

let server: TestServer;
beforeAll(async () => void (server = await TestServer.start()));
afterAll(() => server.remove());

test('broken off among the chains there is none of them; the next time all are there, and once', async () => {
  const { services } = server;
  const { chains } = services;
  let added = 0;
  const addKept = (...what: Parameters<typeof chains.addKept>) =>
    ++added > 20 ? Promise.reject(new Error('killed')) : chains.addKept(...what);
  const count = () => chains.count();
  await expect(loadDemo({ ...services, chains: { addKept, count } as unknown as typeof chains })).rejects.toThrow(
    'killed',
  );
  expect(added).toBe(21);
  const names = async () => (await server.get<ChainEntry[]>('/chains')).body.map(({ name }) => name);
  expect(await chains.count()).toBe(0);
  expect(await loadDemo(services)).toBe(true);
  expect(await names()).toEqual(DEMO_CHAINS.map(({ name }) => name));
  expect(await loadDemo(services)).toBe(false);
  expect(await chains.count()).toBe(DEMO_CHAINS.length);
});

test.each(['a sound', 'a chain'])('a store in which somebody has put %s gets no demo', async (what) => {
  const own = await TestServer.start();
  if (what === 'a sound') await own.upload('Mine', wavBytes(pluck(0.1)));
  else await own.addChain(emptyChain(BUILT_INS, 'Mine'));
  expect(await loadDemo(own.services)).toBe(false);
  expect((await own.get<ChainEntry[]>('/chains')).body.length).toBe(what === 'a chain' ? 1 : 0);
  await own.remove();
});
