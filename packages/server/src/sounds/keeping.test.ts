/** What is said of sounds, who needs them, and how they go. */
import { readFile, readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { ChainDocument } from '@hexenkessel/core/chain';
import { WavReader, bytesInMemory } from '@hexenkessel/core/formats';
import type { Render, Sound, SoundNeeds, Storage } from '@hexenkessel/core/protocol';
import { TestServer, flip, pluck, wavBytes } from '../testing/testServer.ts';

let server: TestServer;
beforeAll(async () => void (server = await TestServer.start()));
afterAll(() => server.remove());

const fixture = async (name: string) =>
  new Uint8Array(await readFile(new URL(`../../../core/src/formats/decoding/fixtures/${name}`, import.meta.url)));
const sound = async (name: string, seconds = 0.2) => (await server.upload(name, wavBytes(pluck(seconds)))).body;
const readerOf = async (response: Response) =>
  WavReader.open(bytesInMemory(new Uint8Array(await response.arrayBuffer())));
const detail = (body: unknown) => (body as { detail: string }).detail;

async function render(source: Sound, chain: ChainDocument, region?: object): Promise<Sound> {
  const { id } = await server.addChain(chain);
  const { body } = await server.startRender(source.id, id, region ? { region } : {});
  const done = await server.finished(body.id);
  if (done.soundId === null) throw new Error(done.error ?? 'no sound');
  return (await server.get<Sound>(`/sounds/${done.soundId}`)).body;
}

describe('what comes in', () => {
  test.each(['flac', 'mp3', 'ogg', 'opus', 'aiff'])(
    '%s is decoded, kept as floats and says what it was',
    async (kind) => {
      const { status, body } = await server.upload(`Tones ${kind}`, await fixture(`two-tones.${kind}`));
      expect(status).toBe(201);
      expect(body).toMatchObject({ channels: 2, format: 'f32', missing: false });
      expect(body.sourceFormat).toContain(kind === 'ogg' ? 'vorbis' : kind);
      const kept = await readerOf(await server.fetch(`/sounds/${body.id}/audio`));
      expect(kept.frames).toBe(body.frames);
      expect(body.frames / body.sampleRate).toBeCloseTo(0.4, 1);
    },
  );

  test('one channel, another rate', async () => {
    const bytes = wavBytes(pluck(0.25));
    expect((await server.upload('Left', bytes, 'channels=1')).body).toMatchObject({ channels: 1, frames: 12_000 });
    expect((await server.upload('High', bytes, 'rate=96000')).body).toMatchObject({
      sampleRate: 96_000,
      frames: 24_000,
    });
    const wrong = await server.upload('Third', bytes, 'channels=3');
    expect([wrong.status, detail(wrong.body)]).toEqual([422, expect.stringContaining('the file has 2')]);
    expect((await server.upload('Slow', bytes, 'rate=100')).status).toBe(422);
  });

  test('cut short: refused in words, nothing is left', async () => {
    const bytes = await fixture('two-tones.flac');
    const { status, body } = await server.upload('Broken', bytes.slice(0, 9000));
    expect([status, detail(body)]).toEqual([422, expect.stringContaining('truncated')]);
    expect(await readdir(join(server.folder, 'unfinished'))).toEqual([]);
  });

  test('a file that is cut short is taken as far as it goes, and kept with its true length', async () => {
    const clip = pluck(0.2);
    const cut = wavBytes(clip, { depth: '32f' }).slice(0, -4000);
    const frames = clip.channels[0].length - 1000 / clip.channels.length;
    const { body } = await server.upload('Cut', cut);
    expect(body).toMatchObject({ frames, warning: expect.stringContaining('cut short') });
    const kept = await readerOf(await server.fetch(`/sounds/${body.id}/audio`));
    expect(kept.header.warning).toBeUndefined();
    expect((await kept.readClip()).channels[0]).toEqual(clip.channels[0].slice(0, frames));
  });

  test('loops in a file are found', async () => {
    const marks = {
      rootKey: 64,
      fineTune: 0,
      loops: [{ kind: 'sustain' as const, start: 10, end: 99, times: 0 }],
      markers: [],
    };
    const { body } = await server.upload('Looped', wavBytes(pluck(0.1), { depth: '24', marks }));
    expect(body.marks).toEqual(marks);
  });
});

describe('what is said of a sound', () => {
  test('name, tags and loops are changed and written into files for others', async () => {
    const { id } = await sound('Plain');
    const marks = {
      rootKey: 52,
      fineTune: 3,
      loops: [{ kind: 'release', start: 100, end: 900, times: 2 }],
      markers: [{ at: 5, label: 'on' }],
    };
    const { status, body } = await server.send<Sound>('PATCH', `/sounds/${id}`, {
      name: 'Fancy',
      tags: ['fog', 'fog', 'bell'],
      marks,
    });
    expect(status).toBe(200);
    expect(body).toMatchObject({ name: 'Fancy', tags: ['fog', 'bell'], marks });
    const written = await readerOf(await server.fetch(`/sounds/${id}/audio?depth=16`));
    expect(written.marks).toEqual(marks);
    const other = await readerOf(await server.fetch(`/sounds/${id}/audio?depth=24&rate=96000`));
    expect([other.sampleRate, other.marks.loops[0]]).toEqual([
      96_000,
      { kind: 'release', start: 200, end: 1800, times: 2 },
    ]);
    const flac = await server.fetch(`/sounds/${id}/audio?kind=flac&depth=16`);
    expect(flac.headers.get('content-disposition')).toContain('Fancy.flac');
    expect(Buffer.from(await flac.arrayBuffer()).toString('latin1', 0, 4)).toBe('fLaC');
    expect((await server.fetch(`/sounds/${id}/audio?kind=flac&depth=32f`)).status).toBe(422);
  });

  test('a tempo is kept, put right and forgotten; one that is none is refused', async () => {
    const { id, tempo } = await sound('Ticking');
    expect(tempo).toBeNull();
    const said = async (change: object) => (await server.send<Sound>('PATCH', `/sounds/${id}`, change)).body.tempo;
    expect(await said({ tempo: 93 })).toBe(93);
    expect(await said({ name: 'Ticking on' })).toBe(93);
    expect(await said({ tempo: 92.5 })).toBe(92.5);
    expect((await server.send('PATCH', `/sounds/${id}`, { tempo: 10 })).status).toBe(422);
    expect(await said({ tempo: null })).toBeNull();
  });

  test('loops outside it, names that are paths and sealing a source are refused', async () => {
    const { id } = await sound('Firm');
    const marks = {
      rootKey: null,
      fineTune: 0,
      loops: [{ kind: 'sustain', start: 5, end: 99_999, times: 0 }],
      markers: [],
    };
    const refused = async (change: object) => detail((await server.send('PATCH', `/sounds/${id}`, change)).body);
    expect(await refused({ marks })).toContain('sustain loop goes from frame 5 to 99999; allowed is 0 to 9600');
    expect(await refused({ name: '../x' })).toContain('slashes');
    expect(await refused({ sealed: true })).toContain('Only a render');
    expect((await server.get<Sound>(`/sounds/${id}`)).body).toMatchObject({ name: 'Firm', sealed: false });
  });
});

describe('regions', () => {
  test('a stretch is rendered and knows its place; again gives the same bytes; sealed it is final', async () => {
    const source = await sound('Stretchy', 0.5);
    const region = { region: { start: 4800, end: 9600 }, beyond: 'auto' };
    const made = await render(source, flip(), region);
    expect(made).toMatchObject({ originFrames: 4800, frames: 4800, lineage: { region } });
    const again = await server.send<Render>('POST', `/renders/${made.lineage!.renderId}/again`);
    const second = await server.finished(again.body.id);
    const twin = (await server.get<Sound>(`/sounds/${second.soundId}`)).body;
    expect(twin.frames).toBe(4800);
    const [a, b] = await Promise.all(
      [made, twin].map(async ({ id }) => (await readerOf(await server.fetch(`/sounds/${id}/audio`))).readClip()),
    );
    expect(a.channels).toEqual(b.channels);
    await server.send('PATCH', `/sounds/${made.id}`, { sealed: true });
    const refused = await server.send('POST', `/renders/${made.lineage!.renderId}/again`);
    expect([refused.status, detail(refused.body)]).toEqual([409, expect.stringContaining('sealed')]);
  });

  test('spliced back: outside the stretch every sample is the original’s', async () => {
    const clip = pluck(0.5);
    const source = (await server.upload('Whole', wavBytes(clip, { depth: '32f' }))).body;
    const made = await render(source, flip(), {
      region: { start: 4800, end: 9600 },
      splice: { fade: 96, tail: 'cut' },
    });
    const { channels } = await (await readerOf(await server.fetch(`/sounds/${made.id}/audio`))).readClip();
    expect(channels[0].length).toBe(24_000);
    expect(channels[0].slice(0, 4800)).toEqual(clip.channels[0].slice(0, 4800));
    expect(channels[0].slice(9600)).toEqual(clip.channels[0].slice(9600));
    expect(channels[0].slice(5000, 5100)).toEqual(clip.channels[0].slice(9300, 9400).reverse());
  });

  test('spliced back and written with 16 bits, dither stays inside the stretch, and the server says so', async () => {
    const clip = pluck(0.5);
    const whole = {
      ...clip,
      channels: clip.channels.map((side) => side.map((x) => (Math.round(x * 12_000) + 0) / 32_768)),
    };
    const source = (await server.upload('Sixteen', wavBytes(whole, { depth: '16' }))).body;
    const softer = { ...flip(), stages: [{ id: 'soft', kind: 'gain', settings: { gain: -1 } }] } as never;
    const made = await render(source, softer, {
      region: { start: 4800, end: 9600 },
      splice: { fade: 96, tail: 'cut' },
    });
    const path = `/sounds/${made.id}`;
    const dithered = [{ start: 4800, end: 9600 }];
    expect((await server.get(`${path}/dither?depth=16`)).body).toEqual({ frames: 24_000, sampleRate: 48000, dithered });
    const { channels } = await (await readerOf(await server.fetch(`${path}/audio?depth=16`))).readClip();
    expect(channels[0].slice(0, 4800)).toEqual(whole.channels[0].slice(0, 4800));
    expect(channels[0].slice(9600)).toEqual(whole.channels[0].slice(9600));
    expect((await server.get(`/sounds/${source.id}/dither?depth=24`)).body).toMatchObject({ dithered: [] });
    // At another rate every sample is new.
    expect((await server.get(`${path}/dither?depth=16&rate=44100`)).body).toMatchObject({
      dithered: [{ start: 0, end: 22_050 }],
    });
  });

  test('one outside the sound is refused', async () => {
    const source = await sound('Short');
    const { id } = await server.addChain(flip());
    const { status, body } = await server.startRender(source.id, id, { region: { region: { start: 0, end: 9601 } } });
    expect([status, detail(body)]).toEqual([422, expect.stringContaining('exceeds the sound')]);
  });
});

describe('who needs whom', () => {
  test('a source stays as long as a render or a chain needs it; then it goes, with its audio', async () => {
    const source = await sound('Needed', 0.11);
    const made = await render(source, flip());
    const bed = flip({
      name: 'Bedded',
      stages: [{ id: 'bed', kind: 'bed', settings: { sound: { sound: 'Needed', sha256: source.sha256 } } }],
    });
    const chain = await server.addChain(bed);
    const needs = (await server.get<SoundNeeds>(`/sounds/${source.id}/needs`)).body;
    expect(needs).toEqual({
      renders: [{ soundId: made.id, name: made.name }],
      mixes: [],
      chains: [{ id: chain.id, name: 'Bedded' }],
      signal: false,
    });
    const refused = await server.send('DELETE', `/sounds/${source.id}`);
    expect([refused.status, detail(refused.body)]).toEqual([
      409,
      expect.stringMatching(/render "Needed – Flip".*chain "Bedded"/),
    ]);
    expect((await server.send('DELETE', `/sounds/${made.id}`)).status).toBe(204);
    await server.send('PUT', `/chains/${chain.id}/draft`, {
      revision: chain.revision,
      document: { ...bed, stages: [] },
    });
    expect((await server.send('DELETE', `/sounds/${source.id}`)).status).toBe(204);
    expect((await server.get(`/sounds/${source.id}`)).status).toBe(404);
    const left = await readdir(join(server.folder, 'audio'), { recursive: true });
    expect(left.some((name) => name.includes(source.sha256) || name.includes(made.sha256))).toBe(false);
  });

  test('two sounds of the same audio: the file stays until both are gone', async () => {
    const bytes = wavBytes(pluck(0.12));
    const [one, two] = [await server.upload('Twin one', bytes), await server.upload('Twin two', bytes)];
    await server.send('DELETE', `/sounds/${one.body.id}`);
    expect((await server.fetch(`/sounds/${two.body.id}/audio`)).status).toBe(200);
  });

  test('storage: what nobody needs is listed and cleaned up, nothing else', async () => {
    const source = await sound('Stored', 0.13);
    const plain = await render(source, flip());
    const tagged = await render(source, flip());
    await server.send('PATCH', `/sounds/${tagged.id}`, { tags: ['keep'] });
    const parent = await render(source, flip());
    const child = await render(parent, flip({ name: 'Flop' }));
    const before = (await server.get<Storage>('/storage')).body;
    const ids = before.unneeded.map(({ id }) => id);
    expect(ids).toEqual(expect.arrayContaining([plain.id, child.id]));
    for (const kept of [source, tagged, parent]) expect(ids).not.toContain(kept.id);
    expect(before.bytes).toBeGreaterThan(0);
    expect(before.freeBytes).toBeGreaterThan(0);
    const after = (
      await server.send<Storage>('POST', '/storage/clean', { ids: [plain.id, child.id, tagged.id, source.id] })
    ).body;
    expect(after.sounds).toBe(before.sounds - 2);
    expect(after.bytes).toBeLessThan(before.bytes);
    expect((await server.get(`/sounds/${tagged.id}`)).status).toBe(200);
    expect((await server.get(`/sounds/${plain.id}`)).status).toBe(404);
  });
});

test('audio gone from the disk: said, chains stay as they are, and the same file puts it back', async () => {
  const bytes = wavBytes(pluck(0.14));
  const { body } = await server.upload('Lost', bytes);
  await rm(join(server.folder, 'audio', body.sha256.slice(0, 2), `${body.sha256}.wav`));
  expect((await server.get<Sound>(`/sounds/${body.id}`)).body.missing).toBe(true);
  expect((await server.fetch(`/sounds/${body.id}/audio`)).status).toBe(404);
  const put = (data: Uint8Array) =>
    server.fetch(`/sounds/${body.id}/audio`, { method: 'PUT', body: data as Uint8Array<ArrayBuffer> });
  const wrong = await put(wavBytes(pluck(0.15)));
  expect([wrong.status, detail(await wrong.json())]).toEqual([422, expect.stringContaining('This file is not "Lost"')]);
  expect(((await (await put(bytes)).json()) as Sound).missing).toBe(false);
  expect((await server.fetch(`/sounds/${body.id}/audio`)).status).toBe(200);
});

test('several sounds leave as one ZIP, named by a template', async () => {
  const [one, two] = [await sound('Zip one', 0.05), await sound('Zip two', 0.06)];
  const response = await server.fetch(
    `/export?ids=${one.id},${two.id}&template=${encodeURIComponent('{number} {sound}')}&depth=16`,
  );
  expect(response.headers.get('content-type')).toBe('application/zip');
  const zip = Buffer.from(await response.arrayBuffer());
  // Kept as they are, the WAV files can be found by their heads.
  for (const name of ['01 Zip one.wav', '02 Zip two.wav']) expect(zip.includes(name)).toBe(true);
  expect(zip.toString('latin1').split('RIFF').length - 1).toBe(2);
  expect(await readdir(join(server.folder, 'unfinished')).then((left) => left.length)).toBeLessThanOrEqual(2);
  await expect.poll(() => readdir(join(server.folder, 'unfinished'))).toEqual([]);
  expect((await server.fetch(`/export?ids=${one.id}&template=${encodeURIComponent('{who}')}`)).status).toBe(422);
  expect((await server.fetch('/export?ids=')).status).toBe(422);
});
