/** Checking, backing up and restoring a store, as from a shell. */
import { execFile } from 'node:child_process';
import { appendFile, mkdir, mkdtemp, readFile, readdir, rename, rm, truncate, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import Database from 'better-sqlite3';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { emptyChain, parseChain } from '@hexenkessel/core/chain';
import type { ChainEntry, Sound } from '@hexenkessel/core/protocol';
import { addressOf, startProcess } from '../testing/serverProcess.ts';
import { TestServer, pluck, wavBytes } from '../testing/testServer.ts';
import { stageBackup } from './restore.ts';

const BIN = fileURLToPath(new URL('../../bin/hexenkessel-server.js', import.meta.url));
let folder: string;
let server: TestServer;
let sounds: Sound[];
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'hexenkessel-operating-'));
  server = await TestServer.start();
  sounds = [];
  for (const seconds of [0.1, 0.2, 0.3])
    sounds.push((await server.upload(`Pluck ${seconds}`, wavBytes(pluck(seconds)))).body);
  await server.addChain(parseChain(BUILT_INS, emptyChain(BUILT_INS, 'Kept')));
});
afterAll(async () => {
  await server.remove();
  await rm(folder, { recursive: true, force: true });
});

interface Ran {
  readonly code: number;
  readonly text: string;
}

function run(data: string, ...args: string[]): Promise<Ran> {
  return new Promise((resolve) => {
    const env = { ...process.env, HEXENKESSEL_DATA: data, NODE_OPTIONS: '' };
    execFile(process.execPath, [BIN, ...args], { env }, (error, out, err) =>
      resolve({ code: error ? Number(error.code) : 0, text: `${out}${err}` }),
    );
  });
}

const pathOf = (data: string, { sha256 }: Sound) => join(data, 'audio', sha256.slice(0, 2), `${sha256}.wav`);

/** A store of its own, from a backup of the one that runs. */
async function restored(name: string): Promise<string> {
  const zip = join(folder, `${name}.zip`);
  await writeFile(zip, Buffer.from(await (await server.fetch('/backup')).arrayBuffer()));
  const data = join(folder, name);
  expect(await run(data, 'restore', zip)).toMatchObject({ code: 0 });
  return data;
}

test('a backup made while the server runs is, put into an empty folder, the same store', async () => {
  const data = await restored('again');
  const other = await TestServer.start(data);
  const list = async (from: TestServer) => (await from.get<Sound[]>('/sounds')).body;
  expect(await list(other)).toEqual(await list(server));
  expect((await other.get<ChainEntry[]>('/chains')).body.map(({ name }) => name)).toEqual(['Kept']);
  const audio = await other.fetch(`/sounds/${sounds[1].id}/audio`);
  expect(Buffer.from(await audio.arrayBuffer()).equals(await readFile(pathOf(server.folder, sounds[1])))).toBe(true);
  // While it is held nothing of it is touched.
  for (const command of [
    ['check', '--mend'],
    ['backup', join(folder, 'held.zip')],
    ['restore', join(folder, 'again.zip')],
  ])
    expect(await run(data, ...command)).toMatchObject({ code: 2, text: expect.stringContaining('is held by another') });
  await other.close();
  expect(await run(data, 'restore', join(folder, 'again.zip'))).toMatchObject({
    code: 2,
    text: expect.stringContaining('holds a store already'),
  });
  const zip = join(folder, 'by hand.zip');
  expect(await run(data, 'backup', zip)).toMatchObject({ code: 0, text: expect.stringContaining('3 files of audio') });
  expect(await run(join(folder, 'third'), 'restore', zip)).toMatchObject({ code: 0 });
  expect(await run(join(folder, 'third'), 'check')).toMatchObject({
    code: 0,
    text: expect.stringContaining('is whole'),
  });
  expect(await readdir(join(server.folder, 'unfinished'))).toEqual([]);
});

test('a backup that is cut, changed or none is refused, and nothing of it is put in place', async () => {
  const whole = Buffer.from(await (await server.fetch('/backup')).arrayBuffer());
  const at = whole.indexOf(await readFile(pathOf(server.folder, sounds[2])).then((bytes) => bytes.subarray(0, 200)));
  const changed = Buffer.from(whole);
  changed[at + 150] ^= 1;
  for (const [name, bytes, why] of [
    ['cut', whole.subarray(0, whole.length - 400), 'no whole ZIP file'],
    ['changed', changed, 'is damaged|cannot be read'],
    ['none', Buffer.from('a letter'), 'no whole ZIP file'],
  ] as const) {
    const zip = join(folder, `${name}.zip`);
    const data = join(folder, `of ${name}`);
    await writeFile(zip, bytes);
    expect(await run(data, 'restore', zip)).toMatchObject({ code: 2, text: expect.stringMatching(why) });
    expect((await readdir(data)).sort()).toEqual(['lock.sqlite', 'unfinished']);
    expect(await readdir(join(data, 'unfinished'))).toEqual([]);
  }
});

test('a store is gone through: what is damaged is said, mended where it can be, and whole after that', async () => {
  const data = await restored('damaged');
  await truncate(pathOf(data, sounds[0]), 1000);
  await appendFile(pathOf(data, sounds[1]), 'more');
  await rm(pathOf(data, sounds[2]));
  await writeFile(join(data, 'unfinished', 'half'), 'half');
  const database = new Database(join(data, 'hexenkessel.sqlite'));
  database.prepare('UPDATE sounds SET marks = ? WHERE id = ?').run('{"loops":', sounds[2].id);
  database.prepare('UPDATE drafts SET document = ?').run('{"no": "chain"}');
  database.pragma('foreign_keys = OFF');
  database.exec(
    `INSERT INTO mix_parts (mix_id, position, part_id, level, muted, "offset") VALUES ('x', 0, 'y', 0, 0, 0)`,
  );
  database.close();

  const found = await run(data, 'check');
  expect(found.code).toBe(1);
  for (const words of [
    'The audio of “Pluck 0.1” has 1000 bytes instead of',
    'The audio of “Pluck 0.2” has',
    'The audio of “Pluck 0.3” is missing',
    'marks of “Pluck 0.3” cannot be read',
    'draft of the chain “Kept” cannot be read',
    'row of mix_parts',
    'unfinished was left: half',
  ])
    expect(found.text).toContain(words);
  // Looking changes nothing.
  expect((await run(data, 'check')).text).toBe(found.text);

  await run(data, 'check', '--mend');
  const after = await run(data, 'check');
  // What was laid aside is told as missing; the chain and the sound are there for their owner to decide on.
  expect(after.text.match(/is missing/g)).toHaveLength(3);
  expect(after.text).toMatch(/4 found, 4 left/);
  expect((await readdir(join(data, 'damaged'))).sort()).toEqual([0, 1].map((n) => `${sounds[n].sha256}.wav`).sort());
  const other = await TestServer.start(data);
  const bytes = await readFile(pathOf(server.folder, sounds[0]));
  const back = await other.fetch(`/sounds/${sounds[0].id}/audio`, { method: 'PUT', body: bytes as BodyInit });
  expect(back.status).toBe(200);
  expect((await other.get<Sound[]>('/sounds')).body.filter(({ missing }) => missing)).toHaveLength(2);
  await other.close();
});

/** What a store holds, as it is told of. */
async function contentsOf(base: string): Promise<readonly string[]> {
  const names = async (list: string) =>
    ((await (await fetch(`${base}/api/${list}/names`)).json()) as { name: string }[]).map(({ name }) => name);
  return [...(await names('chains')), ...(await names('sounds'))];
}

test(
  'a backup takes the place of the demo over HTTP; where anything was done it is refused',
  { timeout: 120_000 },
  async () => {
    const zip = Buffer.from(await (await server.fetch('/backup')).arrayBuffer());
    const wanted = await contentsOf(server.address);
    const data = join(folder, 'over http');
    const started = startProcess(data);
    const base = await addressOf(started);
    expect(await (await fetch(`${base}/api/storage`)).json()).toMatchObject({ restorable: true });
    const restore = (bytes: Buffer) =>
      fetch(`${base}/api/restore`, {
        method: 'POST',
        body: bytes as BodyInit,
        headers: { 'content-type': 'application/zip' },
      });
    const refused = await restore(zip.subarray(0, 3000));
    expect([refused.status, ((await refused.json()) as { detail: string }).detail]).toEqual([
      422,
      expect.stringContaining('no whole ZIP file'),
    ]);
    expect((await contentsOf(base)).length).toBeGreaterThan(wanted.length);

    const answer = await restore(zip);
    expect([answer.status, await answer.json()]).toEqual([202, { made: expect.any(String) as string, sounds: 3 }]);
    await expect.poll(() => started.printed(), { timeout: 30_000 }).toContain('is up again at');
    // The test signals are there in every store.
    expect(await contentsOf(base)).toEqual(expect.arrayContaining([...wanted]));
    expect((await contentsOf(base)).filter((name) => name === 'Tide Turning' || name === 'Foghorn')).toEqual([]);
    const again = await restore(zip);
    expect([again.status, ((await again.json()) as { detail: string }).detail]).toEqual([
      409,
      expect.stringContaining('is worked with already'),
    ]);
    started.process.kill('SIGTERM');
    expect(await started.ended).toBe(0);
    expect((await run(data, 'check')).text).toContain('is whole');
  },
);

test.each([0, 1, 2, 3])(
  'a restore that is broken off when %d files were in place goes on at the next start',
  async (done) => {
    const zip = join(folder, `broken ${done}.zip`);
    await writeFile(zip, Buffer.from(await (await server.fetch('/backup')).arrayBuffer()));
    const data = join(folder, `broken off ${done}`);
    // Something that shall go, and a folder that a killed backup has left.
    const before = await TestServer.start(data);
    await before.upload('Of the demo', wavBytes(pluck(0.15)));
    await before.close();
    await mkdir(join(data, 'unfinished', 'a backup'));
    const { files } = await stageBackup(zip, data);
    if (done > 0) {
      await rm(join(data, 'audio'), { recursive: true });
      await writeFile(join(data, 'restored', 'cleared'), '');
      for (const { path } of [...files].reverse().slice(0, done)) {
        await mkdir(dirname(join(data, path)), { recursive: true });
        await rename(join(data, 'restored', path), join(data, path));
      }
    }
    const other = await TestServer.start(data);
    expect(await contentsOf(other.address)).toEqual(await contentsOf(server.address));
    expect((await other.get<Sound[]>('/sounds')).body.filter(({ missing }) => missing)).toEqual([]);
    await other.close();
    expect(await readdir(join(data, 'unfinished'))).toEqual([]);
    expect(await readdir(data)).not.toContain('restored');
  },
);

test('a backup of a newer version is refused by name', async () => {
  const data = await restored('newer');
  const database = new Database(join(data, 'hexenkessel.sqlite'));
  database.exec(`INSERT INTO knex_migrations (name, batch, migration_time) VALUES ('29990101_newer', 9, 0)`);
  database.close();
  expect(await run(data, 'backup', join(folder, 'newer.zip'))).toMatchObject({ code: 0 });
  expect(await run(join(folder, 'older'), 'restore', join(folder, 'newer.zip'))).toMatchObject({
    code: 2,
    text: expect.stringContaining('made by a newer Hexenkessel'),
  });
});

test('what is no command, and no store, is said', async () => {
  expect(await run(join(folder, 'nowhere'), 'check')).toMatchObject({
    code: 2,
    text: expect.stringContaining('no store in'),
  });
  expect(await run(folder, 'mend')).toMatchObject({ code: 2, text: expect.stringContaining('unknown command') });
  expect((await run(folder, '--help')).text).toContain('hexenkessel-server restore museum.zip');
});
