import { readdir, writeFile } from 'node:fs/promises';
import { expect, test } from 'vitest';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { emptyChain, parseChain } from '@hexenkessel/core/chain';
import { at, call, clip, err, folder, out, samplesOf } from './testing/commandLine.ts';

test('a stretch is rendered alone, or put back into a copy whose rest is the original, bit for bit', async () => {
  await writeFile(
    at('flip.hxk.json'),
    JSON.stringify(
      parseChain(BUILT_INS, { ...emptyChain(BUILT_INS, 'Flip'), stages: [{ id: 'flip', kind: 'reverse' }] }),
    ),
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
  const chain = parseChain(BUILT_INS, {
    ...emptyChain(BUILT_INS, 'Swell'),
    stages: [{ id: 'gain', kind: 'gain' }],
    lanes,
  });
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

test('says where it has dithered, and that it has clipped', async () => {
  await writeFile(at('as-is.hxk.json'), JSON.stringify(emptyChain(BUILT_INS, 'As is')));
  const loud = parseChain(BUILT_INS, {
    ...emptyChain(BUILT_INS, 'Loud'),
    stages: [{ id: 'gain', kind: 'gain', settings: { gain: 30 } }],
  });
  await writeFile(at('loud.hxk.json'), JSON.stringify(loud));
  const render = async (chain: string, ...rest: string[]) => {
    out.length = 0;
    err.length = 0;
    const from = rest.includes('--in') ? [] : ['--in', at('take.wav'), '--out', at('d.wav')];
    expect(await call('render', '--chain', at(chain), ...from, ...rest)).toBe(0);
    return out[0];
  };
  const frames = clip.channels[0].length;
  const told = async (...rest: Parameters<typeof render>) => JSON.parse(await render(...rest)) as object;
  expect(await told('as-is.hxk.json', '--depth', '16', '--json')).toMatchObject({ dithered: [[0, frames]] });
  // What was written with 16 bits is written with them again as it is.
  const sixteen = ['--in', at('d.wav'), '--depth', '16', '--out', at('e.wav'), '--json'];
  expect(await told('as-is.hxk.json', ...sixteen)).toMatchObject({ dithered: [], clipped: false });
  expect(await samplesOf('e.wav')).toEqual(await samplesOf('d.wav'));
  const region = ['--from', '100ms', '--to', '150ms', '--splice', '--splice-tail', 'cut'];
  expect(await told('loud.hxk.json', ...sixteen, ...region)).toMatchObject({ dithered: [[4410, 6615]], clipped: true });
  expect(err.join()).toContain('is clipped at 16 bits');
  expect(await render('loud.hxk.json', ...sixteen.slice(0, -1), ...region)).toContain(
    'dithered from 100 ms to 150 ms, copied elsewhere',
  );
  expect(await told('loud.hxk.json', '--depth', '32f', '--json')).toMatchObject({ dithered: [], clipped: false });
});

test('bad stretches are refused and leave no file', async () => {
  const common = ['render', '--chain', at('tide.hxk.json'), '--in', at('take.wav'), '--out', at('none.wav')];
  expect(await call(...common, '--from', '100ms', '--to', '100ms')).toBe(2);
  expect(await call(...common, '--from', '100ms', '--to', '2s')).toBe(2);
  expect(await call(...common, '--splice')).toBe(2);
  expect(await call(...common, '--rate', '4000')).toBe(2);
  expect(err.join('\n')).toMatch(/is empty[\s\S]*exceeds the sound[\s\S]*needs a region[\s\S]*8000 to 192000/);
  expect((await readdir(folder)).filter((name) => name.startsWith('none'))).toEqual([]);
});

test('a FLAC file is written and read again; another rate keeps length and pitch', async () => {
  await writeFile(at('as-is.hxk.json'), JSON.stringify(emptyChain(BUILT_INS, 'As is')));
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
    JSON.stringify(
      parseChain(BUILT_INS, { ...emptyChain(BUILT_INS, 'Flip'), stages: [{ id: 'flip', kind: 'reverse' }] }),
    ),
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

test('where the tempo of a MIDI file changes, what follows it changes within the render', async () => {
  // Steps of a 64th: 12.5 ms each at 300 quarters a minute; from 100 ms on, at 150, 25 ms each.
  const levels = { level1: 1, level2: 0 };
  const settings = { steps: 2, step: { note: '1/64' }, smoothing: 0.003, ...levels };
  await writeFile(
    at('steps.hxk.json'),
    JSON.stringify({
      ...emptyChain(BUILT_INS, 'Steps'),
      stages: [{ id: 'steps', kind: 'pattern', settings }],
      render: { tail: { mode: 'none' } },
    }),
  );
  // Half a quarter at 300 quarters a minute, then 150.
  const midi = Buffer.from(
    '4d546864000000060000000101e0' + '4d54726b00000013' + '00ff5103030d40' + '8170ff5103061a80' + '00ff2f00',
    'hex',
  );
  await writeFile(at('half.mid'), midi);
  const args = [
    '--chain',
    at('steps.hxk.json'),
    '--in',
    at('take.wav'),
    '--tempo-map',
    at('half.mid'),
    '--depth',
    '32f',
  ];
  expect(await call('render', ...args, '--out', at('steps.wav'), '--json'), err.join()).toBe(0);
  const made = await samplesOf('steps.wav');
  const source = clip.channels[0];
  /** How much of the source is left around a moment in ms. */
  const open = (ms: number) => {
    const [from, to] = [ms - 1.5, ms + 1.5].map((t) => Math.round(44.1 * t));
    const power = (samples: ArrayLike<number>) =>
      Array.from({ length: to - from }, (_, i) => samples[from + i] ** 2).reduce((sum, x) => sum + x, 0);
    return Math.sqrt(power(made) / power(source));
  };
  // The middle of every step: eight of 12.5 ms, then four of 25 ms.
  for (let n = 0; n < 8; n++) expect(open(12.5 * (n + 0.5)), `step ${n}`).toBeCloseTo(n % 2 === 0 ? 1 : 0, 1);
  for (let n = 0; n < 4; n++) expect(open(100 + 25 * (n + 0.5)), `step ${8 + n}`).toBeCloseTo(n % 2 === 0 ? 1 : 0, 1);
});
