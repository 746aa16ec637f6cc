import { readdir, rename } from 'node:fs/promises';
import { request } from 'node:http';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Sound } from '@hexenkessel/core/protocol';
import { TestServer, pluck, wavBytes } from '../testing/testServer.ts';

let server: TestServer;
beforeAll(async () => void (server = await TestServer.start()));
afterAll(() => server.remove());

const files = async (folder: string) =>
  (await readdir(join(server.folder, folder), { recursive: true })).filter((name) => name.endsWith('.wav'));

test('a sound is kept byte for byte, measured, and found again', async () => {
  const bytes = wavBytes(pluck(0.5), { depth: '16', timeReference: 4800 });
  const { status, body } = await server.upload('Pluck', bytes);
  expect(status).toBe(201);
  expect(body).toMatchObject({
    name: 'Pluck',
    kind: 'source',
    frames: 24000,
    sampleRate: 48000,
    channels: 2,
    format: 's16',
    timeReference: 4800,
    lineage: null,
    tempo: null,
  });
  expect(body.peak).toBeCloseTo(20 * Math.log10(0.6), 0);
  expect(body.truePeak ?? NaN).toBeGreaterThanOrEqual(body.peak ?? NaN);
  expect(body.loudness ?? NaN).toBeLessThan(-10);
  const kept = await server.fetch(`/sounds/${body.id}/audio`);
  expect(Buffer.from(await kept.arrayBuffer()).equals(bytes)).toBe(true);
  expect((await server.get<Sound[]>('/sounds')).body.map(({ id }) => id)).toContain(body.id);
});

test('the same sound under the same name is one sound, under another name a second that shares its file', async () => {
  const bytes = wavBytes(pluck(0.1));
  const first = await server.upload('One', bytes);
  expect((await server.upload('One', bytes)).body.id).toBe(first.body.id);
  const before = (await files('audio')).length;
  expect((await server.upload('Two', bytes)).body.id).not.toBe(first.body.id);
  expect((await files('audio')).length).toBe(before);
});

test('the audio is sent in parts, and not again to whoever has it', async () => {
  const bytes = wavBytes(pluck(0.3), { depth: '24' });
  const { body } = await server.upload('In parts', bytes);
  const ask = (headers: Record<string, string>) => server.fetch(`/sounds/${body.id}/audio`, { headers });
  const whole = await ask({});
  const etag = whole.headers.get('etag') ?? '';
  expect(etag).toBe(`"${body.sha256}"`);
  expect(whole.headers.get('accept-ranges')).toBe('bytes');
  for (const [range, start, end] of [
    ['bytes=0-99', 0, 99],
    ['bytes=1000-', 1000, bytes.length - 1],
    ['bytes=-7', bytes.length - 7, bytes.length - 1],
    [`bytes=100-${bytes.length + 500}`, 100, bytes.length - 1],
  ] as const) {
    const part = await ask({ range });
    expect(part.status, range).toBe(206);
    expect(part.headers.get('content-range')).toBe(`bytes ${start}-${end}/${bytes.length}`);
    expect(Buffer.from(await part.arrayBuffer()).equals(bytes.subarray(start, end + 1)), range).toBe(true);
  }
  for (const headers of [
    { range: 'bytes=0-1,5-9' },
    { range: 'frames=1-2' },
    { range: 'bytes=0-9', 'if-range': '"x"' },
  ]) {
    const answer = await ask(headers as Record<string, string>);
    expect(answer.status).toBe(200);
    expect(Buffer.from(await answer.arrayBuffer()).equals(bytes)).toBe(true);
  }
  const outside = await ask({ range: `bytes=${bytes.length}-` });
  expect([outside.status, outside.headers.get('content-range')]).toEqual([416, `bytes */${bytes.length}`]);
  expect(((await outside.json()) as { detail: string }).detail).toContain(`${bytes.length} bytes`);
  // fetch adds headers of its own to such a request.
  const known = await new Promise((resolve, reject) => {
    const url = `${server.address}/api/sounds/${body.id}/audio`;
    const asked = request(url, { headers: { 'if-none-match': etag } }, (answer) => {
      let length = 0;
      answer.on('data', (piece: Buffer) => (length += piece.length));
      answer.on('end', () => resolve([answer.statusCode, length]));
    });
    asked.on('error', reject).end();
  });
  expect(known).toEqual([304, 0]);
});

test('downloads are written in the depth asked for, with the name', async () => {
  const { body } = await server.upload('Für Elise', wavBytes(pluck(0.1), { depth: '32f' }));
  for (const [depth, bits] of [
    ['16', 16],
    ['24', 24],
    ['32f', 32],
  ]) {
    const response = await server.fetch(`/sounds/${body.id}/audio?depth=${depth}`);
    const bytes = Buffer.from(await response.arrayBuffer());
    expect(bytes.readUInt16LE(34)).toBe(bits);
    expect(response.headers.get('content-disposition')).toContain('Elise.wav"');
  }
  expect((await server.get(`/sounds/${body.id}/audio?depth=12`)).status).toBe(422);
  await expect.poll(() => readdir(join(server.folder, 'unfinished'))).toEqual([]);
});

test('a sound of one frame and a silent one are legal', async () => {
  const one = { sampleRate: 8000, origin: 0, channels: [Float32Array.of(0.5)] };
  expect((await server.upload('One frame', wavBytes(one))).status).toBe(201);
  const silent = await server.upload(
    'Silence',
    wavBytes({ ...one, channels: [new Float32Array(9000)] }, { depth: '32f' }),
  );
  expect(silent.body).toMatchObject({ peak: null, loudness: null });
});

const patched = (at: number, write: (bytes: Buffer) => void) => {
  const bytes = Buffer.from(wavBytes(pluck(0.01), { depth: '32f' }));
  write(bytes.subarray(at));
  return new Uint8Array(bytes);
};

test.each([
  ['a text file', 'note', new TextEncoder().encode('no sound at all in here'), 'not a sound file'],
  ['nothing', 'note', new Uint8Array(0), 'empty'],
  ['0 frames', 'none', wavBytes({ sampleRate: 48000, origin: 0, channels: [new Float32Array(0)] }), '0 frames'],
  ['samples that are no numbers', 'NaN', patched(178, (bytes) => bytes.writeFloatLE(NaN)), 'NaN or infinite'],
  ['9 channels', 'nine', patched(22, (bytes) => bytes.writeUInt16LE(9)), '9 channels; 1 to 8'],
  ['4 kHz', 'slow', patched(24, (bytes) => bytes.writeUInt32LE(4000)), '8000 to 192000 Hz'],
  ['a name that is a path', '../../etc/passwd', wavBytes(pluck(0.01)), 'slashes'],
  ['no name', ' ', wavBytes(pluck(0.01)), 'empty'],
])('%s is refused in words and leaves nothing behind', async (_, name, bytes, message) => {
  const before = [(await server.get<Sound[]>('/sounds')).body.length, (await files('audio')).length];
  const { status, type, body } = await server.upload(name, bytes);
  expect(status).toBe(422);
  expect(type).toContain('application/problem+json');
  expect((body as unknown as { detail: string }).detail).toContain(message);
  expect([(await server.get<Sound[]>('/sounds')).body.length, (await files('audio')).length]).toEqual(before);
  expect(await readdir(join(server.folder, 'unfinished'))).toEqual([]);
});

test('an upload that breaks off leaves nothing behind', async () => {
  const stopping = new AbortController();
  const stream = new ReadableStream({
    async pull(controller) {
      controller.enqueue(wavBytes(pluck(0.1)));
      await new Promise((resolve) => setTimeout(resolve, 30));
      stopping.abort();
    },
  });
  const request = server.fetch('/sounds?name=broken', {
    method: 'POST',
    body: stream,
    signal: stopping.signal,
    duplex: 'half',
  } as RequestInit);
  await expect(request).rejects.toThrow();
  await expect.poll(() => readdir(join(server.folder, 'unfinished'))).toEqual([]);
  expect((await server.get<Sound[]>('/sounds')).body.some(({ name }) => name === 'broken')).toBe(false);
});

test('an id that is none', async () => {
  expect(await server.get('/sounds/nobody')).toMatchObject({
    status: 404,
    body: { detail: expect.stringContaining('nobody') as string },
  });
});

test('one that cannot be written is answered when all of it was sent, and leaves nothing', async () => {
  const unfinished = join(server.folder, 'unfinished');
  await rename(unfinished, `${unfinished} away`);
  try {
    // Far more than what lies in buffers on the way.
    const { status, body } = await server.upload('Long', Buffer.alloc(24_000_000));
    expect(status).toBe(500);
    expect(body).toHaveProperty('detail');
  } finally {
    await rename(`${unfinished} away`, unfinished);
  }
  expect((await server.upload('Short', wavBytes(pluck(0.2)))).status).toBe(201);
});

test('one whose sender breaks off is not kept', async () => {
  const before = (await server.get<Sound[]>('/sounds')).body.length;
  const sending = request(`${server.address}/api/sounds?name=Broken`, {
    method: 'POST',
    headers: { 'content-length': 100_000 },
  });
  sending.on('error', () => undefined);
  sending.write(wavBytes(pluck(0.2)).subarray(0, 20_000));
  await expect.poll(async () => (await readdir(join(server.folder, 'unfinished'))).length).toBe(1);
  sending.destroy();
  await expect.poll(() => readdir(join(server.folder, 'unfinished'))).toEqual([]);
  expect((await server.get<Sound[]>('/sounds')).body.length).toBe(before);
});
