/** Stores of every schema that was ever released are opened, and nothing of them is lost. */
import { mkdir, mkdtemp, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import knex from 'knex';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { connectDatabase } from './connect.ts';
import { MIGRATIONS } from './migrations/migrations.ts';

let folder: string;
beforeAll(async () => void (folder = await mkdtemp(join(tmpdir(), 'hexenkessel-schemas-'))));
afterAll(() => rm(folder, { recursive: true, force: true }));

const NAMES = Object.keys(MIGRATIONS);
const SOUND = {
  id: '01ARZ3NDEKTSV4RRFFQ69G5FAV',
  name: 'Kept through it all',
  kind: 'source',
  sha256: 'ab'.repeat(32),
  bytes: 1000,
  frames: 200,
  sample_rate: 48000,
  channels: 1,
  format: '24',
  created_at: '2026-11-24T00:00:00.000Z',
};

/** A store as the version wrote it that had so many migrations. */
async function storeOf(count: number): Promise<string> {
  const file = join(folder, `${count}`, 'hexenkessel.sqlite');
  await mkdir(join(folder, `${count}`));
  const database = knex({ client: 'better-sqlite3', connection: { filename: file }, useNullAsDefault: true });
  const names = NAMES.slice(0, count);
  await database.migrate.latest({
    migrationSource: {
      getMigrations: async () => names,
      getMigrationName: (name: string) => name,
      getMigration: async (name: string) => MIGRATIONS[name],
    },
  });
  await database('sounds').insert(SOUND);
  await database.destroy();
  return file;
}

const columnsOf = (file: string) => {
  const database = new Database(file, { readonly: true });
  const rows = database.prepare('SELECT sql FROM sqlite_master WHERE sql IS NOT NULL ORDER BY name').pluck().all();
  database.close();
  return rows;
};

test.each(NAMES.slice(0, -1).map((name, n) => [name, n + 1] as const))(
  'a store up to %s is copied, and brought up to date',
  async (_, count) => {
    const file = await storeOf(count);
    const before = columnsOf(file);
    const copy = join(folder, `${count}`, `hexenkessel-before-${NAMES[count]}.sqlite`);
    // What a copy that was broken off has left is no copy.
    new Database(`${copy}.unfinished`).exec('CREATE TABLE half (a)').close();
    // So does a process that was killed in the middle of a migration.
    new Database(file).exec('UPDATE knex_migrations_lock SET is_locked = 1').close();
    const database = await connectDatabase(file);
    expect(await database('sounds').first()).toMatchObject(SOUND);
    await database.destroy();
    expect(columnsOf(copy)).toEqual(before);
    expect(await readdir(join(folder, `${count}`))).not.toContain(`${copy}.unfinished`);

    // All is as in a new store; opened again nothing more is done.
    const fresh = join(folder, `fresh ${count}.sqlite`);
    await (await connectDatabase(fresh)).destroy();
    expect(columnsOf(file).length).toBe(columnsOf(fresh).length);
    await (await connectDatabase(file)).destroy();
    expect((await readdir(join(folder, `${count}`))).filter((name) => name.includes('before'))).toHaveLength(1);
  },
);

test('what lies in a store before lists are noted is noted: documents to be read, sounds on shelves', async () => {
  const before = NAMES.indexOf('20261203_lists');
  await rm(join(folder, `${before}`), { recursive: true, force: true });
  const file = await storeOf(before);
  const old = new Database(file);
  const at = SOUND.created_at;
  for (const [id, desk] of [
    ['a', `{"shelf":["${SOUND.id}","gone"],"slot":"A","slots":{}}`],
    ['b', '{"shelf":["half'],
    ['c', '{"shelf":[]}'],
  ]) {
    old.prepare('INSERT INTO chains VALUES (?, ?, 1, ?, ?, NULL)').run(id, id, at, at);
    old.prepare(`INSERT INTO versions VALUES (?, ?, 1, '{}', '', ?)`).run(`v${id}`, id, at);
    old.prepare('INSERT INTO desks VALUES (?, ?, ?)').run(id, desk, at);
  }
  old.prepare(`INSERT INTO drafts VALUES ('a', '{}', ?)`).run(at);
  old.close();
  const database = await connectDatabase(file);
  expect(await database('shelf_sounds').orderBy(['chain_id', 'sound_id'])).toEqual([
    { chain_id: 'a', sound_id: SOUND.id },
    { chain_id: 'a', sound_id: 'gone' },
    { chain_id: 'b', sound_id: null },
  ]);
  const stale = await database('stale_documents').orderBy(['chain_id', 'number']);
  expect(stale.map(({ chain_id, number }) => `${chain_id}${number}`)).toEqual(['a0', 'a1', 'b1', 'c1']);
  // Desks that change later bring it up to date, whoever writes them.
  await database('desks')
    .where({ chain_id: 'b' })
    .update({ content: `{"shelf":["${SOUND.id}"]}` });
  await database('desks').where({ chain_id: 'a' }).delete();
  expect(await database('shelf_sounds')).toEqual([{ chain_id: 'b', sound_id: SOUND.id }]);
  await database.destroy();
});
