import * as files from 'node:fs';
import { mkdir, readdir, rename, rm, truncate, writeFile } from 'node:fs/promises';
import * as promises from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { afterAll, beforeAll, expect, test, vi } from 'vitest';
import type { Sound } from '@hexenkessel/core/protocol';
import { TestServer, pluck, wavBytes } from '../testing/testServer.ts';

/** What was done with the disk, in its order: `flush PATH`, `move PATH`. */
const { calls } = vi.hoisted(() => ({ calls: [] as string[] }));
vi.mock('node:fs/promises', async (original) => {
  const real = await original<typeof promises>();
  return {
    ...real,
    rename: async (from: string, to: string) => {
      await real.rename(from, to);
      calls.push(`move ${to}`);
    },
    open: async (path: string, flags: string) => {
      const file = await real.open(path, flags);
      const sync = file.sync.bind(file);
      file.sync = async () => {
        await sync();
        calls.push(`flush ${path}`);
      };
      return file;
    },
  };
});

vi.mock('node:fs', async (original) => {
  const real = await original<typeof files>();
  return {
    ...real,
    createWriteStream: (path: string, options: Parameters<typeof files.createWriteStream>[1]) => {
      const flushing = (handle: number, done: (error: Error | null) => void) =>
        real.fsync(handle, (error) => {
          calls.push(`flush ${path}`);
          done(error);
        });
      return real.createWriteStream(path, { ...(options as object), fs: { ...real, fsync: flushing } as typeof real });
    },
  };
});

let server: TestServer;
beforeAll(async () => void (server = await TestServer.start()));
afterAll(() => server.remove());

const pathOf = ({ sha256 }: Sound) => join(server.folder, 'audio', sha256.slice(0, 2), `${sha256}.wav`);

test('a sound that is kept is on the disk, with its folders, before its row is written and the answer given', async () => {
  calls.length = 0;
  const { sounds } = server.services;
  const add = sounds.add.bind(sounds);
  const adding = vi.spyOn(sounds, 'add').mockImplementation(async (...given) => {
    calls.push('row');
    return add(...given);
  });
  const { body } = await server.upload('Flushed', wavBytes(pluck(0.1)));
  adding.mockRestore();
  const folder = dirname(pathOf(body));
  expect(calls[0]).toContain(`flush ${join(server.folder, 'unfinished')}`);
  expect(calls.slice(1)).toEqual([`move ${pathOf(body)}`, `flush ${folder}`, `flush ${dirname(folder)}`, 'row']);
});

test('audio that no sound has is laid aside at the start; what is in use, and what is no audio, is not', async () => {
  const kept = (await server.upload('Kept', wavBytes(pluck(0.15)))).body;
  const orphan = pathOf({ ...kept, sha256: 'ab'.repeat(32) });
  const other = join(server.folder, 'audio', 'read me.wav');
  await server.close();
  await mkdir(dirname(orphan), { recursive: true });
  await writeFile(orphan, 'half of something');
  await writeFile(other, 'of somebody');
  await server.open();
  expect(await readdir(dirname(orphan))).toEqual([]);
  expect(await readdir(join(server.folder, 'orphaned'))).toEqual([`${'ab'.repeat(32)}.wav`]);
  expect(await readdir(dirname(other))).toContain('read me.wav');
  expect((await server.fetch(`/sounds/${kept.id}/audio`)).status).toBe(200);
  await rm(other);
});

test('with an empty database in place of the right one no audio is lost: it is there again when that is back', async () => {
  const kept = (await server.upload('Not lost', wavBytes(pluck(0.25)))).body;
  const database = join(server.folder, 'hexenkessel.sqlite');
  await server.close();
  await rename(database, `${database}.away`);
  await server.open();
  expect((await server.get<Sound[]>('/sounds')).body).toEqual([]);
  await server.close();
  for (const name of ['', '-wal', '-shm']) await rm(`${database}${name}`, { force: true });
  await rename(`${database}.away`, database);
  await server.open();
  expect((await server.get<Sound[]>('/sounds')).body.filter(({ missing }) => missing)).toEqual([]);
  expect((await server.fetch(`/sounds/${kept.id}/audio`)).status).toBe(200);
});

test('audio that was cut is missing, and no broken download', async () => {
  const { id, sha256 } = (await server.upload('Cut', wavBytes(pluck(0.2)))).body;
  await truncate(pathOf({ sha256 } as Sound), 500);
  expect((await server.get<Sound>(`/sounds/${id}`)).body.missing).toBe(true);
  expect((await server.get<Sound[]>(`/sounds?ids=${id}`)).body[0].missing).toBe(true);
  expect((await server.fetch(`/sounds/${id}/audio`)).status).toBe(404);
  const back = await server.fetch(`/sounds/${id}/audio`, { method: 'PUT', body: wavBytes(pluck(0.2)) as BodyInit });
  expect(((await back.json()) as Sound).missing).toBe(false);
});
