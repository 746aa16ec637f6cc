import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { afterAll, beforeAll, expect, test, vi } from 'vitest';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { assign, emptyChain, parseChain, type ChainDocument } from '@hexenkessel/core/chain';
import { finishRender, renderChain } from '@hexenkessel/core/engine';
import { encodeRender, timeReferenceOf, WavReader, bytesInMemory } from '@hexenkessel/core/formats';
import type { Render, Sound } from '@hexenkessel/core/protocol';
import { TestServer, pluck, wavBytes } from '../testing/testServer.ts';

let server: TestServer;
let source: Sound;
const sourceBytes = wavBytes(pluck(0.5));
beforeAll(async () => {
  server = await TestServer.start();
  source = (await server.upload('Pluck', sourceBytes)).body;
});
afterAll(() => server.remove());

const swell = parseChain(BUILT_INS, {
  ...emptyChain(BUILT_INS, 'Tide'),
  stages: [
    { id: 'flip', kind: 'reverse' },
    { id: 'hall', kind: 'hall', settings: { decay: 0.6 } },
    { id: 'back', kind: 'reverse' },
  ],
  render: { tail: { mode: 'fixed', length: 0.5 }, anchor: 'end', name: '{sound} – {chain} {version}' },
});
const long = parseChain(BUILT_INS, {
  ...emptyChain(BUILT_INS, 'Long'),
  stages: Array.from({ length: 12 }, (_, n) => ({ id: `h${n}`, kind: 'hall', settings: { decay: 20 } })),
  render: { tail: { mode: 'fixed', length: 60 } },
});
const ask = async (chainId: string, document: ChainDocument) =>
  (await server.startRender(source.id, chainId, { document })).body;

test('a chain that goes by the tempo of the sound is rendered at it', async () => {
  const gone = { ...swell, timing: { ...swell.timing, follows: 'sound' as const } };
  const { id: chainId } = await server.addChain(gone);
  const tempoOf = async () => {
    const { id } = await ask(chainId, gone);
    await server.finished(id);
    return (await server.get<{ document: ChainDocument }>(`/renders/${id}`)).body.document.timing.tempo;
  };
  expect(await tempoOf()).toBe(swell.timing.tempo);
  await server.send('PATCH', `/sounds/${source.id}`, { tempo: 71 });
  expect(await tempoOf()).toBe(71);
  await server.send('PATCH', `/sounds/${source.id}`, { tempo: 98 });
  // Again means as it was then, also where somebody has found another tempo since; and by the same version.
  const first = (await server.get<Render[]>('/renders')).body.find((render) => render.chainId === chainId)!;
  const again = await server.send<Render>('POST', `/renders/${first.id}/again`);
  const made = (await server.get<Render & { document: ChainDocument }>(`/renders/${again.body.id}`)).body;
  expect([made.document.timing.tempo, made.version]).toEqual([71, first.version]);
  expect(await tempoOf()).toBe(98);
  await server.send('PATCH', `/sounds/${source.id}`, { tempo: null });
});

test('what of the marks had no place in a render is noted with it, whatever is marked in either afterwards', async () => {
  const loop = (start: number, end: number) => ({ kind: 'sustain' as const, start, end, times: 0 });
  const marks = {
    rootKey: 57,
    fineTune: 0,
    loops: [loop(700, 900)],
    markers: [
      { at: 100, label: 'early' },
      { at: 9000, label: 'late' },
    ],
  };
  const { body: marked } = await server.upload('Marked', wavBytes(pluck(0.3), { depth: '24', marks }));
  const cut = parseChain(BUILT_INS, { ...emptyChain(BUILT_INS, 'Up'), stages: [{ id: 'up', kind: 'transpose' }] });
  const { id: chainId } = await server.addChain(cut);
  const region = { region: { start: 2000, end: 10_000 }, beyond: 'nothing', time: 'region' };
  const { body: asked } = await server.startRender(marked.id, chainId, { document: cut, region });
  const { soundId } = await server.finished(asked.id);
  const made = async () => (await server.get<Sound>(`/sounds/${soundId}`)).body;
  const leftOut = { loops: 1, markers: 1, root: true };
  expect((await made()).lineage!.leftOut).toEqual(leftOut);
  const more = { rootKey: 60, fineTune: 0, loops: [loop(10, 90), { ...loop(100, 900), kind: 'release' }], markers: [] };
  expect((await server.send('PATCH', `/sounds/${soundId}`, { marks: more })).status).toBe(200);
  await server.send('PATCH', `/sounds/${marked.id}`, { marks: { ...marks, loops: [], markers: [] } });
  expect((await made()).lineage!.leftOut).toEqual(leftOut);
});

test('a render is a new sound with the bytes the core makes, its name, its parents and its version', async () => {
  const { id: chainId } = await server.addChain(swell);
  await server.send('POST', `/chains/${chainId}/versions`, { revision: 1, document: swell, why: '' });
  const done = await server.finished((await ask(chainId, swell)).id);
  expect(done).toMatchObject({
    status: 'done',
    progress: 1,
    error: null,
    name: 'Pluck – Tide version 1',
    version: 'version 1',
  });
  const sound = (await server.get<Sound>(`/sounds/${done.soundId}`)).body;
  expect(sound.lineage).toMatchObject({
    sourceId: source.id,
    sourceName: 'Pluck',
    chainId,
    chainName: 'Tide',
    versionNumber: 1,
  });

  const clip = finishRender(
    renderChain(BUILT_INS, {
      chain: swell,
      source: await (await WavReader.open(bytesInMemory(sourceBytes))).readClip(),
    }),
  );
  expect(sound.originFrames).toBe(clip.origin);
  const own = Buffer.concat([
    ...encodeRender({
      clip,
      depth: '32f',
      name: done.name,
      chain: swell,
      version: 'version 1',
      sourceTimeReference: timeReferenceOf(null, 48000),
    }),
  ]);
  expect(Buffer.from(await (await server.fetch(`/sounds/${sound.id}/audio`)).arrayBuffer()).equals(own)).toBe(true);
  expect(sound.timeReference).toBe(3600 * 48000 + clip.origin);

  const changed = await server.finished((await ask(chainId, assign(BUILT_INS, swell, 'hall.decay=1s'))).id);
  expect(changed.version).toBe('version 1, changed');
  const again = await server.finished((await ask(chainId, swell)).id);
  expect(again.name).toBe('Pluck – Tide version 1 2');
  expect((await server.get<Sound>(`/sounds/${sound.id}`)).body).toEqual(sound);
  expect((await server.get<{ document: ChainDocument }>(`/renders/${done.id}`)).body.document).toEqual(swell);
});

test('what is rendered is the chain as it is kept: its newest revision or a version, never an older one', async () => {
  const { id: chainId } = await server.addChain(swell);
  const shorter = assign(BUILT_INS, swell, 'hall.decay=0.3s');
  const save = { revision: 1, document: shorter };
  await server.send('POST', `/chains/${chainId}/versions`, { ...save, why: 'shorter' });
  await server.send('PUT', `/chains/${chainId}/draft`, { revision: 2, document: swell });
  const post = (which: object) =>
    server.send<Render & { detail: string; current: { revision: number; document: ChainDocument } }>(
      'POST',
      '/renders',
      { sourceId: source.id, chainId, ...which },
    );
  const madeOf = async (id: string) => (await server.get<{ document: ChainDocument }>(`/renders/${id}`)).body.document;
  for (const old of [1, 2]) {
    const { status, body } = await post({ revision: old });
    expect(status).toBe(409);
    expect(body.detail).toContain('revision 3');
    expect(body.current).toMatchObject({ revision: 3, document: swell });
  }
  expect(await madeOf((await post({ revision: 3 })).body.id)).toEqual(swell);
  expect(await madeOf((await post({ version: 1 })).body.id)).toEqual(shorter);
});

test('progress is told as it happens; a running and a waiting render can be given up', async () => {
  const { id: chainId } = await server.addChain(long);
  const listening = new AbortController();
  const events = await server.fetch('/renders/events', { signal: listening.signal });
  expect(events.headers.get('content-type')).toContain('text/event-stream');
  const told: Render[] = [];
  const reading = (async () => {
    let text = '';
    for await (const chunk of events.body as unknown as AsyncIterable<Uint8Array>) {
      text += Buffer.from(chunk).toString();
      const parts = text.split('\n\n');
      text = parts.pop() ?? '';
      for (const part of parts) {
        const data = /^data:\s?(.*)$/m.exec(part)?.[1];
        if (/^event:\s?render$/m.test(part) && data) told.push(JSON.parse(data) as Render);
      }
    }
  })().catch(() => undefined);

  const running = await ask(chainId, long);
  const waiting = await ask(chainId, long);
  await expect
    .poll(() => told.filter(({ id, progress }) => id === running.id && progress > 0.02).length, { timeout: 30_000 })
    .toBeGreaterThan(1);
  expect((await server.send<Render>('POST', `/renders/${waiting.id}/cancel`)).body.status).toBe('cancelled');
  expect((await server.send<Render>('POST', `/renders/${running.id}/cancel`)).status).toBe(200);
  expect((await server.finished(running.id)).status).toBe('cancelled');
  expect((await server.send('POST', `/renders/${running.id}/cancel`)).status).toBe(409);
  expect(told.filter(({ id }) => id === waiting.id).map(({ status }) => status)).not.toContain('running');
  expect(await readdir(join(server.folder, 'unfinished'))).toEqual([]);
  expect((await server.get<Sound[]>('/sounds')).body.some(({ name }) => name.includes('Long'))).toBe(false);
  listening.abort();
  await reading;
});

test('a render that runs when the server stops is run again at the next start', async () => {
  const medium = parseChain(BUILT_INS, { ...long, stages: long.stages.slice(0, 2) });
  const { id: chainId } = await server.addChain(medium);
  const { id } = await ask(chainId, medium);
  await expect.poll(async () => (await server.get<Render>(`/renders/${id}`)).body.status).toBe('running');
  await server.close();
  await server.open();
  expect((await server.finished(id)).status).toBe('done');
});

test('what cannot be rendered is refused or fails in words', async () => {
  const { id: chainId } = await server.addChain(swell);
  const post = (body: object) =>
    server.send<{ detail: string }>('POST', '/renders', { sourceId: source.id, chainId, revision: 1, ...body });
  expect(await post({ sourceId: 'nobody' })).toMatchObject({ status: 404 });
  expect(await post({ chainId: 'nobody' })).toMatchObject({ status: 404 });
  expect(await post({ revision: undefined, version: 3 })).toMatchObject({ status: 404 });
  expect((await post({ revision: undefined })).body.detail).toContain('either the revision of the chain is needed');
  expect((await post({ version: 1 })).body.detail).toContain('and not both');
  const tooLong = parseChain(BUILT_INS, {
    ...swell,
    render: { tail: { mode: 'fixed', length: 600 } },
    stages: [
      { id: 'hall', kind: 'hall' },
      { id: 'back', kind: 'reverse' },
    ],
  });
  const tall = (
    await server.upload('High', wavBytes({ sampleRate: 192000, origin: 0, channels: [new Float32Array(20)] }))
  ).body;
  const { id } = (await server.startRender(tall.id, chainId, { document: tooLong })).body;
  expect(await server.finished(id)).toMatchObject({
    status: 'failed',
    soundId: null,
    error: expect.stringContaining('30 minutes of stereo') as string,
  });
});

test('a script that gave up in a render is told with it, by its line', async () => {
  const text = `export const language = 1;
export const title = 'Endless';
export const family = 'tone';
export const summary = 'Works on and on.';
export function channel() {
  return (x) => {
    while (x > 0.001) watch('x', x);
    return x;
  };
}`;
  const endless = parseChain(BUILT_INS, {
    ...emptyChain(BUILT_INS, 'Endless'),
    stages: [{ id: 'own', kind: 'script', script: 'text' }],
    scripts: [{ id: 'text', language: 'hexenkessel', text }],
  });
  const told = async (document: ChainDocument) => {
    const { id: chainId } = await server.addChain(document);
    const { id } = await ask(chainId, document);
    const { status, gaveUp } = await server.finished(id);
    return [status, gaveUp];
  };
  expect(await told(endless)).toEqual([
    'done',
    ['“Endless” worked too long (line 7 of its text); from there on it passes the sound on as it is.'],
  ]);
  expect(await told(swell)).toEqual(['done', []]);
});

test('a script that works on a whole clip for minutes is cancelled all the same, and the next render goes on', async () => {
  const text = `export const language = 1;
export const title = 'Hourglass';
export const family = 'clip';
export const summary = 'Works for minutes.';
export const frames = (sound) => 590 * sampleRate;
export function clip(sound, out, p) {
  let n = 0;
  while (true) n += 1;
}`;
  const hourglass = parseChain(BUILT_INS, {
    ...emptyChain(BUILT_INS, 'Hourglass'),
    stages: [{ id: 'own', kind: 'script', script: 'text' }],
    scripts: [{ id: 'text', language: 'hexenkessel', text }],
  });
  const { id: chainId } = await server.addChain(hourglass);
  const { id } = await ask(chainId, hourglass);
  const status = async () => (await server.get<Render>(`/renders/${id}`)).body.status;
  await vi.waitUntil(async () => (await status()) === 'running', { timeout: 10_000 });
  await wait(500);
  await server.send('POST', `/renders/${id}/cancel`);
  await vi.waitUntil(async () => (await status()) === 'cancelled', { timeout: 8000 });
  const { id: tideId } = await server.addChain(swell);
  expect((await server.finished((await ask(tideId, swell)).id)).status).toBe('done');
}, 30_000);
