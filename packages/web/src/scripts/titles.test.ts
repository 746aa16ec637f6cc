import { describe, expect, test } from 'vitest';
import { titleIn, underFreeTitle } from './titles.ts';

const text = (title: string) =>
  `export const language = 1;\nexport const title = ${title};\nexport const family = 'time';\n`;

describe('the title of a script', () => {
  test.each([
    [`'Lamp post'`, 'Lamp post'],
    [`"Miner's lamp"`, `Miner's lamp`],
    [String.raw`'Miner\'s lamp'`, `Miner's lamp`],
  ])('%s is read from its text', (written, title) => {
    expect(titleIn(text(written))).toBe(title);
  });

  test('a text that names none has none', () => {
    expect(titleIn('export const language = 1;')).toBe('');
  });
});

describe('a copy', () => {
  test('keeps its title where that is free, to the letter', () => {
    expect(underFreeTitle(text(`"Miner's lamp"`), `Miner's lamp`, new Set(['Lamp post']))).toBe(text(`"Miner's lamp"`));
  });

  test('gets the next number that is free, and nothing else of it changes', () => {
    const taken = new Set(['Lamp post', 'Lamp post 2']);
    expect(underFreeTitle(text(`'Lamp post'`), 'Lamp post', taken)).toBe(text(`'Lamp post 3'`));
  });

  test('has quotes and signs of replacement in its title as they were', () => {
    const title = `Miner's $& \\ lamp`;
    const copy = underFreeTitle(text(`'x'`), title, new Set([title]));
    expect(titleIn(copy)).toBe(`${title} 2`);
    expect(copy.split('\n').length).toBe(4);
  });
});
