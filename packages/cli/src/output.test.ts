/** What becomes of the place that `--out` names. */
import { execFileSync, spawn, spawnSync } from 'node:child_process';
import { lstat, mkdir, readFile, readdir, readlink, symlink, writeFile } from 'node:fs/promises';
import { createServer } from 'node:net';
import { fileURLToPath } from 'node:url';
import { expect, test } from 'vitest';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { emptyChain } from '@hexenkessel/core/chain';
import { encodeWav } from '@hexenkessel/core/formats';
import { at, call, err, folder, samplesOf } from './testing/commandLine.ts';

const render = (output: string) =>
  call('render', '--chain', at('tide.hxk.json'), '--in', at('take.wav'), '--out', output);
const isLeft = (name: string) => name.endsWith('.part');
/** The command line as it is run from a shell. */
const BUILT = fileURLToPath(new URL('../bin/hexenkessel.js', import.meta.url));
const BY_SHELL = ['render', '--chain', 'tide.hxk.json', '--in', 'take.wav', '--out'];

test('only files are replaced: a link, a pipe, a socket, a device and a folder stay what they are', async () => {
  await writeFile(at('kept.wav'), 'kept');
  await symlink(at('kept.wav'), at('link.wav'));
  await symlink('/dev/null', at('device.wav'));
  execFileSync('mkfifo', [at('pipe.wav')]);
  await mkdir(at('folder.wav'));
  const socket = createServer().listen(at('socket.wav'));
  await new Promise((resolve) => socket.once('listening', resolve));
  for (const [name, words] of [
    ['link.wav', `link.wav: this is a link to ${at('kept.wav')}; name the file itself`],
    ['device.wav', 'this is a link to /dev/null'],
    ['pipe.wav', 'this is a pipe; only files are written and replaced'],
    ['socket.wav', 'this is a socket'],
    ['folder.wav', 'this is a folder'],
  ]) {
    err.length = 0;
    expect([name, await render(at(name))]).toEqual([name, 2]);
    expect(err.join()).toContain(words);
    // The place is named, and not the sound that was read.
    expect(err.join()).not.toContain('take.wav:');
  }
  socket.close();
  expect(await readlink(at('link.wav'))).toBe(at('kept.wav'));
  expect(await readFile(at('kept.wav'), 'utf8')).toBe('kept');
  expect((await lstat(at('pipe.wav'))).isFIFO()).toBe(true);
  expect(await render(at('kept.wav'))).toBe(0);
  expect((await samplesOf('kept.wav')).length).toBeGreaterThan(9000);
});

test.each([
  ['x.mp3', '".mp3" is no format that is written here; allowed are .wav and .flac'],
  ['x', 'a name without an ending'],
  ['/dev/null', 'allowed are .wav and .flac'],
  ['x.wav.txt', '".txt"'],
])('%s is refused by its ending before any work', async (name, words) => {
  expect(await render(name.startsWith('/') ? name : at(name))).toBe(2);
  expect(err.join()).toContain(words);
});

test('a sheet is Markdown or HTML, whatever the case of its ending', async () => {
  expect(await call('sheet', '--chain', at('tide.hxk.json'), '--out', at('x.pdf'))).toBe(2);
  expect(err.join()).toContain('allowed are .md and .html');
  expect(await call('sheet', '--chain', at('tide.hxk.json'), '--out', at('x.HTML'))).toBe(0);
  expect(await readFile(at('x.HTML'), 'utf8')).toMatch(/^<!doctype html>/i);
});

test('a path through a file, and one where nothing can be made, get words', async () => {
  expect(await render(at('take.wav/deeper/x.wav'))).toBe(2);
  expect(err.join()).toContain('part of this path is a file and no folder. Nothing was written');
  err.length = 0;
  expect(await render('/proc/nobody/x.wav')).toBe(2);
  expect(err.join()).toContain('/proc/nobody/x.wav: there is no such folder, and none can be made there');
  expect(await render(at('new/folders/x.wav'))).toBe(0);
});

test('a disk that takes no more: words, exit 2, and nothing is left', async () => {
  await mkdir(at('small'));
  const { status, stderr } = spawnSync(
    'sh',
    ['-c', 'ulimit -f 8; exec "$0" "$@"', process.execPath, BUILT, ...BY_SHELL, 'small/x.wav'],
    { cwd: folder, encoding: 'utf8' },
  );
  expect(stderr).toContain('small/x.wav: a file gets larger than is allowed there');
  expect(status).toBe(2);
  expect(await readdir(at('small'))).toEqual([]);
});

test('what a killed run has left is cleared by the next one; what others write and what runs stays', async () => {
  await mkdir(at('killed'));
  const long = { sampleRate: 48_000, origin: 0, channels: [new Float32Array(48_000 * 600).fill(0.1)] };
  await writeFile(at('long.wav'), Buffer.concat([...encodeWav(long, { depth: '16' })]));
  const hall = { ...emptyChain(BUILT_INS, 'Hall'), stages: [{ id: 'hall', kind: 'hall' }] };
  await writeFile(at('hall.hxk.json'), JSON.stringify(hall));
  const args = ['render', '--chain', 'hall.hxk.json', '--in', 'long.wav', '--out', 'killed/long.wav'];
  const killed = spawn(process.execPath, [BUILT, ...args], { cwd: folder, stdio: 'ignore' });
  const gone = new Promise((resolve) => killed.once('exit', resolve));
  await expect.poll(async () => (await readdir(at('killed'))).filter(isLeft), { timeout: 30_000 }).toHaveLength(1);
  const [left] = await readdir(at('killed'));
  expect(await render(at('killed/beside.wav'))).toBe(0);
  expect(await readdir(at('killed'))).toContain(left);
  killed.kill('SIGKILL');
  await gone;
  expect(await readdir(at('killed'))).toContain(left);
  await writeFile(at('killed/movie.part'), 'somebody else’s');
  expect(await render(at('killed/x.wav'))).toBe(0);
  expect((await readdir(at('killed'))).sort()).toEqual(['beside.wav', 'movie.part', 'x.wav']);
});

test('a chain that never ends is refused and not read to its end', async () => {
  const { status, stderr } = spawnSync(
    process.execPath,
    [BUILT, 'render', '--chain', '/dev/zero', '--in', 'take.wav', '--out', 'x.wav'],
    { cwd: folder, encoding: 'utf8', timeout: 30_000 },
  );
  expect([status, stderr]).toEqual([2, expect.stringContaining('/dev/zero: The chain file is too large')]);
});
