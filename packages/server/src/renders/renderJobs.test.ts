import { stat } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test, vi } from 'vitest';
import { pino } from 'pino';
import { parseChain, emptyChain } from '@hexenkessel/core/chain';
import { BUILT_INS } from '@hexenkessel/core/stages';
import type { Render } from '@hexenkessel/core/protocol';
import { connectDatabase } from '../database/connect.ts';
import { TestServer, pluck, wavBytes } from '../testing/testServer.ts';
import { RenderJobs } from './renderJobs.ts';
import { Renders } from './renders.ts';

let server: TestServer;
beforeAll(async () => void (server = await TestServer.start()));
afterAll(() => server.remove());

test('a job that comes while the next one is being looked for is not left lying', async () => {
  const { files, sounds, chains, workers } = server.services;
  const database = await connectDatabase(join(server.folder, 'hexenkessel.sqlite'));
  const renders = new Renders(database, sounds, chains);
  const chain = await server.addChain(parseChain(BUILT_INS, emptyChain(BUILT_INS, 'Plain')));
  const sound = (await server.upload('Pluck', wavBytes(pluck(0.1)))).body;
  // The first look finds nothing, and its answer is only given when another job has come.
  let answer = () => undefined as void;
  const late = new Promise<void>((resolve) => (answer = resolve));
  let looks = 0;
  const slow = new Proxy(database, {
    apply(target, self, [table]: [string]) {
      const query = Reflect.apply(target, self, [table]) as ReturnType<typeof database>;
      const select = query.select.bind(query) as (...columns: string[]) => Promise<unknown>;
      if (table === 'jobs')
        Object.assign(query, {
          select: async (...columns: string[]) => {
            const found = await select(...columns);
            if (looks++ === 0) await late;
            return found;
          },
        });
      return query;
    },
  });
  const jobs = new RenderJobs({ database: slow, files, renders, sounds, workers, log: pino({ level: 'silent' }) });
  const done = new Promise<string>((resolve) =>
    jobs.on('change', (render) => {
      if (render.status === 'done') resolve(render.name);
    }),
  );
  await jobs.open();
  await expect.poll(() => looks).toBe(1);
  await jobs.add({ sourceId: sound.id, chainId: chain.id, revision: 1 });
  answer();
  expect(await done).toBe('Pluck – Plain');
  await jobs.close();
  await database.destroy();
});

test('a render that ended the server twice is given up and says so; one that was stopped in order is not', async () => {
  const chain = await server.addChain(parseChain(BUILT_INS, emptyChain(BUILT_INS, 'Again')));
  const sound = (await server.upload('Pluck', wavBytes(pluck(0.1)))).body;
  const began: string[] = [];
  for (const attempts of [1, 2]) {
    const { id } = (await server.startRender(sound.id, chain.id)).body;
    await server.finished(id);
    began.push(id);
    const database = await connectDatabase(join(server.folder, 'hexenkessel.sqlite'));
    await database('jobs').where({ id }).update({ status: 'running', attempts });
    await database.destroy();
  }
  await server.close();
  await server.open();
  const [once, twice] = await Promise.all(began.map((id) => server.finished(id)));
  expect(once.status).toBe('done');
  expect(twice).toMatchObject({ status: 'failed', error: expect.stringContaining('ended twice') });
});

test('a render that would not fit on the disk is refused before the work; one that takes too long is ended', async () => {
  const chain = await server.addChain(parseChain(BUILT_INS, emptyChain(BUILT_INS, 'Large')));
  const sound = (await server.upload('Pluck', wavBytes(pluck(0.1)))).body;
  const free = vi.spyOn(server.services.files, 'freeBytes').mockResolvedValue(5_000_000);
  const { id } = (await server.startRender(sound.id, chain.id)).body;
  expect(await server.finished(id)).toMatchObject({
    status: 'failed',
    error: expect.stringContaining('The disk is full: the render takes up to 1 MB, 5 MB are free'),
  });
  free.mockRestore();

  const { files, sounds, workers } = server.services;
  const database = await connectDatabase(join(server.folder, 'hexenkessel.sqlite'));
  const renders = new Renders(database, sounds, server.services.chains);
  const log = pino({ level: 'silent' });
  const jobs = new RenderJobs({ database, files, renders, sounds, workers, log, patience: () => 100 });
  const halls = Array.from({ length: 12 }, (_, n) => ({ id: `h${n}`, kind: 'hall', settings: { decay: 20 } }));
  const long = await server.addChain(
    parseChain(BUILT_INS, {
      ...emptyChain(BUILT_INS, 'Long'),
      stages: halls,
      render: { tail: { mode: 'fixed', length: 60 } },
    }),
  );
  const over = new Promise<Render>((resolve) =>
    jobs.on('change', (render) => {
      if (!['queued', 'running'].includes(render.status)) resolve(render);
    }),
  );
  await jobs.add({ sourceId: sound.id, chainId: long.id, revision: 1 });
  expect(await over).toMatchObject({ status: 'failed', error: expect.stringContaining('It was ended after') });
  await jobs.close();
  await database.destroy();
});

test('on a full disk what frees room still works: a reserve is let go of, and taken back when there is room', async () => {
  const reserve = join(server.folder, 'reserve');
  expect((await stat(reserve)).size).toBe(8 * 1024 * 1024);
  const sound = (await server.upload('Going', wavBytes(pluck(0.3)))).body;
  const free = vi.spyOn(server.services.files, 'freeBytes').mockResolvedValue(0);
  expect((await server.send('DELETE', `/sounds/${sound.id}`)).status).toBe(204);
  await expect(stat(reserve)).rejects.toThrow('ENOENT');
  free.mockRestore();
  expect((await server.send('DELETE', `/sounds/${sound.id}`)).status).toBe(404);
  await server.close();
  await server.open();
  expect((await stat(reserve)).size).toBe(8 * 1024 * 1024);
});

test('a few renders of one chain do not wait for the many of another', async () => {
  const named = async (name: string, more: object = {}) =>
    server.addChain(parseChain(BUILT_INS, { ...emptyChain(BUILT_INS, name), ...more }));
  const long = await named('Long', {
    stages: [{ id: 'h', kind: 'hall' }],
    render: { tail: { mode: 'fixed', length: 120 } },
  });
  const [many, few, other] = [await named('Many'), await named('Few'), await named('Other')];
  const sound = (await server.upload('Pluck', wavBytes(pluck(0.1)))).body;
  const order = new Map<string, string>();
  const note = ({ id, status, chainName }: Render) => void (status === 'running' && order.set(id, chainName));
  const ask = async (chain: { readonly id: string }) => (await server.startRender(sound.id, chain.id)).body.id;
  // All of them wait behind this one.
  const before = await ask(long);
  server.services.jobs.on('change', note);
  const asked: string[] = [];
  for (const chain of [many, many, many, many, many, few, few, other]) asked.push(await ask(chain));
  await server.send('POST', `/renders/${before}/cancel`);
  for (const id of asked) await server.finished(id);
  server.services.jobs.off('change', note);
  order.delete(before);
  expect([...order.values()]).toEqual(['Many', 'Few', 'Other', 'Many', 'Few', 'Many', 'Many', 'Many']);
});
