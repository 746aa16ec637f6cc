import { mkdtemp, readFile, readdir, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { flacBomb } from '../../../core/src/testing/flacBomb.ts';
import { pluck, wavBytes } from '../testing/testServer.ts';
import { TakeProcesses } from './takeProcesses.ts';

let folder: string;
let processes: TakeProcesses;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'hexenkessel-taking-'));
  processes = new TakeProcesses();
});
afterAll(async () => {
  await processes.close();
  await rm(folder, { recursive: true, force: true });
});

const take = async (name: string, bytes: Uint8Array, channels?: readonly number[]) => {
  const path = join(folder, name);
  await writeFile(path, bytes);
  return processes.take({ path, outputPath: `${path}.out`, channels, rate: undefined });
};

/** Bytes that are resident in every process that has been begun from here. */
async function memoryOfChildren(): Promise<number> {
  const pids = (await readdir('/proc')).filter((name) => /^\d+$/.test(name));
  const sizes = pids.map(async (pid) => {
    try {
      const status = await readFile(`/proc/${pid}/status`, 'latin1');
      const mine = status.includes(`PPid:\t${process.pid}\n`);
      return mine ? 1024 * Number(/VmRSS:\s+(\d+)/.exec(status)?.[1] ?? 0) : 0;
    } catch {
      return 0; // ended meanwhile
    }
  });
  return Math.max(...(await Promise.all(sizes)));
}

test('a file that unpacks to thousands of times its size takes no more memory than any, and holds up no other', async () => {
  const short = wavBytes(pluck(0.2));
  await take('first.wav', short);
  const idle = await memoryOfChildren();
  let most = 0;
  const looking = setInterval(() => void memoryOfChildren().then((bytes) => (most = Math.max(most, bytes))), 20);
  const order: string[] = [];
  const bomb = flacBomb({ seconds: 1800, sampleRate: 8000, channels: 8, promises: false });
  const long = take('bomb.flac', bomb, [6]).then((taken) => {
    order.push('bomb');
    return taken;
  });
  await take('short.wav', short).then(() => order.push('short'));
  const taken = await long;
  clearInterval(looking);
  expect(order).toEqual(['short', 'bomb']);
  expect(bomb.length).toBeLessThan(10_000);
  expect(taken).toMatchObject({ channels: 1, sampleRate: 8000, sourceFormat: 'flac', peak: null });
  expect(taken.frames / 8000).toBeGreaterThanOrEqual(1800);
  expect(most - idle).toBeLessThan(300e6);
});

test('one that says it is longer than any may be is not unpacked', async () => {
  const bomb = flacBomb({ seconds: 7 * 3600, sampleRate: 48000, channels: 8, promises: true });
  await expect(take('long.flac', bomb)).rejects.toThrow(/allowed are 6 hours/);
  expect(await readdir(folder)).not.toContain('long.flac.out');
});
