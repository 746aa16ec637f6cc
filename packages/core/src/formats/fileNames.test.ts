import { expect, test } from 'vitest';
import { fileNameFor } from './fileNames.ts';

const lineage = { chainName: 'Tide', version: 'version 2', sourceName: 'Bell' };
const sound = (name: string, from: typeof lineage | null = lineage) => ({ name, sampleRate: 48000, lineage: from });

test('a template is filled; names that are alike get numbers', () => {
  const taken = new Set<string>();
  const file = (template: string, name: string) => fileNameFor(template, sound(name), 3, 'wav', taken);
  expect(file('{number} {source} – {chain}, {rate}', 'x')).toBe('03 Bell – Tide, 48000.wav');
  expect([file('{sound}', 'Hum'), file('{sound}', 'HUM'), file('{sound}', 'hum')]).toEqual([
    'Hum.wav',
    'HUM 2.wav',
    'hum 3.wav',
  ]);
});

test('what a file system forbids is replaced; a placeholder that is none is refused', () => {
  expect(fileNameFor('{sound}', sound('What? Me: "yes".'), 1, 'flac', new Set())).toBe('What- Me- -yes-.flac');
  expect(fileNameFor('{sound} {chain}', sound('Dry', null), 1, 'wav', new Set())).toBe('Dry.wav');
  expect(() => fileNameFor('{name}', sound('x'), 1, 'wav', new Set())).toThrow('{name}; allowed are {sound}, {source}');
});
