import { afterAll, beforeAll, expect, test } from 'vitest';
import { bytesInMemory, WavReader } from '@hexenkessel/core/formats';
import type { Clip } from '@hexenkessel/core/model';
import type { Sound } from '@hexenkessel/core/protocol';
import { TestServer, wavBytes } from '../testing/testServer.ts';

let server: TestServer;
beforeAll(async () => void (server = await TestServer.start()));
afterAll(() => server.remove());

/** Half a second of one level, so that it shows in a sum where a stem begins and ends. */
const level = (value: number, sampleRate = 44100, channels = 1): Clip => ({
  sampleRate,
  origin: 0,
  channels: Array.from({ length: channels }, () => new Float32Array(sampleRate / 2).fill(value)),
});

async function stem(name: string, clip: Clip, timeReference?: number): Promise<Sound> {
  const place = timeReference === undefined ? {} : { timeReference };
  return (await server.upload(name, wavBytes(clip, { depth: '32f', ...place }))).body;
}

async function samplesOf({ id }: Sound): Promise<WavReader> {
  const response = await server.fetch(`/sounds/${id}/audio`);
  return WavReader.open(bytesInMemory(new Uint8Array(await response.arrayBuffer())));
}

test('stems are mixed by their places with level, mute and offset; the mix knows them, and they stay', async () => {
  const drums = await stem('Stem drums', level(0.5), 44100 * 10);
  const bass = await stem('Stem bass', level(0.25, 44100, 2), 44100 * 10 + 11025);
  const hum = await stem('Stem hum', level(0.9), 44100 * 10);
  const order = {
    name: 'Song',
    lay: 'place',
    parts: [
      { soundId: drums.id, level: -6.0206 },
      { soundId: bass.id, offset: 0.25 },
      { soundId: hum.id, muted: true },
    ],
  };
  const { status, body: mix } = await server.send<Sound>('POST', '/mixes', order);
  expect(status).toBe(201);
  expect(mix).toMatchObject({ name: 'Song', kind: 'source', channels: 2, sampleRate: 44100, timeReference: 441000 });
  expect(mix.frames).toBe(44100); // bass begins a quarter of a second in, and another by its offset
  const reader = await samplesOf(mix);
  const at = async (seconds: number) => (await reader.read(Math.round(seconds * 44100), 1)).map(([sample]) => sample);
  for (const channel of await at(0.4)) expect(channel).toBeCloseTo(0.25, 5);
  for (const channel of await at(0.75)) expect(channel).toBeCloseTo(0.25, 5);
  expect(reader.timeReference).toBe(441000);
  expect(mix.mixed).toEqual({
    lay: 'place',
    parts: [
      { soundId: drums.id, name: 'Stem drums', level: -6.0206, muted: false, offset: 0 },
      { soundId: bass.id, name: 'Stem bass', level: 0, muted: false, offset: 0.25 },
      { soundId: hum.id, name: 'Stem hum', level: 0, muted: true, offset: 0 },
    ],
  });
  expect((await server.get<Sound[]>('/sounds')).body.find(({ id }) => id === mix.id)).toEqual(mix);
  const refused = await server.send<{ detail: string }>('DELETE', `/sounds/${drums.id}`);
  expect(refused.status).toBe(409);
  expect(refused.body.detail).toContain('the mix "Song"');
  expect((await server.send('DELETE', `/sounds/${mix.id}`)).status).toBe(204);
  expect((await server.send('DELETE', `/sounds/${drums.id}`)).status).toBe(204);
});

test('sounds of two rates are mixed at the higher one, from the same start', async () => {
  const low = await stem('Low', level(0.25, 22050), 22050 * 7);
  const high = await stem('High', level(0.5, 48000));
  const parts = [{ soundId: high.id }, { soundId: low.id }];
  const { body } = await server.send<Sound>('POST', '/mixes', { name: 'Two rates', lay: 'start', parts });
  expect(body).toMatchObject({ sampleRate: 48000, frames: 24000, channels: 1, timeReference: 48000 * 7 });
  const [samples] = await (await samplesOf(body)).read(12000, 100);
  for (const sample of samples) expect(sample).toBeCloseTo(0.75, 3);
});

test('what cannot be mixed is refused, says why, and leaves nothing behind', async () => {
  const one = await stem('Alone', level(0.5));
  const before = (await server.get<Sound[]>('/sounds')).body.length;
  const refusal = async (parts: object[], name = 'Mix') =>
    (await server.send<{ detail: string }>('POST', '/mixes', { name, lay: 'place', parts })).body.detail;
  expect(await refusal([{ soundId: one.id, muted: true }])).toContain('at least one must be heard');
  expect(await refusal([{ soundId: 'nowhere' }])).toContain('nowhere');
  expect(await refusal([{ soundId: one.id, level: 90 }])).toContain('24');
  expect(await refusal([{ soundId: one.id }], ' ')).toContain('name');
  const far = await stem('Far', level(0.5), 44100 * 3600 * 9);
  expect(await refusal([{ soundId: one.id }, { soundId: far.id }])).toMatch(/8\.0 hours long/);
  expect((await server.get<Sound[]>('/sounds')).body).toHaveLength(before + 1);
});
