/** How a server ends while somebody listens and somebody loads. */
import { request } from 'node:http';
import { expect, test } from 'vitest';
import type { Clip } from '@hexenkessel/core/model';
import { TestServer, wavBytes } from './testing/testServer.ts';

const MINUTES: Clip = { sampleRate: 48000, origin: 0, channels: [new Float32Array(48000 * 60).fill(0.1)] };

test('what is being sent is sent to its end, and who listens to events is let go', async () => {
  const server = await TestServer.start();
  const { body } = await server.upload('Long', wavBytes(MINUTES));
  const events = await server.fetch('/renders/events');
  const ended = events.text();
  const { hostname, port } = new URL(server.address);
  const got = new Promise<number>((resolve, reject) => {
    request({ hostname, port, path: `/api/sounds/${body.id}/audio` }, (response) => {
      let bytes = 0;
      response.on('data', (piece: Buffer) => {
        bytes += piece.length;
        // Slowly, so that most of it is still to come.
        response.pause();
        setTimeout(() => response.resume(), 5);
      });
      response.on('end', () => resolve(bytes));
      response.on('error', reject);
      response.once('data', () => void server.remove());
    })
      .on('error', reject)
      .end();
  });
  expect(await got).toBe(body.bytes);
  await ended;
});

test('many may listen, and none stays behind when they have gone', async () => {
  const server = await TestServer.start();
  const { jobs } = server.services;
  const aborts = Array.from({ length: 20 }, () => new AbortController());
  await Promise.all(aborts.map(({ signal }) => server.fetch('/renders/events', { signal })));
  expect(jobs.listenerCount('change')).toBe(20);
  for (const abort of aborts) abort.abort();
  await expect.poll(() => jobs.listenerCount('change')).toBe(0);
  expect(jobs.listenerCount('close')).toBe(0);
  await server.remove();
});
