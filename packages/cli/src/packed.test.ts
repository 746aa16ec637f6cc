/** Core and command line as others get them: packed, installed into an empty folder and used there. */
import { execFileSync } from 'node:child_process';
import { cp, mkdtemp, readFile, readdir, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { at, samplesOf } from './testing/commandLine.ts';

const MINUTES = 5 * 60_000;
const PACKAGES = fileURLToPath(new URL('../../', import.meta.url));
let place: string;
const run = (command: string, args: readonly string[], cwd = place, input?: Buffer) =>
  execFileSync(command, args, { cwd, stdio: ['pipe', 'pipe', 'pipe'], maxBuffer: 1e8, ...(input ? { input } : {}) });

beforeAll(async () => {
  place = await mkdtemp(join(tmpdir(), 'hexenkessel-packed-'));
  const packed = ['core', 'cli'].map((name) => {
    const told = run('npm', ['pack', '--json', '--pack-destination', place], join(PACKAGES, name)).toString();
    return (JSON.parse(told.slice(told.indexOf('['))) as { filename: string }[])[0].filename;
  });
  await writeFile(join(place, 'package.json'), '{"private":true,"type":"module"}');
  run('npm', ['install', '--prefer-offline', '--no-audit', '--no-fund', ...packed.map((name) => `./${name}`)]);
}, MINUTES);
afterAll(() => rm(place, { recursive: true, force: true }));

test(
  'the packed command line renders in an empty folder, from a file and through a pipe',
  async () => {
    await cp(at('tide.hxk.json'), join(place, 'tide.hxk.json'));
    await cp(at('take.wav'), join(place, 'take.wav'));
    const common = ['hexenkessel', 'render', '--chain', 'tide.hxk.json', '--depth', '32f'];
    run('npx', [...common, '--in', 'take.wav', '--out', 'filed.wav']);
    await writeFile(
      at('packed-piped.wav'),
      run('npx', [...common, '--in', '-', '--out', '-'], place, await readFile(at('take.wav'))),
    );
    await cp(join(place, 'filed.wav'), at('packed-filed.wav'));
    const samples = await samplesOf('packed-filed.wav');
    expect(samples.length).toBeGreaterThan(9000);
    expect(samples.some((x) => Math.abs(x) > 0.1)).toBe(true);
    expect(await samplesOf('packed-piped.wav')).toEqual(samples);
    run('npx', ['hexenkessel', 'sheet', '--chain', 'tide.hxk.json', '--out', 'tide.html']);
    expect(await readFile(join(place, 'tide.html'), 'utf8')).toContain('@font-face');
  },
  MINUTES,
);

test(
  'five lines of a program render a file, to the bytes of the command line',
  async () => {
    await cp(at('tide.hxk.json'), join(place, 'tide.hxk.json'));
    await cp(at('take.wav'), join(place, 'take.wav'));
    const five = [
      `import { readFile, writeFile } from 'node:fs/promises';`,
      `import { renderBytes } from '@hexenkessel/core';`,
      `const chain = await readFile('tide.hxk.json', 'utf8');`,
      `const options = { name: 'take – Tide' };`,
      `await writeFile('five.wav', await renderBytes(chain, await readFile('take.wav'), options));`,
    ];
    await writeFile(join(place, 'five.js'), five.join('\n'));
    run('node', ['five.js']);
    run('npx', ['hexenkessel', 'render', '--chain', 'tide.hxk.json', '--in', 'take.wav', '--out', 'by-cli.wav']);
    expect((await readFile(join(place, 'five.wav'))).equals(await readFile(join(place, 'by-cli.wav')))).toBe(true);
  },
  MINUTES,
);

test('what is packed has its types, its licence and nothing of the tests', async () => {
  for (const name of ['@hexenkessel/core', 'hexenkessel-cli']) {
    const folder = join(place, 'node_modules', name);
    const files = await readdir(folder, { recursive: true });
    expect(files).toContain('LICENSE');
    expect(files.filter((file) => /\.test\.|testing|\.map$|tsbuildinfo|^src/.test(file))).toEqual([]);
    const { exports = {} } = JSON.parse(await readFile(join(folder, 'package.json'), 'utf8')) as {
      exports?: Record<string, { types: string; default: string }>;
    };
    for (const door of Object.values(exports)) {
      expect(files).toContain(door.types.slice(2));
      expect(files).toContain(door.default.slice(2));
    }
  }
});
