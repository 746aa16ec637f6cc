/** What is compiled against what the language itself makes of the same text. */
import fc from 'fast-check';
import { createRandom } from '../dsp/random.ts';
import { describe, expect, test } from 'vitest';
import { atan2, cos, exp, log, pow, sin, tan, tanh } from '../dsp/portableMath.ts';
import { mathSource } from '../../../../scripts/write-math.mjs';
import { compileFunctions } from './compileFunctions.ts';
import { ScriptError } from './faults.ts';
import { MATH_SOURCE } from './mathSource.ts';
import { acos, asin, atan, hypot, log2, power, remainder, round, sign } from './scriptMath.ts';

type Functions = Readonly<Record<string, (...args: number[]) => number>>;

/** The functions of a text, compiled. */
function compiled(
  text: string,
): Functions & { readonly late: { readonly value: number }; readonly steps: { value: number } } {
  const { exports } = new WebAssembly.Instance(new WebAssembly.Module(compileFunctions(text)));
  return exports as never;
}

/** The same as the language has it. */
const spoken = async (text: string) =>
  (await import(/* @vite-ignore */ `data:text/javascript,${encodeURIComponent(text)}`)) as Functions;

/** Both results, true and false as the numbers that they are outside. */
async function both(text: string, ...args: number[]): Promise<readonly [number, number]> {
  const [ours, theirs] = [compiled(text), await spoken(text)];
  return [ours['f'](...args), Number(theirs['f'](...args))];
}

/** Numbers of all sizes, with those at which something changes. */
const anyNumber = fc.oneof(
  fc.double({ noNaN: false }),
  fc.double({ min: -10, max: 10, noNaN: true }),
  fc.integer({ min: -40, max: 40 }),
  fc.constantFrom(
    0,
    -0,
    0.5,
    -0.5,
    1.5,
    -1.5,
    2 ** 31,
    -(2 ** 31),
    2 ** 32 - 1,
    2 ** 53,
    1e300,
    Infinity,
    -Infinity,
    NaN,
  ),
);
const RUNS = process.env['LONG'] ? 100_000 : 2000;
const VALUES = process.env['LONG'] ? 1_000_000 : 20_000;

describe('operators are those of the language', () => {
  const OPERATORS = {
    arithmetic: ['+', '-', '*', '/', '%'],
    comparisons: ['<', '>', '<=', '>=', '===', '!=='],
    logic: ['&&', '||'],
    bits: ['&', '|', '^', '<<', '>>', '>>>'],
  };
  test.each(Object.entries(OPERATORS))('%s', async (_, operators) => {
    for (const operator of operators) {
      const text = `export function f(a, b) { return a ${operator} b; }`;
      const [ours, theirs] = [compiled(text), await spoken(text)];
      fc.assert(
        fc.property(anyNumber, anyNumber, (a, b) => {
          expect(ours['f'](a, b), `${a} ${operator} ${b}`).toBe(Number(theirs['f'](a, b)));
        }),
        { numRuns: RUNS / 10, endOnFailure: true },
      );
    }
  });

  test('those of one value, and choosing', async () => {
    for (const expression of [
      '-a',
      '+a',
      '~a',
      '!a',
      '!!a',
      'a ? 1 : 2',
      '!(a > 1) ? a : -a',
      'a === a',
      'Math.trunc(a)',
      'Math.fround(a)',
    ]) {
      const text = `export function f(a) { return ${expression}; }`;
      const [ours, theirs] = [compiled(text), await spoken(text)];
      fc.assert(
        fc.property(anyNumber, (a) => {
          expect(ours['f'](a), `${expression} of ${a}`).toBe(Number(theirs['f'](a)));
        }),
        { numRuns: RUNS / 10, endOnFailure: true },
      );
    }
  });
});

/** Expressions of numbers over a, b and c, drawn as they grow. */
const { expression } = fc.letrec<{ expression: string }>((tie) => ({
  expression: fc.oneof(
    { depthSize: 'medium', withCrossShrink: true },
    fc.constantFrom('a', 'b', 'c', '0', '1', '2.5', '1e-3', '7'),
    fc
      .tuple(
        tie('expression'),
        fc.constantFrom('+', '-', '*', '/', '%', '&', '|', '^', '>>', '&&', '||'),
        tie('expression'),
      )
      .map(([a, op, b]) => `(${a} ${op} ${b})`),
    fc
      .tuple(
        tie('expression'),
        fc.constantFrom('<', '>=', '===', '!=='),
        tie('expression'),
        tie('expression'),
        tie('expression'),
      )
      .map(([a, op, b, c, d]) => `(${a} ${op} ${b} ? ${c} : ${d})`),
    fc
      .tuple(
        fc.constantFrom('Math.floor', 'Math.ceil', 'Math.abs', 'Math.round', 'Math.sign', '-', '~'),
        tie('expression'),
      )
      .map(([f, a]) => `${f}(${a})`),
    fc
      .tuple(fc.constantFrom('Math.min', 'Math.max'), tie('expression'), tie('expression'))
      .map(([f, a, b]) => `${f}(${a}, ${b})`),
  ),
}));

test('expressions of any shape', async () => {
  await fc.assert(
    fc.asyncProperty(
      expression,
      fc.array(fc.tuple(anyNumber, anyNumber, anyNumber), { minLength: 5, maxLength: 5 }),
      async (inner, values) => {
        const text = `export function f(a, b, c) { return ${inner}; }`;
        const [ours, theirs] = [compiled(text), await spoken(text)];
        for (const args of values)
          expect(ours['f'](...args), `${inner} with ${args.join(', ')}`).toBe(theirs['f'](...args));
      },
    ),
    { numRuns: RUNS / 10, endOnFailure: true },
  );
});

test.each([
  [
    'a loop that is broken and goes on',
    'let n = 0; for (let i = 0; i < 50; i++) { if (i % 3 === 0) continue; if (i > a) break; n += i; } return n;',
  ],
  [
    'loops in loops',
    'let n = 0; let i = 0; while (i < a) { let k = 0; while (true) { if (k >= i) break; k++; n += k * i; } i++; } return n;',
  ],
  [
    'functions within functions',
    'const two = (x) => 2 * x; function more(x, y) { if (x > y) return two(x); else return y; } return more(a, 3) + two(more(1, a));',
  ],
  ['names within names', 'let x = a; { let x = 3; x += 1; } if (x > 1) { const x = 9; return x; } return x;'],
  [
    'true and false',
    'const large = a > 5; let odd = false; for (let i = 0; i < a; i++) odd = !odd; return large && odd ? 1 : odd ? 2 : 3;',
  ],
  [
    'every way of changing',
    'let x = a; x += 2; x *= 3; x -= 1; x /= 2; x %= 7; x |= 8; x <<= 1; x ^= 5; x >>= 1; x--; return x;',
  ],
])('%s', async (_, body) => {
  for (const a of [-2, 0, 1, 4, 5, 6.5, 20]) {
    const [ours, theirs] = await both(`export function f(a) { ${body} }`, a);
    expect(ours, `${a}`).toBe(theirs);
  }
});

describe('mathematics', () => {
  test('the text that scripts are compiled with is that of the core', () => expect(MATH_SOURCE).toBe(mathSource()));

  const ONE = { sin, cos, tan, exp, log, tanh, round, sign, log2, atan, asin, acos };
  const TWO = { atan2, hypot, pow: power };

  test('gives the same bits in both', () => {
    const text = [
      ...Object.keys(ONE).map((name) => `export function ${name}(a) { return Math.${name}(a); }`),
      ...Object.keys(TWO).map((name) => `export function ${name}(a, b) { return Math.${name}(a, b); }`),
      'export function remainder(a, b) { return a % b; }',
    ].join('\n');
    const ours = compiled(text);
    const value = fc.oneof(
      anyNumber,
      fc.double({ min: -700, max: 700, noNaN: true }),
      fc.double({ min: -1, max: 1, noNaN: true }),
    );
    fc.assert(
      fc.property(value, value, (a, b) => {
        for (const [name, of] of Object.entries(ONE)) expect(ours[name](a), `${name} ${a}`).toBe(of(a));
        for (const [name, of] of Object.entries(TWO)) expect(ours[name](a, b), `${name} ${a} ${b}`).toBe(of(a, b));
        expect(ours['remainder'](a, b)).toBe(remainder(a, b));
      }),
      { numRuns: RUNS, endOnFailure: true },
    );
  });

  test(`gives the same bits in both, on ${VALUES} values of all sizes`, () => {
    const ours = compiled(
      [
        ...Object.keys(ONE).map((name) => `export function ${name}(a) { return Math.${name}(a); }`),
        ...Object.keys(TWO).map((name) => `export function ${name}(a, b) { return Math.${name}(a, b); }`),
      ].join('\n'),
    );
    const random = createRandom(17);
    const bits = new Uint32Array(2);
    const anyBits = new Float64Array(bits.buffer);
    const value = () => {
      const size = random();
      if (size < 0.25) return 2 * random() - 1;
      if (size < 0.5) return 1400 * (random() - 0.5);
      if (size < 0.75) return 2e6 * (random() - 0.5);
      bits.set([random() * 2 ** 32, random() * 2 ** 32]);
      return anyBits[0];
    };
    const odd: string[] = [];
    for (let n = 0; n < VALUES; n++) {
      const [a, b] = [value(), value()];
      for (const name in ONE) if (!Object.is(ours[name](a), ONE[name as keyof typeof ONE](a))) odd.push(`${name} ${a}`);
      for (const name in TWO)
        if (!Object.is(ours[name](a, b), TWO[name as keyof typeof TWO](a, b))) odd.push(`${name} ${a} ${b}`);
    }
    expect(odd).toEqual([]);
  });

  test('what a division leaves is that of the standard, also by what the text names', () => {
    const by = [1, 2, -4, 8, 2 ** 31, 2 ** 32, 2 ** 52, 2 ** 80, 0.5, 0.25, 3, -7, 0, 1e300, Infinity, NaN];
    const ours = compiled(
      by.map((y, n) => `export function by${n}(a) { return a % ${y < 0 ? `(${y})` : y}; }`).join('\n'),
    );
    const whole = fc.integer({ min: -(2 ** 31), max: 2 ** 31 }).map((n) => n / 8);
    fc.assert(
      fc.property(fc.oneof(anyNumber, whole), (a) => {
        by.forEach((y, n) => expect(ours[`by${n}`](a), `${a} % ${y}`).toBe(a % y));
      }),
      { numRuns: RUNS, endOnFailure: true, examples: [[-0], [-4], [5e-324], [1.7e308], [Infinity], [NaN]] },
    );
  });

  test('is that of the standard at the corners, and near it between', () => {
    const corners = [0, -0, 1, -1, 0.5, -0.5, 2, -2, 3, -3, 10, 0.49999999999999994, 2 ** 53, Infinity, -Infinity, NaN];
    for (const a of corners) {
      expect(round(a), `round ${a}`).toBe(Math.round(a));
      expect(sign(a), `sign ${a}`).toBe(Math.sign(a));
      for (const b of corners) {
        expect(remainder(a, b), `${a} % ${b}`).toBe(a % b);
        const [ours, theirs] = [power(a, b), Math.pow(a, b)];
        if (Number.isFinite(theirs) && theirs !== 0)
          expect(Math.abs(ours / theirs - 1), `pow ${a} ${b}`).toBeLessThan(1e-13);
        else expect(ours, `pow ${a} ${b}`).toBe(theirs);
      }
    }
    fc.assert(
      fc.property(
        fc.double({ min: -1, max: 1, noNaN: true }),
        fc.double({ min: 1e-6, max: 1e6, noNaN: true }),
        (a, b) => {
          for (const [ours, theirs] of [
            [asin(a), Math.asin(a)],
            [acos(a), Math.acos(a)],
            [atan(a * b), Math.atan(a * b)],
            [log2(b), Math.log2(b)],
            [hypot(a, b), Math.hypot(a, b)],
            [power(b, a), b ** a],
          ])
            expect(Math.abs(ours - theirs)).toBeLessThan(1e-11 * Math.max(1, Math.abs(theirs)));
        },
      ),
      { numRuns: RUNS, endOnFailure: true },
    );
    expect(pow(0, 0)).toBe(0); // of the core, which nothing of a script sees
  });
});

test('an endless loop ends when its steps are used up, and the line is told', () => {
  const ours = compiled(
    'export function f(a) {\n  let n = 0;\n  while (true) {\n    while (n >= 0) n += a;\n  }\n  return n;\n}',
  );
  ours.steps.value = 100_000;
  ours['f'](1);
  expect(ours.late.value).toBe(4);
  expect(ours.steps.value).toBeLessThan(0);
});

test('what is stored and too small to be heard is 0; between it stays', () => {
  expect(compiled('export function f(a) { let x = a; return x; }')['f'](1e-31)).toBe(0);
  expect(compiled('export function f(a) { const x = a * 1; return x; }')['f'](1e-31)).toBe(1e-31);
});

const REFUSED: readonly (readonly [string, RegExp])[] = [
  ['class A {}', /functions and const/],
  ['export function f(a) { return a == 1; }', /line 1, column 31: == is not allowed; write ===/],
  ['export function f(a) {\n  return constructor;\n}', /line 2, column 10: constructor stands for nothing/],
  ['export function f(a) { return a.constructor; }', /Only Math and the settings have parts/],
  ['export function f(a) { return Math.constructor; }', /There is no Math.constructor/],
  ['export function f(a) { return Math["sin"](a); }', /Only functions of this script and of Math/],
  ['export function f(a) { return __proto__; }', /stands for nothing/],
  ['export function f(a) { return globalThis; }', /stands for nothing/],
  ['export function f(a) { return eval("1"); }', /There is no function eval/],
  ['export function f(a) { return `x${a}`; }', /A template is not allowed/],
  ['export function f(a) { return f`x`; }', /A template is not allowed/],
  ['export function f(a) { return import("x"); }', /import is not allowed/],
  ['export function f(a) { return this; }', /this is not allowed/],
  ['export function f(a) { return new Array(9); }', /new is not allowed/],
  ['export function f(a) { return [a]; }', /A list in \[ \] is not allowed/],
  ['export function f(a) { return (() => a)(); }', /Only functions of this script/],
  ['export function f(a) { return f(a); }', /calls itself/],
  ['export function f(a) { return g(a); } function g(a) { return f(a); }', /calls itself/],
  ['export function f(a) { if (a) return 1; }', /on some ways and none/],
  ['export function f(a) { if (a) return 1; return a > 2; }', /the same at each return/],
  ['export function f(a) { const x = 1; x = 2; return x; }', /x is a const/],
  ['export function f(a) { let x; return x; }', /x needs a value/],
  ['export function f(a) { var x = 1; return x; }', /var is not allowed/],
  ['export function f(a) { try { return 1; } catch { return 2; } }', /try is not allowed/],
  ['export function f(a) { return a ** 2; }', /\*\* is not allowed/],
  ['export function f(a) { return a + (a > 1); }', /A number is needed here/],
  ['export function f(...a) { return 1; }', /A parameter is a name/],
  ['export async function f(a) { return 1; }', /neither async/],
  ['import x from "y";', /functions and const/],
  ['export function f(a) { return 1n; }', /large whole numbers/],
  ['export function f(a) { return /x/; }', /regular expressions/],
  ['export function f(a) { a.b = 1; return a; }', /Only arrays have places/],
  ['export function f(Math) { return 1; }', /Math is given already/],
  ['export function f(a) {', /line 1, column 23: Unexpected token/],
  [`export function f(a) { return ${'('.repeat(5000)}a${')'.repeat(5000)}; }`, /200 deep/],
  [`export function f(a) { return a${' + a'.repeat(50_000)}; }`, /more than 500 deep/],
  [`export function f(a) { return a${' + a'.repeat(600)}; }`, /more than 500 deep/],
  [`//${'x'.repeat(2 ** 20)}`, /at most 262144/],
];

test.each(REFUSED.map(([text, message]) => [text.slice(0, 60), text, message] as const))(
  '%s is refused by name',
  (_, text, message) => {
    let fault: unknown;
    try {
      compileFunctions(text);
    } catch (error) {
      fault = error;
    }
    expect(fault).toBeInstanceOf(ScriptError);
    const { faults, places } = fault as ScriptError;
    expect(faults[0]).toMatch(message);
    expect(places[0].line).toBeGreaterThan(0);
  },
);
