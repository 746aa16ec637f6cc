/** Scripts of the form `channel` as they run, against independent statements of what they do. */
import { BLOCK_FRAMES } from '../model/block.ts';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { noise, sine } from '../testing/signals.ts';
import { number } from '../params/params.ts';
import { compileForm } from './compileForm.ts';
import { ScriptError } from './faults.ts';
import { parseScript } from './parse.ts';

const compiled = (text: string, settings: readonly string[], sampleRate = 48000) =>
  compileForm(
    parseScript(text),
    Object.fromEntries(settings.map((name) => [name, number({ default: 0, min: -1e6, max: 1e6, doc: 'x' })])),
    sampleRate,
  );

interface Run {
  readonly sampleRate?: number;
  readonly settings?: Readonly<Record<string, number>>;
  /** Frames of each call of `process`, over and over. */
  readonly blocks?: readonly number[];
  readonly steps?: number;
}

/** What a script makes of sounds, one for each side. */
function run(
  text: string,
  sides: readonly Float32Array[],
  { sampleRate = 48000, settings = {}, blocks = [BLOCK_FRAMES], steps = 1e9 }: Run = {},
) {
  const channel = compiled(text, Object.keys(settings), sampleRate);
  const { exports } = new WebAssembly.Instance(new WebAssembly.Module(channel.bytes));
  const {
    memory,
    base,
    steps: left,
    late,
    start,
    process,
  } = exports as unknown as {
    readonly memory: WebAssembly.Memory;
    readonly base: { value: number };
    readonly steps: { value: number };
    readonly late: { value: number };
    readonly start: () => void;
    readonly process: (frames: number) => void;
  };
  const at = (address: number) => new Float64Array(memory.buffer, address, BLOCK_FRAMES);
  const outputs = sides.map((samples, side) => {
    base.value = channel.bases[side];
    left.value = steps;
    start();
    const out = new Float64Array(samples.length);
    for (let n = 0, k = 0; n < samples.length; k++) {
      const frames = Math.min(blocks[k % blocks.length], samples.length - n);
      at(channel.inputs[0]).set(samples.subarray(n, n + frames));
      for (const [name, value] of Object.entries(settings)) at(channel.settings[name]).fill(value);
      left.value = steps;
      process(frames);
      out.set(at(channel.outputs[0]).subarray(0, frames), n);
      n += frames;
    }
    return out;
  });
  return { outputs, late: late.value };
}

const REPEAT = `
// A single repeat.
export function channel({ sampleRate }) {
  const line = delayLine(2);
  return (x, p) => {
    const late = line.read(p.time);
    line.write(x);
    return x + p.amount * late;
  };
}`;

test('a repeat comes when and as loud as it is set, at any rate, and each side keeps its own', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(8000, 22050, 44100, 48000, 96000, 192000),
      fc.integer({ min: 2, max: 3000 }),
      fc.double({ min: -2, max: 2, noNaN: true }),
      fc.array(fc.integer({ min: 1, max: BLOCK_FRAMES }), { minLength: 1, maxLength: 5 }),
      (sampleRate, frames, amount, blocks) => {
        const sides = noise(5000, sampleRate, 2).channels;
        const { outputs } = run(REPEAT, sides, { sampleRate, settings: { time: frames / sampleRate, amount }, blocks });
        outputs.forEach((out, side) =>
          out.forEach((y, n) => {
            const expected = sides[side][n] + amount * (n < frames ? 0 : sides[side][n - frames]);
            // Seconds by the rate may lie beside a whole number of frames by their last bit.
            expect(Math.abs(y - expected)).toBeLessThan(1e-6);
          }),
        );
      },
    ),
    { numRuns: 25, endOnFailure: true },
  );
});

test('between two samples a line is read by a cubic: a slow tone comes out as it is, a fraction of a sample later', () => {
  for (const frames of [10.25, 99.5, 700.9]) {
    const samples = sine(500, 0.5, 0.2).channels[0];
    const { outputs } = run(REPEAT.replace('x + p.amount * late', 'late'), [samples], {
      settings: { time: frames / 48000, amount: 0 },
    });
    for (let n = 1000; n < samples.length; n++)
      expect(Math.abs(outputs[0][n] - 0.5 * Math.sin((2 * Math.PI * 500 * (n - frames)) / 48000))).toBeLessThan(1e-6);
  }
});

test('what stands in the channel is kept from sample to sample: a low-pass, a counter, a ring of its own', () => {
  const samples = noise(3000).channels[0];
  const text = `
  const COUNT = 64;
  function square(x) { return x * x; }
  export function channel() {
    let low = 0;
    let count = 0;
    const ring = array(COUNT);
    for (let i = 0; i < COUNT; i++) ring[i] = square(i) / 1000;
    const step = (x) => { low += p0 * (x - low); };
    const p0 = 0.1;
    return (x, p) => {
      step(x);
      const before = ring[count % COUNT];
      ring[count % COUNT] = low;
      count++;
      ring[1000] = 5;
      return before + ring[-1] + ring[COUNT];
    };
  }`.replace(
    'const step = (x) => { low += p0 * (x - low); };\n    const p0 = 0.1;',
    'const p0 = 0.1;\n    const step = (x) => { low += p0 * (x - low); };',
  );
  let low = 0;
  const ring = Array.from({ length: 64 }, (_, i) => (i * i) / 1000);
  const expected = [...samples].map((x, n) => {
    low += 0.1 * (x - low);
    const before = ring[n % 64];
    ring[n % 64] = low;
    return before;
  });
  expect([...run(text, [samples], { blocks: [1, 7, 128] }).outputs[0]]).toEqual(expected);
});

test('a script that works too long passes the sound on from there, and the line is told', () => {
  const samples = noise(BLOCK_FRAMES).channels[0];
  const text = `export function channel() {
    let n = 0;
    return (x, p) => {
      n++;
      if (n > 50)
        while (true) n++;
      return 0;
    };
  }`;
  const { outputs, late } = run(text, [samples], { steps: 2000 * BLOCK_FRAMES });
  expect([...outputs[0].subarray(0, 50)]).toEqual(Array(50).fill(0));
  expect([...outputs[0].subarray(50)]).toEqual([...samples.subarray(50)]);
  expect(late).toBe(6);
});

describe('steps are counted', () => {
  const costOf = (body: string) => compiled(`export function channel() { ${body} }`, []).cost!;
  /** So many operations, one behind the other. */
  const long = (operations: number) => Array(operations).fill('x').join(' + ');

  test('by what stands in the text, with the rounds of loops where they stand there, too', () => {
    expect(costOf('return (x) => x;').most).toBe(0);
    expect(costOf(`return (x) => ${long(101)};`).most).toBe(100);
    const loop = (rounds: string) => costOf(`return (x) => { let s = 0; for (${rounds}) s += x; return s; };`).most;
    expect(loop('let i = 0; i < 40; i++') / loop('let i = 0; i < 10; i++')).toBeCloseTo(4, 1);
    expect(loop('let i = 0; i <= 39; i++')).toBe(loop('let i = 4; i < 84; i += 2'));
    for (const rounds of ['let i = x; i < 40; i++', 'let i = 0; i < 40; i += x', 'let i = 40; i > 0; i--'])
      expect(costOf(`return (x) => { let s = 0; for (${rounds}) s += x; return s; };`)).toMatchObject({ open: true });
    // Of two ways the longer one.
    expect(costOf(`return (x) => (x > 0 ? ${long(300)} : ${long(200)});`).most).toBe(301);
  });

  test('a sample that takes too many is refused; a function that is called often counts often', () => {
    const line = `y = ${long(400)};`; // and one for the assignment
    expect(costOf(`return (x) => { let y = 0; ${Array(5).fill(line).join(' ')} return y; };`).most).toBe(2000);
    expect(() => costOf(`return (x) => { let y = 0; ${Array(5).fill(line).join(' ')} return y + 1; };`)).toThrow(
      /2001 steps for each sample; at most 2000 are/,
    );
    const called = `const f = (x) => ${long(201)}; return (x) => ${Array(11).fill('f(x)').join(' + ')};`;
    expect(() => costOf(called)).toThrow(/steps for each sample; at most 2000 are allowed/);
  });

  test('a branch counts when it is gone into: seldom it may take long, always it is too late', () => {
    const text = (every: number) => `export function channel() {
      let n = 0;
      return (x) => {
        n = (n + 1) % ${every};
        let y = x;
        if (n === 0) { ${Array(20)
          .fill(`y = ${long(300)};`)
          .join(' ')} }
        return 0;
      };
    }`;
    const samples = noise(BLOCK_FRAMES).channels[0];
    expect(run(text(4), [samples], { steps: 2000 * BLOCK_FRAMES }).late).toBe(0);
    const always = run(text(1), [samples], { steps: 2000 * BLOCK_FRAMES });
    expect(always.late).toBe(3);
    // Two thirds of the block are too many.
    const passed = always.outputs[0].findIndex((y) => y !== 0);
    expect(passed).toBeGreaterThan(BLOCK_FRAMES / 4);
    expect(passed).toBeLessThan(BLOCK_FRAMES / 2);
    expect([...always.outputs[0].subarray(passed)]).toEqual([...samples.subarray(passed)]);
  });
});

describe('faults are told together', () => {
  const faultsOf = (text: string) => {
    try {
      compiled(text, ['amount']);
    } catch (error) {
      return (error as ScriptError).places.map(({ line, message }) => `${line} ${message}`);
    }
    return [];
  };

  test('each where it stands, and nothing that only follows from them', () => {
    const text = `const half = 1 / 0.x;
const third = Math.sin(3);
function bent(x) {
  const a = filtre(x);
  return a == 1 ? a : third;
}
export function channel() {
  const line = delayLin(1);
  let n = 0;
  return (x, p) => {
    line.write(x);
    n += p.loudness;
    if (x > missing) n = 1;
    return bent(x) + bent(n) + n;
  };
}`;
    expect(faultsOf(text)).toHaveLength(1); // one that is no text of the language hides the others
    const told = faultsOf(text.replace('1 / 0.x', '1 / 2'));
    expect(told.map((fault) => fault.split(' ')[0])).toEqual(['2', '4', '5', '8', '12', '13']);
    for (const [n, words] of [
      'known at once',
      'filtre',
      '== is not allowed',
      'delayLin',
      'loudness',
      'missing',
    ].entries())
      expect(told[n]).toContain(words);
  });

  test('a fault that many functions lead to is found in no time', () => {
    const functions = Array.from({ length: 60 }, (_, n) => `function f${n}(x) { return f${n + 1}(x) + f${n + 1}(x); }`);
    const text = `${functions.join('\n')}\nfunction f60(x) { return odd; }\nexport function channel() { return (x) => f0(x); }`;
    expect(faultsOf(text)).toEqual(['61 odd stands for nothing here.']);
  });
});

describe('refused by name', () => {
  const channel = (body: string) => `export function channel() { ${body} }`;
  test.each([
    ['export function f() {}', /exports channel or pair or clip; f stands without export/],
    ['function f() {}', /no "export function channel"/],
    [channel('let x = 1;'), /ends with what is done for each sample/],
    [channel('return (x, p) => { retrun [x]; };'), /retrun stands for nothing here/],
    [channel('return (x, p) => { x; return x; };'), /This does nothing/],
    [channel('return 1;'), /ends with what is done for each sample/],
    [channel('return (x, p) => x > 0;'), /a number is given back/],
    [channel('return (x, p) => p.time + p.amount2;'), /There is no setting amount2; there are time, amount/],
    [channel('return (x, p) => p.constructor;'), /There is no setting constructor/],
    [channel('return (x, p) => p;'), /p is no value by itself/],
    [channel('const line = delayLine(x); return (x, p) => x;'), /one number that is known at once/],
    [channel('const line = delayLine(-1); return (x, p) => x;'), /above 0/],
    [channel('const line = delayLine(61); return (x, p) => x;'), /at most 16777216/],
    [channel('const a = array(1e9); return (x, p) => x;'), /at most 16777216/],
    [channel('const a = array(2000000); return (x, p) => x;'), /at most 16777216/],
    [channel('let line = delayLine(1); return (x, p) => x;'), /make it a const/],
    [channel('const line = delayLine(1); return (x, p) => line.erase(x);'), /there are read, write/],
    [channel('const line = delayLine(1); return (x, p) => line;'), /line is no value by itself/],
    [channel('const line = delayLine(1); return (x, p) => line.read();'), /takes 1 values; 0 are given/],
    [
      channel('return (x, p) => { const y = x; const f = (z) => z + y; return f(1); };'),
      /y belongs to the function around/,
    ],
    [channel('return (x, p) => { const line = delayLine(1); return x; };'), /There is no function delayLine here/],
    ['const sampleRate = 3; export function channel() { return (x, p) => x; }', /sampleRate is given/],
  ])('%s', (text, message) => {
    let fault: unknown;
    try {
      compiled(text, ['time', 'amount']);
    } catch (error) {
      fault = error;
    }
    expect(fault).toBeInstanceOf(ScriptError);
    expect((fault as ScriptError).faults[0]).toMatch(message);
  });
});
