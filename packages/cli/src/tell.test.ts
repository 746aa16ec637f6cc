import { readFile, writeFile } from 'node:fs/promises';
import { expect, test, vi } from 'vitest';
import { BUILT_INS, MODULATORS } from '@hexenkessel/core/stages';
import { at, call, chain, err, out } from './testing/commandLine.ts';

test('validate tells the good from the bad and names each fault', async () => {
  await writeFile(
    at('bad.hxk.json'),
    JSON.stringify({ ...chain, stages: [{ id: 'hall', kind: 'hall', settings: { decay: 900, size: 7 } }] }),
  );
  expect(await call('validate', at('tide.hxk.json'))).toBe(0);
  expect(out[0]).toContain('valid – Tide, 3 stages');
  expect(await call('validate', at('tide.hxk.json'), at('bad.hxk.json'))).toBe(2);
  expect(err).toHaveLength(2);
  expect(err[0]).toContain('bad.hxk.json: Stage "hall" (Hall reverb): decay time is 900');
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
  expect(listed.toSorted()).toEqual([...BUILT_INS.stages, ...MODULATORS].map(({ kind }) => kind).toSorted());
  expect(out.map((line) => line.trim())).toContain('reverb');
  out.length = 0;
  expect(await call('stages', 'hall')).toBe(0);
  expect(out.join('\n')).toContain('decay – decay time: 100 ms to 60 s; default 2.5 s; tempo sync');
  expect(out.join('\n')).toContain('Tested tolerances:');
  out.length = 0;
  expect(await call('stages', 'slow down')).toBe(0);
  expect(out.join('\n')).toContain('tapeStop');
  expect(await call('stages', 'xyzzy')).toBe(2);
});

test('the reference knows the modulators too', async () => {
  expect(await call('stages', 'lfo')).toBe(0);
  expect(out.join('\n')).toContain('LFO (lfo), modulators');
  expect(out.join('\n')).toContain('tempo sync');
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
