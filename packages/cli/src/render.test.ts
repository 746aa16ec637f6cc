import { readFile, readdir, writeFile } from 'node:fs/promises';
import { expect, test } from 'vitest';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { assign, parseChain, type ChainDocument } from '@hexenkessel/core/chain';
import { finishRender, renderChain } from '@hexenkessel/core/engine';
import { encodeRender, encodeWav } from '@hexenkessel/core/formats';
import { at, call, chain, clip, err, folder, out } from './testing/commandLine.ts';

const expected = (document: ChainDocument, depth: '24' | '32f') => {
  const rendered = finishRender(renderChain(BUILT_INS, { chain: document, source: clip }));
  return Buffer.concat([
    ...encodeRender({
      clip: rendered,
      depth,
      name: 'take – Tide',
      chain: document,
      version: '',
      sourceTimeReference: 3600 * 44100,
    }),
  ]);
};

test('render writes the core’s bytes and reports what it made', async () => {
  expect(
    await call(
      'render',
      '--chain',
      at('tide.hxk.json'),
      '--in',
      at('take.wav'),
      '--out',
      at('a.wav'),
      '--depth',
      '32f',
      '--json',
    ),
  ).toBe(0);
  expect((await readFile(at('a.wav'))).equals(expected(chain, '32f'))).toBe(true);
  const report = JSON.parse(out[0]) as Record<string, number>;
  const rendered = finishRender(renderChain(BUILT_INS, { chain, source: clip }));
  expect(report).toMatchObject({
    output: at('a.wav'),
    frames: rendered.channels[0].length,
    sampleRate: 44100,
    channels: 2,
    originFrames: rendered.origin,
    latency: 0,
  });
  expect(report['peak']).toBeLessThan(6);
  expect(report['lufs']).toBeLessThan(0);
  expect(report['speed']).toBeGreaterThan(0);
});

test('options change the chain as typing on its rows would', async () => {
  const changed = parseChain(BUILT_INS, {
    ...assign(BUILT_INS, chain, 'hall.decay=300ms'),
    timing: { tempo: 120, meter: [4, 4] },
    render: { ...chain.render, tail: { mode: 'none' }, anchor: 'source', seed: 7 },
  });
  const args = ['--tempo', '120', '--set', 'hall.decay=300ms', '--tail', 'none', '--anchor', 'source', '--seed', '7'];
  expect(
    await call('render', '--chain', at('tide.hxk.json'), '--in', at('take.wav'), '--out', at('b.wav'), ...args),
  ).toBe(0);
  expect((await readFile(at('b.wav'))).equals(expected(changed, '24'))).toBe(true);
  expect(out[0]).toContain('real time');
});

test.each([
  ['a missing chain', ['--chain', 'none.json', '--in', 'take.wav'], 'none.json: there is no such file'],
  ['a missing sound', ['--chain', 'tide.hxk.json', '--in', 'none.wav'], 'none.wav: there is no such file'],
  ['a text file as a sound', ['--chain', 'tide.hxk.json', '--in', 'tide.hxk.json'], 'not a sound file'],
  ['a sound as a chain', ['--chain', 'take.wav', '--in', 'take.wav'], 'not JSON'],
  [
    'a bad assignment',
    ['--chain', 'tide.hxk.json', '--in', 'take.wav', '--set', 'hall.decay=900s'],
    'allowed is 100 ms to 60 s',
  ],
  ['a bad tempo', ['--chain', 'tide.hxk.json', '--in', 'take.wav', '--tempo', '3'], 'at least 20'],
  ['a bad depth', ['--chain', 'tide.hxk.json', '--in', 'take.wav', '--depth', '12'], 'Allowed choices are 16, 24, 32f'],
  ['an unknown option', ['--chain', 'tide.hxk.json', '--in', 'take.wav', '--loud'], 'unknown option'],
])('%s: exit 2, a pointed message, no file', async (_, args, message) => {
  const placed = args.map((arg) => (/\.(json|wav)$/.test(arg) ? at(arg) : arg));
  expect(await call('render', ...placed, '--out', at('never.wav'))).toBe(2);
  expect(err.join('\n')).toContain(message);
  expect((await readdir(folder)).filter((name) => name.includes('never') || name.includes('.part'))).toEqual([]);
});

/** The good take with bytes changed, as other programs' faults would leave it. */
const spoiled = (change: (bytes: Buffer) => Buffer | void) => {
  const bytes = Buffer.concat([...encodeWav(clip, { depth: '32f' })]);
  return change(bytes) ?? bytes;
};

test.each([
  ['a text file', Buffer.from('Dear harbour master'), 'it begins with "Dear"'],
  ['an empty file', Buffer.alloc(0), 'file is empty'],
  [
    '0 frames',
    Buffer.concat([...encodeWav({ ...clip, channels: [new Float32Array(0)] }, { depth: '16' })]),
    '0 frames',
  ],
  ['NaN samples', spoiled((bytes) => void bytes.writeFloatLE(NaN, bytes.length - 4)), 'frame 8999, channel 1'],
  ['9 channels', spoiled((bytes) => void bytes.writeUInt16LE(9, 22)), '9 channels; 1 to 8'],
  ['4 kHz', spoiled((bytes) => void bytes.writeUInt32LE(4000, 24)), '8000 to 192000 Hz'],
])('a sound that is %s: exit 2 from render and measure, no file', async (_, bytes, message) => {
  await writeFile(at('bad.wav'), bytes);
  expect(await call('render', '--chain', at('tide.hxk.json'), '--in', at('bad.wav'), '--out', at('never.wav'))).toBe(2);
  expect(await call('measure', '--in', at('bad.wav'))).toBe(2);
  expect(err).toHaveLength(2);
  for (const line of err) expect(line).toContain(message);
  expect((await readdir(folder)).some((name) => name.includes('never'))).toBe(false);
});

test.each([
  ['an unknown stage', { ...chain, stages: [{ id: 'a', kind: 'wobble' }] }, 'no stage of kind "wobble"'],
  [
    'a number out of range',
    { ...chain, stages: [{ id: 'g', kind: 'gain', settings: { gain: 99 } }] },
    'gain is 99; allowed is −96 dB to 36 dB',
  ],
  ['5 MB of JSON', { ...chain, about: { notes: 'x'.repeat(5_000_000) } }, 'at most 1048576 (1 MiB)'],
  ['a path for a name', { ...chain, name: '../../etc/passwd' }, 'slashes'],
  ['a version to come', { ...chain, version: 9 }, '"version" is 9'],
])('a chain with %s: exit 2, no file', async (_, document, message) => {
  await writeFile(at('odd.hxk.json'), JSON.stringify(document));
  expect(await call('render', '--chain', at('odd.hxk.json'), '--in', at('take.wav'), '--out', at('never.wav'))).toBe(2);
  expect(err.join('\n')).toContain(message);
  expect((await readdir(folder)).some((name) => name.includes('never'))).toBe(false);
});

test('a sound of one frame works', async () => {
  await writeFile(
    at('one.wav'),
    Buffer.concat([...encodeWav({ ...clip, channels: [Float32Array.of(0.5)] }, { depth: '16' })]),
  );
  expect(
    await call('render', '--chain', at('tide.hxk.json'), '--in', at('one.wav'), '--out', at('one-out.wav'), '--json'),
  ).toBe(0);
  expect((JSON.parse(out[0]) as { frames: number }).frames).toBe(1 + Math.round((60 / 93) * 44100));
});

test('a sound that is cut short is read as far as it goes, with a word of warning', async () => {
  await writeFile(
    at('cut.wav'),
    spoiled((bytes) => bytes.subarray(0, 5000)),
  );
  const command = ['render', '--chain', at('tide.hxk.json'), '--in', at('cut.wav'), '--out', at('from-cut.wav')];
  expect(await call(...command)).toBe(0);
  expect(err.join('\n')).toMatch(/cut\.wav: The WAV file is cut short: its data chunk claims \d+ bytes, \d+ are there/);
});

test('render takes the sounds that a chain names, and says which are missing', async () => {
  const chain = {
    format: 'hexenkessel.chain',
    version: 1,
    name: 'Bell',
    stages: [{ id: 'bell', kind: 'convolve', settings: { impulse: { sound: 'A bell' }, matched: false } }],
    render: { tail: { mode: 'none' } },
  };
  await writeFile(at('bell.hxk.json'), JSON.stringify(chain));
  const render = (...rest: string[]) =>
    call(
      'render',
      '--chain',
      at('bell.hxk.json'),
      '--in',
      at('take.wav'),
      '--out',
      at('rung.wav'),
      '--depth',
      '32f',
      '--json',
      ...rest,
    );
  const peak = () => (JSON.parse(out.at(-1)!) as { peak: number }).peak;
  expect(await render()).toBe(0);
  expect(err.join('\n')).toContain('the impulse response "A bell" is missing');
  const dry = peak();
  err.length = 0;
  expect(await render('--sound', `A bell=${at('take.wav')}`)).toBe(0);
  expect(err).toEqual([]);
  expect(Math.abs(peak() - dry)).toBeGreaterThan(1);
  expect(await render('--sound', 'nothing')).toBe(2);
  expect(err.join('\n')).toContain('write name=file.wav');
});
