import { mkdtemp, readFile, readdir, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, beforeEach, expect, test, vi } from 'vitest';
import {
  MODULATORS,
  STAGES,
  WavReader,
  assign,
  bytesInMemory,
  emptyChain,
  encodeRender,
  encodeWav,
  finishRender,
  parseChain,
  renderChain,
  type ChainDocument,
  type Clip,
} from '@hexenkessel/core';
import { run } from './main.ts';

let folder: string;
const out: string[] = [];
const err: string[] = [];
const at = (name: string) => join(folder, name);
const call = (...args: string[]) => run(args);

const clip: Clip = {
  sampleRate: 44100,
  origin: 0,
  channels: [Float32Array.from({ length: 9000 }, (_, i) => (i < 100 ? 0 : 0.5 * Math.sin(i / 9)))],
};
const chain: ChainDocument = parseChain({
  ...emptyChain('Tide'),
  timing: { tempo: 93 },
  stages: [
    { id: 'flip', kind: 'reverse' },
    { id: 'hall', kind: 'hall', settings: { decay: { beats: 1 } } },
    { id: 'back', kind: 'reverse' },
  ],
  render: { tail: { mode: 'fixed', length: { beats: 1 } }, anchor: 'end' },
});

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'hexenkessel-cli-'));
  await writeFile(at('take.wav'), Buffer.concat([...encodeWav(clip, { depth: '32f' })]));
  await writeFile(at('tide.hxk.json'), JSON.stringify(chain));
});
afterAll(() => rm(folder, { recursive: true }));
beforeEach(() => {
  out.length = err.length = 0;
  vi.spyOn(console, 'log').mockImplementation((text: string) => void out.push(text));
  vi.spyOn(console, 'error').mockImplementation((text: string) => void err.push(text));
  vi.spyOn(process.stderr, 'write').mockImplementation((text) => void err.push(String(text)) as never);
});

const expected = (document: ChainDocument, depth: '24' | '32f') => {
  const rendered = finishRender(renderChain({ chain: document, source: clip }));
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
  const rendered = finishRender(renderChain({ chain, source: clip }));
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
  const changed = parseChain({
    ...assign(chain, 'hall.decay=300ms'),
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
  ['a lying size', spoiled((bytes) => bytes.subarray(0, 5000)), 'claims 36000 bytes'],
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
    'gain is 99; allowed is -96 dB to 36 dB',
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

test('a folder to write to is refused and left as it was', async () => {
  expect(await call('render', '--chain', at('tide.hxk.json'), '--in', at('take.wav'), '--out', folder)).toBe(2);
  expect((await readdir(folder)).some((name) => name.includes('.part'))).toBe(false);
});

test('validate tells the good from the bad and names each fault', async () => {
  await writeFile(
    at('bad.hxk.json'),
    JSON.stringify({ ...chain, stages: [{ id: 'hall', kind: 'hall', settings: { decay: 900, size: 7 } }] }),
  );
  expect(await call('validate', at('tide.hxk.json'))).toBe(0);
  expect(out[0]).toContain('good – Tide, 3 stages');
  expect(await call('validate', at('tide.hxk.json'), at('bad.hxk.json'))).toBe(2);
  expect(err).toHaveLength(2);
  expect(err[0]).toContain('bad.hxk.json: Stage "hall" (Hall): decay is 900');
});

test('measure tells length, levels and place', async () => {
  expect(await call('measure', '--in', at('take.wav'), '--json')).toBe(0);
  const report = JSON.parse(out[0]) as Record<string, number>;
  expect(report).toMatchObject({ frames: 9000, sampleRate: 44100, channels: 1, format: 'f32', timeReference: null });
  expect(report['peak']).toBeCloseTo(-6.02, 1);
  out.length = 0;
  expect(await call('measure', '--in', at('take.wav'))).toBe(0);
  expect(out.join('\n')).toContain('01:00:00.000 (assumed');
});

test('stages lists all and explains one', async () => {
  expect(await call('stages')).toBe(0);
  const listed = out.filter((line) => line.startsWith('  ')).map((line) => line.trim().split(' ')[0]);
  expect(listed.toSorted()).toEqual([...STAGES, ...MODULATORS].map(({ kind }) => kind).toSorted());
  expect(out.map((line) => line.trim())).toContain('space');
  out.length = 0;
  expect(await call('stages', 'hall')).toBe(0);
  expect(out.join('\n')).toContain('decay – decay: 100 ms to 60 s; default 2.5 s; can follow the tempo');
  expect(out.join('\n')).toContain('Held to:');
  out.length = 0;
  expect(await call('stages', 'slow down')).toBe(0);
  expect(out.join('\n')).toContain('tapeStop');
  expect(await call('stages', 'xyzzy')).toBe(2);
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
    call('render', '--chain', at('bell.hxk.json'), '--in', at('take.wav'), '--out', at('rung.wav'), '--json', ...rest);
  const peak = () => (JSON.parse(out.at(-1)!) as { peak: number }).peak;
  expect(await render()).toBe(0);
  expect(err.join('\n')).toContain('the impulse "A bell" is missing');
  const dry = peak();
  err.length = 0;
  expect(await render('--sound', `A bell=${at('take.wav')}`)).toBe(0);
  expect(err).toEqual([]);
  expect(Math.abs(peak() - dry)).toBeGreaterThan(1);
  expect(await render('--sound', 'nothing')).toBe(2);
  expect(err.join('\n')).toContain('write name=file.wav');
});

test('sheet writes Markdown, or one HTML file with the Cascade of a sound', async () => {
  expect(await call('sheet', '--chain', at('tide.hxk.json'), '--out', at('tide.md'))).toBe(0);
  expect(await readFile(at('tide.md'), 'utf8')).toContain('# Tide');
  expect(await call('sheet', '--chain', at('tide.hxk.json'), '--in', at('take.wav'), '--out', at('tide.html'))).toBe(0);
  const html = await readFile(at('tide.html'), 'utf8');
  expect(html).toContain('<svg');
  expect(html).not.toContain('<script');
});

test('help is no fault', async () => {
  vi.spyOn(process.stdout, 'write').mockImplementation(() => true);
  expect(await call('--help')).toBe(0);
  expect(await call('brew')).toBe(2);
});

/** Samples of the first channel of a 32-bit float file. */
async function samplesOf(name: string): Promise<Float32Array> {
  const reader = await WavReader.open(bytesInMemory(new Uint8Array(await readFile(at(name)))));
  return (await reader.readClip()).channels[0];
}

test('a stretch is rendered alone, or put back into a copy whose rest is the original, bit for bit', async () => {
  await writeFile(
    at('flip.hxk.json'),
    JSON.stringify(parseChain({ ...emptyChain('Flip'), stages: [{ id: 'flip', kind: 'reverse' }] })),
  );
  const common = ['render', '--chain', at('flip.hxk.json'), '--in', at('take.wav'), '--depth', '32f', '--json'];
  const source = clip.channels[0];
  const [from, to] = [4410, 6615];
  expect(await call(...common, '--from', '100ms', '--to', '150ms', '--out', at('part.wav'))).toBe(0);
  expect(JSON.parse(out[0])).toMatchObject({ frames: to - from, originFrames: from });
  expect([...(await samplesOf('part.wav'))]).toEqual([...source.slice(from, to)].reverse());
  expect(
    await call(...common, '--from', '100ms', '--to', '150ms', '--splice', '--fade', '2ms', '--out', at('whole.wav')),
  ).toBe(0);
  const whole = await samplesOf('whole.wav');
  expect(whole.length).toBe(source.length);
  expect([...whole.slice(0, from)]).toEqual([...source.slice(0, from)]);
  expect([...whole.slice(to)]).toEqual([...source.slice(to)]);
  const fade = 89;
  expect([...whole.slice(from + fade, to - fade)]).toEqual([...source.slice(from, to)].reverse().slice(fade, -fade));
});

test('a lane goes by the stretch or by the sound, as asked for', async () => {
  const points = [
    { at: 0, value: -40 },
    { at: 1, value: 0 },
  ];
  const lanes = [{ target: 'gain.gain', curve: { over: 'clip', points } }];
  const chain = parseChain({ ...emptyChain('Swell'), stages: [{ id: 'gain', kind: 'gain' }], lanes });
  await writeFile(at('swell.hxk.json'), JSON.stringify(chain));
  const common = ['render', '--chain', at('swell.hxk.json'), '--in', at('take.wav'), '--depth', '32f'];
  const loudest = async (name: string) =>
    (await samplesOf(name)).slice(0, 400).reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);
  for (const [time, name] of [
    ['region', 'own.wav'],
    ['sound', 'shared.wav'],
  ])
    expect(await call(...common, '--from', '100ms', '--to', '150ms', '--region-time', time, '--out', at(name))).toBe(0);
  expect(await loudest('own.wav')).toBeLessThan(0.5 * (await loudest('shared.wav')));
});

test('bad stretches are refused and leave no file', async () => {
  const common = ['render', '--chain', at('tide.hxk.json'), '--in', at('take.wav'), '--out', at('none.wav')];
  expect(await call(...common, '--from', '100ms', '--to', '100ms')).toBe(2);
  expect(await call(...common, '--from', '100ms', '--to', '2s')).toBe(2);
  expect(await call(...common, '--splice')).toBe(2);
  expect(await call(...common, '--rate', '4000')).toBe(2);
  expect(err.join('\n')).toMatch(
    /has no length[\s\S]*reaches out of the sound[\s\S]*needs a stretch[\s\S]*8000 to 192000/,
  );
  expect((await readdir(folder)).filter((name) => name.startsWith('none'))).toEqual([]);
});

test('a FLAC file is written and read again; another rate keeps length and pitch', async () => {
  await writeFile(at('as-is.hxk.json'), JSON.stringify(emptyChain('As is')));
  const common = ['render', '--chain', at('as-is.hxk.json'), '--json'];
  expect(await call(...common, '--in', at('take.wav'), '--out', at('take.flac'), '--depth', '24')).toBe(0);
  expect(await call(...common, '--in', at('take.flac'), '--out', at('again.wav'), '--depth', '32f')).toBe(0);
  const again = await samplesOf('again.wav');
  expect(again.length).toBe(9000);
  again.forEach((sample, i) => expect(Math.abs(sample - clip.channels[0][i])).toBeLessThan(2 ** -22));
  expect(
    await call(...common, '--in', at('take.wav'), '--out', at('high.wav'), '--rate', '88200', '--depth', '32f'),
  ).toBe(0);
  const high = await samplesOf('high.wav');
  expect(high.length).toBe(18_000);
  for (let i = 1000; i < 8000; i++) expect(Math.abs(high[2 * i] - clip.channels[0][i])).toBeLessThan(1e-4);
  expect(await call(...common, '--in', at('take.wav'), '--out', at('no.flac'), '--depth', '32f')).toBe(2);
  expect(err.join()).toContain('FLAC has no 32-bit floats');
});

test('bars and the tempo come from a MIDI file', async () => {
  await writeFile(
    at('flip.hxk.json'),
    JSON.stringify(parseChain({ ...emptyChain('Flip'), stages: [{ id: 'flip', kind: 'reverse' }] })),
  );
  // 1200 quarters a minute would be refused; 300 in 1/4 makes bars of 200 ms, then 150 of 400 ms.
  const midi = Buffer.from(
    '4d546864000000060000000101e04d54726b0000001b' +
      '00ff5103030d40' +
      '00ff580401021808' +
      '8360ff510306' +
      '1a80' +
      '00ff2f00',
    'hex',
  );
  await writeFile(at('map.mid'), midi);
  const common = [
    'render',
    '--chain',
    at('flip.hxk.json'),
    '--in',
    at('take.wav'),
    '--tempo-map',
    at('map.mid'),
    '--json',
  ];
  expect(await call(...common, '--from', '0.5bars', '--to', '1bars', '--out', at('bar.wav'))).toBe(0);
  expect(JSON.parse(out[0])).toMatchObject({ originFrames: 4410, frames: 4410 });
  await writeFile(at('cut.mid'), midi.subarray(0, 30));
  expect(await call(...common.map((arg) => arg.replace('map.mid', 'cut.mid')), '--out', at('no.wav'))).toBe(2);
  expect(err.join()).toContain('cut short');
});

test('a panel is played from the command line, by number and by word; what a control drives is not set behind it', async () => {
  const panelled = parseChain({
    ...emptyChain('Panelled'),
    stages: [{ id: 'gain', kind: 'gain' }],
    panel: [
      {
        id: 'far',
        name: 'Far',
        words: ['near', 'middling', 'far'],
        default: 0,
        value: 0,
        drives: [{ target: 'gain.gain', from: 0, to: -40 }],
      },
    ],
    render: { tail: { mode: 'none' } },
  });
  await writeFile(at('panelled.hxk.json'), JSON.stringify(panelled));
  const peak = async (...set: string[]) => {
    const status = await call(
      'render',
      '--chain',
      at('panelled.hxk.json'),
      '--in',
      at('take.wav'),
      '--out',
      at('p.wav'),
      '--depth',
      '32f',
      ...set,
    );
    expect(status).toBe(0);
    const { channels } = await (
      await WavReader.open(bytesInMemory(new Uint8Array(await readFile(at('p.wav')))))
    ).readClip();
    return 20 * Math.log10(channels[0].reduce((most, x) => Math.max(most, Math.abs(x)), 0) / 0.5);
  };
  expect(await peak('--set', 'far=50')).toBeCloseTo(-20, 2);
  expect(await peak('--set', 'far=far')).toBeCloseTo(-40, 2);
  expect(
    await call(
      'render',
      '--chain',
      at('panelled.hxk.json'),
      '--in',
      at('take.wav'),
      '--out',
      at('p.wav'),
      '--set',
      'gain.gain=-3 dB',
    ),
  ).toBe(2);
  expect(err.join()).toContain('is driven by the control "Far"; write far=near');
});

test('a tempo is found in the sound, or it is said that there is none', async () => {
  const pulses = Float32Array.from({ length: 6 * 44100 }, (_, i) => {
    const since = i % Math.round((44100 * 60) / 110);
    return 0.5 * Math.exp(-since / 600) * Math.sin(since * (0.2 + 0.001 * (since % 97)));
  });
  await writeFile(
    at('pulses.wav'),
    Buffer.concat([...encodeWav({ sampleRate: 44100, origin: 0, channels: [pulses] }, { depth: '16' })]),
  );
  const timed = {
    ...chain,
    stages: [{ id: 'gain', kind: 'gain' }],
    render: { ...chain.render, anchor: 'source', name: '{sound} {tempo}' },
  };
  await writeFile(at('timed.hxk.json'), JSON.stringify(timed));
  const args = ['render', '--chain', at('timed.hxk.json'), '--out', at('t.wav'), '--tempo', 'sound', '--json', '--in'];
  expect(await call(...args, at('pulses.wav'))).toBe(0);
  // A tail of one beat at 110 bpm.
  const { tail } = JSON.parse(out[0]) as { tail: number };
  expect(Math.abs(tail / ((44100 * 60) / 110) - 1)).toBeLessThan(0.01);
  expect(await call(...args, at('take.wav'))).toBe(2);
  expect(err.join()).toContain('No tempo can be found in the sound; say it with --tempo 93.');
});

test('the reference knows the modulators too', async () => {
  expect(await call('stages', 'lfo')).toBe(0);
  expect(out.join('\n')).toContain('LFO (lfo), movement');
  expect(out.join('\n')).toContain('can follow the tempo');
});
