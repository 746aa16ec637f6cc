/**
 * A server that is killed while it is worked with, at random and at moments that are marked by what it does on the disk:
 * nothing that it has answered is lost, nothing is left lying, and it goes on. Five times; `npm run torture`: two hundred.
 */
import { createHash } from 'node:crypto';
import { watch } from 'node:fs';
import { mkdtemp, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import Database from 'better-sqlite3';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { ChainDocument } from '@hexenkessel/core/chain';
import type { ChainEntry, ChainState, Render, Sound } from '@hexenkessel/core/protocol';
import { DEMO_CHAINS, DEMO_SOUNDS } from '@hexenkessel/demo';
import { createRandom } from '../../../core/src/dsp/random.ts';
import { addressOf, startProcess, type Started } from '../testing/serverProcess.ts';
import { flip, pluck, wavBytes } from '../testing/testServer.ts';

const TIMES = process.env['LONG'] ? 200 : 5;
const SEED = Number(process.env['SEED'] ?? 20261129);
const CLIENTS = 4;
/** Of a render that two kills have met: it is told, and not lost. */
const GIVEN_UP = 'The server ended twice while this was rendered; it was given up.';

let folder: string;
beforeAll(async () => void (folder = await mkdtemp(join(tmpdir(), 'hexenkessel-killed-'))));
afterAll(() => rm(folder, { recursive: true, force: true }));

/** What the server has answered, and what was asked of it and not answered before it was killed. */
interface Ledger {
  readonly chains: Map<string, { document: ChainDocument; asked?: ChainDocument }>;
  readonly sounds: Map<string, { name: string; asked?: string; going?: true }>;
  readonly gone: Set<string>;
  readonly renders: Set<string>;
}

/** Works with the server until it does not answer any more. */
async function work(base: string, ledger: Ledger, draw: () => number): Promise<void> {
  const send = async <T>(method: string, path: string, body?: unknown): Promise<T> => {
    const json = body !== undefined && !(body instanceof Uint8Array);
    const answer = await fetch(`${base}/api${path}`, {
      method,
      ...(body === undefined ? {} : { body: json ? JSON.stringify(body) : (body as Uint8Array<ArrayBuffer>) }),
      ...(json ? { headers: { 'content-type': 'application/json' } } : {}),
    });
    const text = await answer.text();
    if (!answer.ok) throw new Error(`${method} ${path}: ${answer.status} ${text}`);
    return (text === '' ? undefined : JSON.parse(text)) as T;
  };
  const named = () => `n${Math.floor(draw() * 1e9)}`;
  const [clicks] = await send<Sound[]>('GET', '/sounds?find=Telegraph+clicks&kind=source&limit=1');
  let chain: ChainState | undefined;
  let sound: Sound | undefined;
  for (;;) {
    const what = draw();
    if (!chain || what < 0.1) {
      chain = await send<ChainState>('POST', '/chains', { document: flip({ name: named() }) });
      ledger.chains.set(chain.id, { document: chain.document });
    } else if (what < 0.3) {
      const render = { sourceId: clicks.id, chainId: chain.id, revision: chain.revision };
      ledger.renders.add((await send<Render>('POST', '/renders', render)).id);
    } else if (!sound || what < 0.45) {
      const name = named();
      sound = await send<Sound>('POST', `/sounds?name=${name}`, wavBytes(pluck(0.02 + draw() * 0.3)));
      ledger.sounds.set(sound.id, { name });
    } else if (what < 0.8) {
      const document = flip({ name: named() });
      const entry = ledger.chains.get(chain.id)!;
      entry.asked = document;
      const [method, path, more] = draw() < 0.7 ? ['PUT', 'draft', {}] : ['POST', 'versions', { why: '' }];
      const asked = { revision: chain.revision, document, ...(more as object) };
      chain = await send<ChainState>(method as string, `/chains/${chain.id}/${path as string}`, asked);
      ledger.chains.set(chain.id, { document });
    } else if (what < 0.92) {
      const entry = ledger.sounds.get(sound.id)!;
      entry.asked = named();
      await send('PATCH', `/sounds/${sound.id}`, { name: entry.asked });
      ledger.sounds.set(sound.id, { name: entry.asked });
    } else {
      ledger.sounds.get(sound.id)!.going = true;
      await send('DELETE', `/sounds/${sound.id}`);
      ledger.sounds.delete(sound.id);
      ledger.gone.add(sound.id);
      sound = undefined;
    }
  }
}

/** Ends when it is time to kill: after a while, or at a change of what lies in a folder or of the database. */
async function marked(data: string, draw: () => number): Promise<string> {
  const what = draw();
  if (what < 0.4) {
    const milliseconds = Math.round(20 + draw() * 2000);
    await pause(milliseconds);
    return `after ${milliseconds} ms`;
  }
  const place = what < 0.7 ? 'unfinished' : 'hexenkessel.sqlite-wal';
  const count = Math.ceil(draw() * 40);
  let seen = 0;
  const watcher = watch(join(data, place));
  await Promise.race([
    new Promise<void>((resolve) => watcher.on('change', () => ++seen >= count && resolve())),
    pause(3000, undefined, { ref: false }),
  ]);
  watcher.close();
  return `at change ${seen} of ${place}`;
}

async function checkAll(base: string, data: string, ledger: Ledger): Promise<void> {
  const get = async (path: string) => fetch(`${base}/api${path}`);
  for (const [id, { document, asked }] of ledger.chains) {
    const { document: found } = (await (await get(`/chains/${id}`)).json()) as ChainState;
    expect([document, asked].map((one) => JSON.stringify(one))).toContain(JSON.stringify(found));
    ledger.chains.set(id, { document: found });
  }
  for (const [id, { name, asked, going }] of ledger.sounds) {
    const answer = await get(`/sounds/${id}`);
    if (going && answer.status === 404) {
      ledger.sounds.delete(id);
      continue;
    }
    expect(answer.status).toBe(200);
    const found = (await answer.json()) as Sound;
    expect([name, asked]).toContain(found.name);
    expect(found.missing).toBe(false);
    ledger.sounds.set(id, { name: found.name });
    const audio = Buffer.from(await (await get(`/sounds/${id}/audio`)).arrayBuffer());
    expect(createHash('sha256').update(audio).digest('hex')).toBe(found.sha256);
  }
  for (const id of ledger.gone) expect((await get(`/sounds/${id}`)).status).toBe(404);
  for (const id of ledger.renders) {
    const { status, error } = (await (await get(`/renders/${id}`)).json()) as Render;
    expect(['queued', 'running', 'done', GIVEN_UP]).toContain(status === 'failed' ? error : status);
  }
  const database = new Database(join(data, 'hexenkessel.sqlite'), { readonly: true });
  const hashes = database.prepare('SELECT DISTINCT sha256 FROM sounds').pluck().all() as string[];
  const open = database.prepare(`SELECT count(*) FROM jobs WHERE status IN ('queued', 'running')`).pluck().get();
  database.close();
  // A render that goes on may be adding to it.
  if (open !== 0) return;
  const files = (await readdir(join(data, 'audio'), { recursive: true })).filter((name) => name.endsWith('.wav'));
  expect(files.map((name) => name.slice(-68, -4)).sort()).toEqual(hashes.sort());
}

test(
  `killed ${TIMES} times while it is worked with, nothing that was answered is lost`,
  { timeout: 3600_000 },
  async () => {
    const draw = createRandom(SEED);
    const ledger: Ledger = { chains: new Map(), sounds: new Map(), gone: new Set(), renders: new Set() };
    const data = join(folder, 'data');
    let server: Started = startProcess(data);
    let base = await addressOf(server);
    for (let n = 0; n < TIMES; n++) {
      const clients = Array.from({ length: CLIENTS }, (_, k) =>
        work(base, ledger, createRandom(SEED + n * CLIENTS + k)),
      );
      const ends = Promise.allSettled(clients);
      const moment = await marked(data, draw);
      const alive = server.process.exitCode === null;
      server.process.kill('SIGKILL');
      await server.ended;
      const faults = (await ends).map((one) => String((one as PromiseRejectedResult).reason));
      // They ended because nobody answered, not because something was refused.
      expect({
        moment,
        alive,
        refused: faults.filter((fault) => !fault.includes('fetch failed') && !fault.includes('terminated')),
      }).toEqual({ moment, alive: true, refused: [] });
      server = startProcess(data);
      base = await addressOf(server);
      await checkAll(base, data, ledger);
      // The oldest are looked at often enough.
      for (const map of [ledger.chains, ledger.sounds]) for (const id of map.keys()) if (map.size > 60) map.delete(id);
    }
    await expect
      .poll(async () => (await (await fetch(`${base}/api/health`)).json()) as object, { timeout: 600_000 })
      .toMatchObject({ queued: 0, running: 0 });
    await checkAll(base, data, ledger);
    for (const id of ledger.renders) {
      const { status, error } = (await (await fetch(`${base}/api/renders/${id}`)).json()) as Render;
      expect(['done', GIVEN_UP]).toContain(status === 'failed' ? error : status);
    }
    const names = async <T extends { name: string }>(path: string) =>
      ((await (await fetch(`${base}/api${path}`)).json()) as T[]).map(({ name }) => name);
    expect(await names<Sound>('/sounds/names')).toEqual(expect.arrayContaining(DEMO_SOUNDS.map(({ name }) => name)));
    expect(await names<ChainEntry>('/chains/names')).toEqual(
      expect.arrayContaining(DEMO_CHAINS.map(({ name }) => name)),
    );
    expect(ledger.chains.size + ledger.sounds.size + ledger.renders.size).toBeGreaterThan(TIMES);
    server.process.kill('SIGTERM');
    expect(await server.ended).toBe(0);
    expect(await readdir(join(data, 'unfinished'))).toEqual([]);
  },
);
