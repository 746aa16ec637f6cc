/** Pipes, folders and terminals: where the command line reads from and writes to beside single files. */
import { execFileSync, spawnSync } from 'node:child_process';
import { copyFile, mkdir, readFile, readdir, writeFile } from 'node:fs/promises';
import { fileURLToPath } from 'node:url';
import { afterEach, beforeAll, expect, test, vi } from 'vitest';
import { at, call, chain, err, folder, out, samplesOf } from './testing/commandLine.ts';

const BUILT = fileURLToPath(new URL('../bin/hexenkessel.js', import.meta.url));
const shell = (args: readonly string[], input?: Buffer) =>
  spawnSync(process.execPath, [BUILT, ...args], {
    cwd: folder,
    // A place of its own for what is only kept for a while, so that what is left there is seen.
    env: { ...process.env, TMPDIR: at('temporary') },
    ...(input ? { input } : {}),
    maxBuffer: 1e8,
  });
beforeAll(() => mkdir(at('temporary')));

const terminal = process.stderr.isTTY;
afterEach(() => {
  process.stderr.isTTY = terminal;
});

test('a sound goes through by pipes as it does by files, and what was made is said beside it', async () => {
  const take = await readFile(at('take.wav'));
  const piped = shell(['render', '--chain', 'tide.hxk.json', '--in', '-', '--out', '-', '--depth', '32f'], take);
  expect(piped.status).toBe(0);
  expect(piped.stderr.toString()).toContain('stdin – Tide: ');
  await writeFile(at('piped.wav'), piped.stdout);
  await call(
    'render',
    '--chain',
    at('tide.hxk.json'),
    '--in',
    at('take.wav'),
    '--out',
    at('filed.wav'),
    '--depth',
    '32f',
  );
  expect((await samplesOf('piped.wav')).length).toBeGreaterThan(9000);
  expect(await samplesOf('piped.wav')).toEqual(await samplesOf('filed.wav'));
  const flac = shell(['render', '--chain', 'tide.hxk.json', '--in', 'take.wav', '--out', '-', '--format', 'flac']);
  expect(flac.stdout.subarray(0, 4).toString()).toBe('fLaC');
  expect(await readdir(at('temporary'))).toEqual([]);
});

test('a chain, too, is read from standard input, by every command that takes one', () => {
  const document = Buffer.from(JSON.stringify(chain));
  const render = shell(['render', '--chain', '-', '--in', 'take.wav', '--out', 'by-pipe.wav', '--json'], document);
  expect(JSON.parse(render.stdout.toString())).toMatchObject({ output: 'by-pipe.wav', name: 'take – Tide' });
  expect(shell(['validate', '-'], document).stdout.toString()).toContain('standard input: valid – Tide, 3 stages');
  expect(shell(['sheet', '--chain', '-', '--out', '-'], document).stdout.toString()).toMatch(/^# Tide\n/);
  const wrong = shell(['validate', '-'], Buffer.from('{"format":"other"}'));
  expect([wrong.status, wrong.stderr.toString()]).toEqual([2, expect.stringContaining('standard input: ')]);
});

test('measure reads standard input', async () => {
  const measured = shell(['measure', '--in', '-', '--json'], await readFile(at('take.wav')));
  expect(JSON.parse(measured.stdout.toString())).toMatchObject({ frames: 9000, sampleRate: 44100 });
});

test('standard input is read once, and is a sound or is refused', async () => {
  expect(await call('render', '--chain', '-', '--in', '-', '--out', at('never.wav'))).toBe(2);
  expect(err.join()).toContain('can be read once');
  const text = shell(['render', '--chain', 'tide.hxk.json', '--in', '-', '--out', 'never.wav'], Buffer.from('fog'));
  expect([text.status, text.stderr.toString()]).toEqual([2, expect.stringContaining('standard input: ')]);
  expect(await readdir(folder)).not.toContain('never.wav');
});

test('who reads less than all is no fault', () => {
  const line = `set -o pipefail; "${process.execPath}" "${BUILT}" render --chain tide.hxk.json --in take.wav --out - --set hall.decay=40s --tail 30s | head -c 4`;
  expect(execFileSync('bash', ['-c', line], { cwd: folder, stdio: ['ignore', 'pipe', 'ignore'] }).toString()).toBe(
    'RIFF',
  );
});

test('several sounds go into a folder, each named by the chain; one that is none is named and keeps no other from it', async () => {
  await copyFile(at('take.wav'), at('second.wav'));
  await mkdir(at('elsewhere'));
  await copyFile(at('take.wav'), at('elsewhere/take.wav'));
  await writeFile(at('broken.wav'), 'Dear harbour master');
  const ins = ['take.wav', 'broken.wav', 'second.wav', 'elsewhere/take.wav'].map(at);
  expect(await call('render', '--chain', at('tide.hxk.json'), '--in', ...ins, '--out', at('wet/'))).toBe(2);
  expect((await readdir(at('wet'))).sort()).toEqual(['second – Tide.wav', 'take – Tide 2.wav', 'take – Tide.wav']);
  expect(err.join('\n')).toContain('broken.wav: ');
  expect(out).toHaveLength(3);
  expect(out[0]).toContain(at('wet/take – Tide.wav'));
  // The folder is there now and needs no slash.
  const flac = ['--format', 'flac', '--json'];
  expect(
    await call('render', '--chain', at('tide.hxk.json'), '--in', at('take.wav'), '--out', at('wet'), ...flac),
  ).toBe(0);
  expect(JSON.parse(out.at(-1)!)).toMatchObject({ output: at('wet/take – Tide.flac') });
});

test('several sounds and no folder: refused before any work, with the way to say it', async () => {
  const ins = [at('take.wav'), at('take.wav')];
  expect(await call('render', '--chain', at('tide.hxk.json'), '--in', ...ins, '--out', at('one.wav'))).toBe(2);
  expect(err.join()).toContain(`write --out "${at('one.wav')}/" to make it`);
  expect(await readdir(folder)).not.toContain('one.wav');
});

test('on a terminal it is shown how far a render has come; elsewhere nothing is printed of it', async () => {
  const render = () =>
    call(
      'render',
      '--chain',
      at('tide.hxk.json'),
      '--in',
      at('take.wav'),
      '--out',
      at('shown.wav'),
      '--set',
      'hall.decay=20s',
    );
  await render();
  expect(err).toEqual([]);
  process.stderr.isTTY = true;
  await render();
  expect(err.join('')).toMatch(/take – Tide .* \d+ %/);
});

test('help has examples and no empty defaults; the version is the package’s', async () => {
  const { version } = JSON.parse(await readFile(new URL('../package.json', import.meta.url), 'utf8')) as {
    version: string;
  };
  expect(shell(['--version']).stdout.toString()).toBe(`${version}\n`);
  const printed: string[] = [];
  vi.spyOn(process.stdout, 'write').mockImplementation((text) => printed.push(String(text)) > 0);
  for (const command of ['render', 'measure', 'stages', 'validate', 'sheet']) {
    expect(await call('help', command)).toBe(0);
    const help = printed.splice(0).join('');
    expect(help).toMatch(/Examples?:\n +\$ hexenkessel /);
    expect(help).not.toMatch(/default: (\[\]|false)/);
    expect(await call(command, '--help')).toBe(0);
    expect(printed.splice(0).join('')).toBe(help);
  }
});

test('a sheet in Markdown has its picture beside it; one in HTML brings picture and fonts along', async () => {
  const sheet = (name: string) =>
    call('sheet', '--chain', at('tide.hxk.json'), '--in', at('take.wav'), '--out', at(name));
  expect(await sheet('Tide (wet).md')).toBe(0);
  expect(out).toEqual([`${at('Tide (wet).md')}, ${at('Tide (wet).svg')}`]);
  const text = await readFile(at('Tide (wet).md'), 'utf8');
  expect(text).toContain('](Tide%20%28wet%29.svg)');
  expect(text.length).toBeLessThan(10_000);
  expect(await readFile(at('Tide (wet).svg'), 'utf8')).toMatch(/^<svg/);
  expect(await sheet('tide-all.html')).toBe(0);
  const html = await readFile(at('tide-all.html'), 'utf8');
  expect(
    html.match(/@font-face\{font-family:"[^"]+";font-weight:200 900;src:url\(data:font\/woff2;base64,d09GM/g),
  ).toHaveLength(3);
});
