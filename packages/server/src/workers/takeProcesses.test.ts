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

const take = async (name: string, bytes: Uint8Array, channels?: readonly number[], rate?: number) => {
  const path = join(folder, name);
  await writeFile(path, bytes);
  return processes.take({ path, outputPath: `${path}.out`, channels, rate });
};

/** What the system says of every process that has been begun from here, by their numbers. */
async function children(): Promise<Map<number, string>> {
  const pids = (await readdir('/proc')).filter((name) => /^\d+$/.test(name));
  const said = await Promise.all(
    // One may have ended meanwhile.
    pids.map(async (pid) => [Number(pid), await readFile(`/proc/${pid}/status`, 'latin1').catch(() => '')] as const),
  );
  return new Map(said.filter(([, status]) => status.includes(`PPid:\t${process.pid}\n`)));
}

/** Bytes that are resident in the largest of them. */
async function memoryOfChildren(): Promise<number> {
  const sizes = [...(await children()).values()].map((status) => Number(/VmRSS:\s+(\d+)/.exec(status)?.[1] ?? 0));
  return 1024 * Math.max(0, ...sizes);
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

test('a sound that is converted on the way in takes no more either', async () => {
  await take('first again.wav', wavBytes(pluck(0.2)));
  const idle = await memoryOfChildren();
  let most = 0;
  const looking = setInterval(() => void memoryOfChildren().then((bytes) => (most = Math.max(most, bytes))), 20);
  const bomb = flacBomb({ seconds: 75, sampleRate: 192_000, channels: 1, promises: false });
  const taken = await take('converted.flac', bomb, undefined, 8000);
  clearInterval(looking);
  expect(taken).toMatchObject({ channels: 1, sampleRate: 8000, format: 'f32' });
  // The bomb is a little longer than was asked for: frames of the file are whole.
  expect(taken.frames / 8000).toBeGreaterThanOrEqual(75);
  expect(taken.frames / 8000).toBeLessThan(78);
  expect(most).toBeGreaterThan(0);
  // Held whole, as a clip and as pieces, its samples would take 115 MB.
  expect(most - idle).toBeLessThan(80e6);
});

test('a decoder that falls silent is ended and told', async () => {
  // Longer than a busy machine takes to start a process.
  const silent = new TakeProcesses(5000);
  const before = new Set((await children()).keys());
  const path = join(folder, 'silent.flac');
  await writeFile(path, flacBomb({ seconds: 3600, sampleRate: 8000, channels: 8, promises: false }));
  const taking = silent.take({ path, outputPath: `${path}.out`, channels: undefined, rate: undefined });
  const refused = expect(taking).rejects.toThrow('it keeps its decoder busy without an end');
  const begun = async () => [...(await children()).keys()].filter((pid) => !before.has(pid));
  await expect.poll(async () => (await readdir(folder)).includes('silent.flac.out'), { timeout: 50_000 }).toBe(true);
  const [pid] = await begun();
  process.kill(pid, 'SIGSTOP');
  await refused;
  await expect.poll(begun).toEqual([]);
  await silent.close();
}, 120_000);
