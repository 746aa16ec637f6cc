import { readFileSync } from 'node:fs';
import { expect, test } from 'vitest';
import { clipOf, noise } from '../testing/signals.ts';
import { EXAMPLE_TEXTS } from './exampleTexts.ts';
import { GIVEN_UNITS } from './givenUnits.ts';
import { scriptDocs } from './scriptDocs.ts';
import { SCRIPT_WORDS } from './scriptWords.ts';
import { watchedOver } from './watched.ts';
import { GIVEN, MATH } from './words.ts';

test('a watched value is drawn over the sound, column by column', () => {
  const rate = 22_050;
  const samples = Float32Array.from({ length: rate }, (_, n) => (n < rate / 2 ? 0.5 : 0) * (n % 2 === 0 ? 1 : -1));
  const { values, seconds, failure } = watchedOver(
    EXAMPLE_TEXTS['meter'],
    { slowness: 0.01 },
    clipOf([samples], rate),
    100,
    120,
  );
  expect([seconds, failure]).toEqual([1, 'none']);
  expect(values.map(({ name }) => name)).toEqual(['level', 'alike']);
  const [level, alike] = values;
  expect(level.high[40]).toBeCloseTo(0.5, 3);
  expect(level.low[95]).toBeLessThan(0.01);
  // A mono sound is on both sides.
  expect(alike.low[40]).toBeCloseTo(1, 5);
});

test('how it went is told: too many steps, and at which line', () => {
  const text = EXAMPLE_TEXTS['meter']
    .replace('let power = 0;', 'let power = 0;\n  let n = 0;')
    .replace('const share', 'while (n < 1e9) n += 1;\n    const share');
  const { failure, lateLine } = watchedOver(text, { slowness: 0.01 }, noise(48_000), 10, 120);
  expect(failure).toBe('too long');
  expect(text.split('\n')[lateLine - 1]).toContain('while');
});

test('every word that a script may say is explained', () => {
  const told = new Set(SCRIPT_WORDS.map(({ name }) => name));
  for (const word of [...GIVEN, ...MATH]) expect(told, word).toContain(word);
  for (const { says, written } of SCRIPT_WORDS) {
    expect(says, written).toMatch(/^[A-Z−e`].*[.)]$/s);
    expect(says).not.toContain('undefined');
  }
  for (const { takes, functions } of Object.values(GIVEN_UNITS))
    for (const one of [...takes.map(({ name }) => name), ...Object.keys(functions)]) expect(one).toBeDefined();
});

test('the page on scripts is written from what there is', () => {
  expect(readFileSync(new URL('../../../../docs/scripts.md', import.meta.url), 'utf8')).toBe(scriptDocs());
});
