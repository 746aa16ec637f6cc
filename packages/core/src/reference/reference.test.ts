import { BUILT_INS } from '../catalogue/builtIns.ts';
import { readFileSync } from 'node:fs';
import { expect, test } from 'vitest';
import { loudnessTable } from './loudnessTable.ts';
import { reference, searchReference } from './reference.ts';
import { didYouMean, searchStages } from './searchStages.ts';

const all = reference(BUILT_INS).flatMap(({ stages }) => stages);

test('every stage stands in it once, with all its parameters, each explained', () => {
  expect(all.map(({ kind }) => kind).sort()).toEqual(BUILT_INS.stages.map(({ kind }) => kind).sort());
  for (const { kind, params } of all) {
    const stage = BUILT_INS.stages.find((candidate) => candidate.kind === kind)!;
    // Those that are numbered and alike stand for all of them.
    expect(params.reduce((sum, { count }) => sum + count, 0)).toBe(Object.keys(stage.params).length);
    for (const { key } of params) expect(stage.params).toHaveProperty(key);
    for (const { doc, range, label } of params) {
      expect(doc.length, `${kind} ${label}`).toBeGreaterThanOrEqual(15);
      expect(doc).toMatch(/[.]$/);
      expect(range).not.toBe('');
    }
  }
});

test('docs/loudness.md is what the stages declare', () => {
  const written = readFileSync(new URL('../../../../docs/loudness.md', import.meta.url), 'utf8');
  expect(written, 'npm run loudness').toBe(loudnessTable(BUILT_INS));
  for (const { title } of BUILT_INS.stages) expect(written).toContain(`| ${title} |`);
});

test('says what a stage does to the channels, how late it is and what it is held to', () => {
  const of = (kind: string) => all.find((stage) => stage.kind === kind)!;
  expect(of('transpose').facts).toContain('Latency at default settings: 85.3 ms (at 48 kHz), compensated in renders.');
  expect(of('echo').facts).toContain('Contains other stages.');
  expect(of('limiter').measures[0]).toContain('0.1 dB');
  expect(of('echo').params.find(({ key }) => key === 'time')).toMatchObject({
    followsTempo: true,
    range: '1 ms to 8 s',
  });
});

test.each([
  ['robot', ['ringMod', 'vocoder']],
  ['radio', ['filter', 'compressor']],
  ['underwater', ['filter']],
  ['slow down', ['tapeStop', 'halfSpeed']],
  ['backwards', ['reverse', 'pitchEcho']],
  ['wider', ['width', 'ensemble']],
  ['choir', ['ensemble']],
  ['freeze', ['grains']],
  ['telephone', ['filter']],
  ['feedback', ['echo', 'phaser']],
  // What people say, in both spellings; families; and what a stage was called before.
  ['chorus', ['ensemble']],
  ['ping-pong', ['echo']],
  ['sidechain', ['compressor', 'gate', 'ducker']],
  ['side-chain', ['ducker']],
  ['through a wall', ['filter']],
  ['normalize', ['normalise']],
  ['equalizer', ['equaliser']],
  ['auto-pan', ['tremolo']],
  ['rt60', ['hall', 'plate']],
  ['quantise', ['crush', 'settlePitch']],
  ['utility', ['gain', 'pan', 'width', 'swap', 'dcBlock', 'bed', 'split']],
  ['glitch', ['stutter', 'grains', 'tapeStop']],
  ['half time', ['halfSpeed']],
  ['settle pitch', ['settlePitch']],
])('"%s" finds %s', (text, kinds) => {
  const found = searchReference(BUILT_INS, text).map(({ kind }) => kind);
  for (const kind of kinds) expect(found).toContain(kind);
});

test('what a stage was called, and its kind, finds it first', () => {
  for (const [text, kind] of [
    ['smear', 'smear'],
    ['echo', 'echo'],
    ['bend', 'bend'],
    ['split', 'split'],
    ['chorus', 'ensemble'],
    ['delay', 'echo'],
    ['reverb', 'hall'],
    ['distortion', 'drive'],
  ])
    expect(searchStages(BUILT_INS, text)[0].kind, text).toBe(kind);
});

test.each([
  ['equilizer', 'equalizer'],
  ['compresor', 'compressor'],
  ['vocdoer', 'vocoder'],
  ['tremollo', 'tremolo'],
  ['xyzzy', undefined],
  ['zz', undefined],
])('"%s" finds nothing; meant is %s', (typed, meant) => {
  expect(searchStages(BUILT_INS, typed)).toEqual([]);
  expect(didYouMean(BUILT_INS, typed)).toBe(meant);
});

test('labels are short, in lower case, without units and without a sentence', () => {
  for (const { kind, params } of all)
    for (const { label } of params) {
      expect(label.split(/[\s/]+/).length, `${kind}: ${label}`).toBeLessThanOrEqual(4);
      expect(label, kind).not.toMatch(/[.,:;]| in (m|hz|db|ms|s)$/);
      // Trade's abbreviations keep their capitals.
      expect(label.replace(/\b(LFO|IR|L\/R|Q)\b/g, ''), kind).not.toMatch(/[A-Z]/);
    }
});

test('no label or text says what the trade has a word for in other words', () => {
  const homespun = /upside down|goes round|turned round|gives way|by chance|at first|behind (it|the|them)|stray/i;
  for (const stage of all)
    for (const text of [
      stage.title,
      stage.summary,
      ...stage.facts,
      ...stage.measures,
      ...stage.params.map(({ doc }) => doc),
    ])
      expect(text, stage.kind).not.toMatch(homespun);
});
