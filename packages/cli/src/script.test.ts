/** Stages that are written as text, from the command line. */
import { writeFile } from 'node:fs/promises';
import { expect, test } from 'vitest';
import { encodeWav } from '@hexenkessel/core/formats';
import { at, call, err, out, samplesOf } from './testing/commandLine.ts';

const REPEAT = `// A single repeat.
export const language = 1;
export const title = 'Single repeat';
export const family = 'time';
export const summary = 'Adds the sound to itself once, later.';
export const keywords = ['slapback', 'double'];
export const params = {
  time: time({ default: '1/8', min: '1 ms', max: '2 s', doc: 'How late the repeat comes.' }),
  amount: ratio({ default: 0.5, doc: 'How loud the repeat is.' }),
};
export function channel({ sampleRate }) {
  const line = delayLine(2);
  return (x, p) => {
    const late = line.read(p.time);
    line.write(x);
    return x + p.amount * late;
  };
}
`;

test('a script is checked and explained', async () => {
  await writeFile(at('repeat.hxk.js'), REPEAT);
  expect(await call('script', 'check', at('repeat.hxk.js'))).toBe(0);
  expect(out.join('\n')).toMatch(/repeat\.hxk\.js: valid – Single repeat, \d+ bytes compiled/);
  out.length = 0;
  expect(await call('script', 'explain', at('repeat.hxk.js'))).toBe(0);
  const text = out.join('\n');
  for (const words of [
    'Single repeat (time)',
    'found by: slapback, double',
    'time: 1 ms to 2 s, default 1/8',
    'How loud the repeat is.',
  ])
    expect(text).toContain(words);
});

test('what is wrong is said with its file, line and column, of each script', async () => {
  await writeFile(at('repeat.hxk.js'), REPEAT);
  await writeFile(at('odd.hxk.js'), REPEAT.replace('return x + p.amount * late;', 'return x + p.loudness * late;'));
  await writeFile(at('harm.hxk.js'), REPEAT.replace('const late', "import('fs'); const late"));
  expect(
    await call('script', 'check', at('odd.hxk.js'), at('repeat.hxk.js'), at('harm.hxk.js'), at('none.hxk.js')),
  ).toBe(2);
  expect(out.join('\n')).toContain('Single repeat');
  const text = err.join('\n');
  expect(text).toMatch(/odd\.hxk\.js: line 16, column 18: There is no setting loudness; there are time, amount/);
  expect(text).toMatch(/harm\.hxk\.js: line 14, column 5: /);
  expect(text).toMatch(/none\.hxk\.js: there is no such file/);
});

test('a sound is rendered through a script; its settings are set by their names alone', async () => {
  await writeFile(at('repeat.hxk.js'), REPEAT);
  const rate = 44_100;
  const samples = new Float32Array(rate / 2);
  samples[100] = 0.5;
  const click = { sampleRate: rate, origin: 0, channels: [samples] };
  await writeFile(at('click.wav'), Buffer.concat([...encodeWav(click, { depth: '32f' })]));
  expect(
    await call(
      ...['render', '--script', at('repeat.hxk.js'), '--set', 'time=1/4', '--set', 'amount=25%'],
      ...['--tempo', '90', '--in', at('click.wav'), '--out', at('wet.wav'), '--depth', '32f'],
    ),
  ).toBe(0);
  const wet = await samplesOf('wet.wav');
  // A quarter note at 90 a minute lasts two thirds of a second.
  const heard = [...wet].flatMap((x, n) => (Math.abs(x) > 1e-4 ? [[n, Math.round(x * 1e4) / 1e4]] : []));
  expect(heard).toEqual([
    [100, 0.5],
    [29_500, 0.125],
  ]);
  expect(await call('render', '--script', at('repeat.hxk.js'), '--chain', 'x', '--in', 'a', '--out', 'b.wav')).toBe(2);
  expect(err.join('\n')).toContain('either --chain');
  expect(
    await call(
      'render',
      '--script',
      at('repeat.hxk.js'),
      '--set',
      'tim=1',
      '--in',
      at('click.wav'),
      '--out',
      at('b.wav'),
    ),
  ).toBe(2);
  expect(err.join('\n')).toContain('tim');
});

test('that a script works too long is said with its line, in one pass and in memory; the sound is whole', async () => {
  await writeFile(
    at('late.hxk.js'),
    REPEAT.replace('const late = ', 'while (x > 0.9) watch("x", x);\n    const late = ').replaceAll('"x"', "'x'"),
  );
  const samples = Float32Array.from({ length: 30_000 }, (_, n) => (n < 20_000 ? 0.25 : 0.95));
  await writeFile(at('steps.wav'), encodeWav({ sampleRate: 44_100, origin: 0, channels: [samples] }, { depth: '32f' }));
  for (const more of [[], ['--from', '100 ms', '--to', '600 ms']]) {
    err.length = 0;
    const asked = ['--script', at('late.hxk.js'), '--in', at('steps.wav'), '--out', at('passed.wav'), '--depth', '32f'];
    expect(await call('render', ...asked, ...more)).toBe(0);
    expect(err.join('\n')).toMatch(/“Single repeat” worked too long \(line 14 of its text\)/);
    const passed = await samplesOf('passed.wav');
    expect(passed[(more.length > 0 ? -4410 : 0) + 25_000]).toBeCloseTo(0.95, 5);
  }
});
