import { writeFile } from 'node:fs/promises';
import { expect, test } from 'vitest';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { emptyChain, parseChain } from '@hexenkessel/core/chain';
import { encodeWav } from '@hexenkessel/core/formats';
import { at, call, chain, err, out, samplesOf } from './testing/commandLine.ts';

test('a panel is played from the command line, by number and by word; what a control drives is not set behind it', async () => {
  const panelled = parseChain(BUILT_INS, {
    ...emptyChain(BUILT_INS, 'Panelled'),
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
  const files = ['--chain', at('panelled.hxk.json'), '--in', at('take.wav'), '--out', at('p.wav')];
  const peak = async (set: string) => {
    expect(await call('render', ...files, '--depth', '32f', '--set', set)).toBe(0);
    return 20 * Math.log10((await samplesOf('p.wav')).reduce((most, x) => Math.max(most, Math.abs(x)), 0) / 0.5);
  };
  expect(await peak('far=50')).toBeCloseTo(-20, 2);
  expect(await peak('far=far')).toBeCloseTo(-40, 2);
  expect(await call('render', ...files, '--set', 'gain.gain=-3 dB')).toBe(2);
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
