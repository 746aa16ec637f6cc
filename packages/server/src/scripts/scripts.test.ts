import { mkdtemp, mkdir, rm, symlink, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { ScriptEntry } from '@hexenkessel/core/protocol';
import { TestServer } from '../testing/testServer.ts';
import { Favourites } from './favourites.ts';

const script = (title: string) => `export const language = 1;
export const title = '${title}';
export const family = 'drive';
export const summary = 'Nothing.';
export function channel() { return (x, p) => x; }`;

let server: TestServer;
beforeAll(async () => void (server = await TestServer.start()));
afterAll(() => server.remove());

const send = async (method: string, path: string, body?: object) => {
  const response = await server.fetch(path, {
    method,
    headers: { 'content-type': 'application/json' },
    ...(body && { body: JSON.stringify(body) }),
  });
  const text = await response.text();
  return {
    status: response.status,
    body: text === '' ? undefined : (JSON.parse(text) as ScriptEntry & { detail: string; script: ScriptEntry }),
  };
};

test('kept as it is typed, in order or not; two windows do not write over each other', async () => {
  const made = await send('POST', '/scripts', { text: script('Lamp') });
  expect([made.status, made.body?.title, made.body?.revision]).toEqual([201, 'Lamp', 1]);
  const path = `/scripts/${made.body!.id}`;
  const broken = await send('PUT', path, { revision: 1, text: `${script('Lamp two')} let` });
  expect([broken.status, broken.body?.title, broken.body?.revision]).toEqual([200, 'Lamp', 2]);
  const late = await send('PUT', path, { revision: 1, text: script('Other') });
  expect([late.status, late.body?.script.revision]).toEqual([409, 2]);
  expect(late.body?.detail).toContain('Lamp was changed in another window');
  expect((await send('PUT', path, { revision: 2, text: script('Lamp two') })).body?.title).toBe('Lamp two');
  expect((await send('GET', path)).body?.text).toBe(script('Lamp two'));
  const unnamed = await send('POST', '/scripts', { text: '' });
  expect(unnamed.body?.title).toBe('Untitled script');
  expect((await server.get<ScriptEntry[]>('/scripts')).body.map(({ title }) => title)).toEqual([
    'Lamp two',
    'Untitled script',
  ]);
  expect((await send('DELETE', path)).status).toBe(204);
  expect((await send('GET', path)).status).toBe(404);
  expect((await send('DELETE', path)).status).toBe(404);
});

test('too large a text is refused, by bytes', async () => {
  const { status, body } = await send('POST', '/scripts', { text: 'ü'.repeat(200_000) });
  expect(status).toBe(422);
  expect(body?.detail).toContain('at most 262144');
});

test('a folder of favourites: regular files in it only, read anew when one changes', async () => {
  const folder = await mkdtemp(join(tmpdir(), 'hexenkessel-favourites-'));
  try {
    await writeFile(join(folder, 'lamp.hxk.js'), script('Lamp'));
    await writeFile(join(folder, 'odd.hxk.js'), 'let');
    await writeFile(join(folder, 'notes.txt'), script('Notes'));
    await writeFile(join(folder, 'large.hxk.js'), `${script('Large')}//${'x'.repeat(300_000)}`);
    await mkdir(join(folder, 'folder.hxk.js'));
    await symlink('/etc/passwd', join(folder, 'link.hxk.js'));
    const favourites = new Favourites(folder);
    const found = await favourites.scripts();
    expect(found.map(({ title, from, revision }) => [title, from, revision])).toEqual([
      ['Lamp', 'favourites', 0],
      ['odd', 'favourites', 0],
    ]);
    await writeFile(join(folder, 'lamp.hxk.js'), script('Lighthouse lamp'));
    await rm(join(folder, 'odd.hxk.js'));
    expect((await favourites.scripts()).map(({ title }) => title)).toEqual(['Lighthouse lamp']);
    for (const none of [new Favourites(join(folder, 'nowhere')), new Favourites(undefined)])
      expect([await none.scripts(), await none.chains()]).toEqual([[], []]);
    // Chains beside them, as they are.
    await writeFile(join(folder, 'Tide.json'), '{"name": "Tide"}');
    await writeFile(join(folder, 'Broken.json'), '{');
    await symlink('/etc/hosts', join(folder, 'Hosts.json'));
    expect((await favourites.chains()).map(({ name, text }) => [name, text])).toEqual([
      ['Broken', '{'],
      ['Tide', '{"name": "Tide"}'],
    ]);
  } finally {
    await rm(folder, { recursive: true });
  }
});
