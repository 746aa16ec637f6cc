/**
 * Scripts that somebody has tampered with: each compiles and stays finite and bounded, or is refused with a place in the
 * text. By grammar – parts of scripts in place of others – and by characters.
 */
import { parse, type Node } from 'acorn';
import { describe, expect, test } from 'vitest';
import { createRandom } from '../dsp/random.ts';
import { InputError } from '../model/errors.ts';
import { finish } from '../testing/finish.ts';
import { runs } from '../testing/long.ts';
import { noise } from '../testing/signals.ts';
import { compileScript } from './compileScript.ts';
import { EXAMPLE_TEXTS } from './exampleTexts.ts';
import { ScriptError } from './faults.ts';
import { transformClip } from './scriptClip.ts';
import { watchedOver } from './watched.ts';

/** Milliseconds that compiling one may take. */
const HANG = 100;
/** How often it is tried: a machine that does other things as well stands still now and then. */
const TRIES = 4;
const SOURCE = noise(512, 8000, 2);
const TEXTS = Object.values(EXAMPLE_TEXTS);

interface Part {
  readonly type: string;
  readonly text: string;
  readonly start: number;
  readonly end: number;
}

function partsOf(text: string): Part[] {
  const parts: Part[] = [];
  const open: unknown[] = [parse(text, { ecmaVersion: 2024, sourceType: 'module' })];
  for (let next = open.pop(); next !== undefined; next = open.pop()) {
    if (typeof next !== 'object' || next === null) continue;
    const { type, start, end } = next as Node;
    if (typeof type === 'string') parts.push({ type, text: text.slice(start, end), start, end });
    open.push(...(Object.values(next) as unknown[]));
  }
  return parts;
}
const PARTS = TEXTS.map(partsOf);
const ALL = PARTS.flat();
const EVIL = [
  'constructor',
  '__proto__',
  'globalThis',
  "import('fs')",
  'while (true) {}',
  'for (;;) x++',
  'array(1e9)',
  'delayLine(1e9)',
  '`${x}`',
  'this',
  'new Array(9)',
  'x => x',
  'Infinity',
  'NaN',
  '0 / 0',
  '1e308 * 10',
  'noise()',
  'p.constructor',
  'Math.constructor',
  '[x, x]',
  'eval("x")',
  '-0',
  '2 ** 9',
  'x?.y',
  'async () => x',
  '"use strict"',
];

/** Milliseconds that compiling takes when nothing else is done: where it took long once, it is tried again. */
function tookAtLeast(text: string, once: number): number {
  let least = once;
  for (let n = 1; n < TRIES && least >= HANG; n++) {
    const began = performance.now();
    try {
      compileScript(text, SOURCE.sampleRate);
    } catch {
      // Refused as before.
    }
    least = Math.min(least, performance.now() - began);
  }
  return least;
}

/** What comes of a text: what went wrong, or the loudest that came out. */
function outcome(text: string): 'refused' | 'ran' {
  const began = performance.now();
  let header: ReturnType<typeof compileScript>['header'];
  let form: ReturnType<typeof compileScript>['form'];
  try {
    ({ header, form } = compileScript(text, SOURCE.sampleRate));
  } catch (error) {
    // Anything else is a crash, and tells its text.
    if (!(error instanceof ScriptError)) throw new Error(`${String(error)} for\n${text}`, { cause: error });
    const lines = text.split('\n').length;
    for (const { line, column, message } of error.places) {
      expect(line, text).toBeGreaterThan(0);
      expect(line, text).toBeLessThanOrEqual(lines);
      expect(column, text).toBeGreaterThan(0);
      expect(message.length, text).toBeGreaterThan(5);
    }
    return 'refused';
  } finally {
    expect(tookAtLeast(text, performance.now() - began), text).toBeLessThan(HANG);
  }
  const values = Object.fromEntries(
    Object.entries(header.params).map(([key, param]) => {
      const begins = param.type === 'choice' ? param.default : 'default' in param ? param.default : 0;
      return [key, typeof begins === 'object' ? 0.1 : begins];
    }),
  ) as never;
  if (form.form === 'clip') {
    const { bytes, ...facts } = form;
    const prepared = { bytes, facts };
    try {
      const context = { span: { start: 0, end: 512 }, random: createRandom(1) };
      const { channels } = finish(transformClip(prepared, header, SOURCE, values, context));
      for (const samples of channels)
        expect(
          samples.every((x) => Math.abs(x) <= 64),
          text,
        ).toBe(true);
      return 'ran';
    } catch (error) {
      // Refused while it works, in words; anything else is a crash.
      if (error instanceof InputError) return 'refused';
      throw new Error(`${String(error)} for\n${text}`, { cause: error });
    }
  }
  const { loudest } = watchedOver(text, values, SOURCE, 4, 120);
  expect(Number.isFinite(loudest), text).toBe(true);
  expect(loudest, text).toBeLessThanOrEqual(64);
  return 'ran';
}

describe('tampered scripts', () => {
  test('by their grammar', () => {
    const random = createRandom(11);
    const pick = <T>(list: readonly T[]) => list[Math.floor(random() * list.length)];
    const counts = { refused: 0, ran: 0 };
    for (let n = 0; n < runs(1000, 50_000); n++) {
      const which = Math.floor(random() * TEXTS.length);
      let text = TEXTS[which];
      const { start, end, type } = pick(PARTS[which]);
      const alike = ALL.filter((part) => part.type === type);
      const other = random() < 0.2 ? pick(EVIL) : random() < 0.7 ? pick(alike).text : pick(ALL).text;
      text = text.slice(0, start) + other + text.slice(end);
      counts[outcome(text)]++;
    }
    // Both ways are gone.
    expect(counts.refused).toBeGreaterThan(50);
    expect(counts.ran).toBeGreaterThan(50);
  });

  test('by their characters', () => {
    const random = createRandom(12);
    const counts = { refused: 0, ran: 0 };
    for (let n = 0; n < runs(1000, 50_000); n++) {
      let text = TEXTS[Math.floor(random() * TEXTS.length)];
      for (let times = 1 + Math.floor(random() * 3); times > 0; times--) {
        const at = Math.floor(random() * text.length);
        const length = Math.floor(random() * 4);
        const code = random() < 0.8 ? 32 + Math.floor(random() * 95) : Math.floor(random() * 65_536);
        text = text.slice(0, at) + (random() < 0.7 ? String.fromCharCode(code) : '') + text.slice(at + length);
      }
      counts[outcome(text)]++;
    }
    expect(counts.refused).toBeGreaterThan(50);
    expect(counts.ran).toBeGreaterThan(50);
  });

  test.each([
    ['an endless loop', 'while (true) {}', 'ran'],
    ['a loop around a loop', 'for (;;) for (;;) x * 1;', 'refused'],
    ['a billion numbers', 'const a = array(1e9);', 'refused'],
    ['constructor', 'const a = x.constructor;', 'refused'],
    ['__proto__', 'const a = p.__proto__;', 'refused'],
    ['import', "import('fs');", 'refused'],
    ['globalThis', 'globalThis.a = 1;', 'refused'],
    ['a template', 'const a = `${x}`;', 'refused'],
    ['a tagged template', 'clamp`x`;', 'refused'],
    ['depth', `const a = ${'('.repeat(5000)}x${')'.repeat(5000)};`, 'refused'],
    ['a long sum', `const a = x${' + x'.repeat(20_000)};`, 'refused'],
  ] as const)('%s', (_what, statement, expected) => {
    const text = TEXTS[0].replace('line.write(x);', `line.write(x); ${statement}`);
    expect(text).not.toBe(TEXTS[0]);
    expect(outcome(text)).toBe(expected);
  });

  test('a mebibyte of text is refused at once', () => {
    expect(outcome(`${TEXTS[0]}\n//${'x'.repeat(1024 * 1024)}`)).toBe('refused');
  });
});
