/** What a server does with the folder it is given, as it is started from a shell. */
import { mkdtemp, mkdir, readFile, readdir, rm, stat, truncate, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { ChainEntry, ChainState, Sound } from '@hexenkessel/core/protocol';
import { DEMO_CHAINS, DEMO_SOUNDS } from '@hexenkessel/demo';
import { addressOf, startProcess } from '../testing/serverProcess.ts';
import { TestServer, pluck, wavBytes } from '../testing/testServer.ts';

let folder: string;
beforeAll(async () => void (folder = await mkdtemp(join(tmpdir(), 'hexenkessel-start-'))));
afterAll(() => rm(folder, { recursive: true, force: true }));

describe('a folder that cannot be used: it is said which, why and what to do, and the process ends', () => {
  const refused = async (data: string, words: readonly string[], shell?: string) => {
    const started = startProcess(data, shell);
    expect(await started.ended).toBe(1);
    for (const word of words) expect(started.printed()).toContain(word);
    expect(started.printed()).not.toContain('is up at');
  };

  test('a file in its place, and a place where none can be made', async () => {
    await writeFile(join(folder, 'file'), '');
    await refused(join(folder, 'file'), [join(folder, 'file'), 'a file is there, and no folder', 'HEXENKESSEL_DATA']);
    await refused('/proc/nobody/data', ['/proc/nobody', 'none can be made there', 'HEXENKESSEL_DATA']);
  });

  test('a disk that takes no more', async () => {
    const data = join(folder, 'full');
    await refused(data, [data, 'a file gets larger than is allowed there'], 'ulimit -f 100; exec "$0" "$@"');
    // Nothing half-made stands in the way of the next start.
    expect(await readdir(join(data, 'unfinished'))).toEqual([]);
  });

  test('a database that is none, one that is cut, and one of a newer version', async () => {
    const data = join(folder, 'damaged');
    const file = join(data, 'hexenkessel.sqlite');
    await mkdir(data);
    await writeFile(file, Buffer.alloc(20_000, 'hexen'));
    await refused(data, [`The database ${file} is damaged`, 'Put a copy of it back']);
    expect((await readFile(file)).equals(Buffer.alloc(20_000, 'hexen'))).toBe(true);
    await rm(file);
    const server = await TestServer.start(data);
    await server.close();
    const { size } = await stat(file);
    await truncate(file, Math.floor(size / 2 / 4096) * 4096);
    await refused(data, [`The database ${file} is damaged`]);
    await rm(data, { recursive: true });
    await (await TestServer.start(data)).close();
    const newer = new Database(file);
    newer.exec(`INSERT INTO knex_migrations (name, batch, migration_time) VALUES ('29990101_newer', 9, 0)`);
    newer.close();
    await refused(data, [file, 'written by a newer Hexenkessel']);
  });
});

test('a second server on the folder is refused, names the first, and touches nothing of it', async () => {
  const first = await TestServer.start();
  const upload = join(first.folder, 'unfinished', 'an-upload');
  await writeFile(upload, 'half of it');
  const second = startProcess(first.folder);
  expect(await second.ended).toBe(1);
  expect(second.printed()).toContain(
    `The data folder ${first.folder} is held by another Hexenkessel (process ${process.pid}`,
  );
  expect(second.printed()).toContain(`at ${first.address}`);
  await expect(TestServer.start(first.folder)).rejects.toThrow('is held by another Hexenkessel');
  expect(await readFile(upload, 'utf8')).toBe('half of it');
  expect((await first.upload('Still here', wavBytes(pluck(0.1)))).status).toBe(201);
  await first.close();
  await first.open();
  await first.remove();
});

test('a first start that is killed while the demo comes in goes on at the next one', async () => {
  const data = join(folder, 'killed');
  const first = startProcess(data);
  const audio = () => readdir(join(data, 'audio')).catch((): string[] => []);
  await expect.poll(async () => (await audio()).length, { timeout: 100_000, interval: 20 }).toBeGreaterThanOrEqual(3);
  first.process.kill('SIGKILL');
  await first.ended;
  expect(first.printed()).not.toContain('is up');
  expect((await audio()).length).toBeLessThan(DEMO_SOUNDS.length);

  // The hold on the folder has ended with the process.
  const second = startProcess(data);
  const at = await addressOf(second);
  const get = async <T>(path: string) => (await (await fetch(`${at}/api${path}`)).json()) as T;
  const sounds = (await get<Sound[]>('/sounds')).filter(({ kind }) => kind === 'source');
  expect(sounds.map(({ name }) => name)).toEqual(DEMO_SOUNDS.map(({ name }) => name));
  const chains = await get<ChainEntry[]>('/chains');
  expect(chains.map(({ name }) => name).sort()).toEqual(DEMO_CHAINS.map(({ name }) => name).sort());
  expect(chains.every(({ version, unsaved, fault }) => version === 1 && !unsaved && fault === null)).toBe(true);
  expect((await get<ChainState>(`/chains/${chains[0].id}`)).versions).toHaveLength(1);
  second.process.kill('SIGTERM');
  expect(await second.ended).toBe(0);
}, 240_000);
