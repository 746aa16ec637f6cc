/** What scripts are given, against independent statements, at several rates. */
import { BLOCK_FRAMES } from '../model/block.ts';
import { describe, expect, test } from 'vitest';
import { decibels, responseAt } from '../testing/spectrum.ts';
import { compileForm } from './compileForm.ts';
import { ScriptError } from './faults.ts';
import { parseScript } from './parse.ts';

/** What the sample function of a channel gives for samples, one after another; `seconds` and beats as at 120 a minute. */
function run(body: string, samples: ArrayLike<number>, sampleRate: number): Float32Array {
  const form = compileForm(parseScript(`export function channel() { ${body} }`), {}, sampleRate);
  const { exports } = new WebAssembly.Instance(new WebAssembly.Module(form.bytes));
  const { memory, base, start, process } = exports as unknown as {
    memory: WebAssembly.Memory;
    base: { value: number };
    start: () => void;
    process: (frames: number) => void;
  };
  const at = (address: number) => new Float64Array(memory.buffer, address, BLOCK_FRAMES);
  [base.value] = form.bases;
  if (form.noise !== undefined) new Float64Array(memory.buffer)[(form.bases[0] + form.noise) / 8] = 12_345;
  start();
  const out = new Float32Array(samples.length);
  for (let n = 0; n < samples.length; n += BLOCK_FRAMES) {
    for (let i = 0; i < BLOCK_FRAMES; i++) at(form.inputs[0])[i] = samples[n + i] ?? 0;
    process(BLOCK_FRAMES);
    for (let i = 0; i < BLOCK_FRAMES && n + i < samples.length; i++) out[n + i] = at(form.outputs[0])[i];
  }
  return out;
}
const click = (frames: number) => Float32Array.from({ length: frames }, (_, n) => (n === 0 ? 1 : 0));
const RATES = [11_025, 44_100, 192_000];
const gainAt = (body: string, hertz: number, rate: number) =>
  decibels(responseAt(run(body, click(2 * rate), rate), hertz, rate));

describe.each(RATES)('at %i Hz', (rate) => {
  test('onePole: 3 dB at its frequency, 6 dB an octave from there', () => {
    const low = 'const f = onePole(); return (x) => f.lowpass(x, 200);';
    expect(gainAt(low, 200, rate)).toBeCloseTo(-3, 0);
    expect(gainAt(low, 800, rate) - gainAt(low, 1600, rate)).toBeCloseTo(6, 0);
    const high = 'const f = onePole(); return (x) => f.highpass(x, 200);';
    expect(gainAt(high, 25, rate) - gainAt(high, 50, rate)).toBeCloseTo(-6, 0);
  });

  test('filter: 12 dB an octave, flat at q 0.7, −3 dB at its frequency; what notches, notches', () => {
    const of = (kind: string, q = Math.SQRT1_2) => `const f = filter('${kind}'); return (x) => f(x, 500, ${q});`;
    expect(gainAt(of('lowpass'), 500, rate)).toBeCloseTo(-3.01, 1);
    expect(gainAt(of('highpass'), 500, rate)).toBeCloseTo(-3.01, 1);
    expect(gainAt(of('highpass'), 50, rate) - gainAt(of('highpass'), 100, rate)).toBeCloseTo(-12.04, 1);
    expect(gainAt(of('bandpass', 8), 500, rate)).toBeCloseTo(0, 1);
    expect(gainAt(of('bandpass', 8), 250, rate)).toBeLessThan(-20);
    expect(gainAt(of('notch', 2), 500, rate)).toBeLessThan(-60);
    for (const hertz of [100, 500, 3000]) expect(gainAt(of('allpass', 2), hertz, rate)).toBeCloseTo(0, 3);
  });

  test('allpass: all frequencies alike', () => {
    for (const hertz of [100, 777, 4321]) {
      const gain = gainAt('const a = allpass(0.003); return (x) => a(x, 0.6);', hertz, rate);
      // Between samples the cubic takes a little at the top.
      expect(Math.abs(gain)).toBeLessThan(hertz < rate / 8 ? 0.1 : 3);
    }
  });

  test('oscillator: its pitch, from −1 to 1, and little that is mirrored', () => {
    for (const shape of ['sine', 'triangle', 'saw', 'square']) {
      const wave = run(
        `const o = oscillator('${shape}'); return () => o(${rate / 100});`.replace('() => o', '(x) => o'),
        new Float32Array(rate),
        rate,
      );
      expect(Math.max(...wave.slice(0, 1000))).toBeLessThanOrEqual(1.0001);
      expect(Math.min(...wave.slice(0, 1000))).toBeGreaterThanOrEqual(-1.0001);
      for (let n = 0; n < 400; n++) expect(wave[n + 100]).toBeCloseTo(wave[n], 5);
      const first = responseAt(wave, rate / 100, rate);
      expect(first / (rate / 2)).toBeGreaterThan(0.6);
    }
    // A saw whose overtones would come back between its own.
    const saw = run(`const o = oscillator('saw'); return (x) => o(${rate * 0.0731});`, new Float32Array(rate), rate);
    const first = responseAt(saw, rate * 0.0731, rate);
    // The 10th lies at 0.731 of the rate and comes back at 0.269: at −20 dB where steps are not rounded.
    expect(decibels(responseAt(saw, rate * 0.269, rate) / first)).toBeLessThan(-38);
  });

  test('smooth and follower keep their times', () => {
    const step = new Float32Array(rate).fill(1, Math.round(rate / 10));
    const glided = run('const s = smooth(0.05); return (x) => s(x);', step, rate);
    expect(glided[Math.round(0.15 * rate)]).toBeCloseTo(1 - Math.exp(-1), 2);
    const burst = new Float32Array(rate).fill(-0.5, Math.round(rate / 10), Math.round(rate / 2));
    const level = run('const f = follower(0.01, 0.1); return (x) => f(x);', burst, rate);
    expect(level[Math.round(0.11 * rate)]).toBeCloseTo(0.5 * (1 - Math.exp(-1)), 2);
    expect(level[Math.round(0.6 * rate)]).toBeCloseTo(0.5 * Math.exp(-1), 2);
  });

  test.each([2, 4, 8])('oversampled %i times: what is not bent comes out as it was, 32 samples late', (factor) => {
    const tone = Float32Array.from({ length: 4000 }, (_, n) => Math.sin(2 * Math.PI * 0.031 * n));
    const out = run(`const o = oversampled(${factor}, (x, by) => by * x); return (x) => o(x, 0.5);`, tone, rate);
    for (let n = 200; n < 4000; n++) expect(Math.abs(out[n] - 0.5 * tone[n - 32])).toBeLessThan(1e-4);
  });
});

test('noise is white and even', () => {
  const out = run('return (x) => noise();', new Float32Array(1 << 17), 48_000);
  const mean = out.reduce((sum, x) => sum + x, 0) / out.length;
  expect(Math.abs(mean)).toBeLessThan(0.01);
  for (const lag of [1, 2, 3, 7, 64])
    expect(Math.abs(out.reduce((sum, x, n) => sum + x * (out[n + lag] ?? 0), 0) / out.length)).toBeLessThan(0.005);
  const counts = new Array<number>(16).fill(0);
  for (const x of out) counts[Math.floor(8 * (x + 1))]++;
  for (const count of counts) expect(Math.abs(count / out.length - 1 / 16)).toBeLessThan(0.003);
});

test('small functions', () => {
  const [a, b, c] = ['clamp(x * 10, -1, 2)', 'dB(x * 20)', 'ratioOf(x * 12)'].map(
    (text) => run(`return (x) => ${text};`, [1], 48_000)[0],
  );
  expect([a, b, c].map((x) => Math.round(x * 1e6) / 1e6)).toEqual([2, 10, 2]);
});

test.each([
  ["const f = filter('low'); return (x) => x;", /one of 'lowpass', 'highpass'/],
  ['const f = filter(); return (x) => x;', /filter takes kind/],
  ['const o = oversampled(3, (x) => x); return (x) => o(x);', /2, 4 or 8/],
  ['const o = oversampled(4, (x) => x > 0); return (x) => o(x);', /takes a sample and gives one/],
  ['const o = oversampled(4, 1); return (x) => o(x);', /function of the sample/],
  ['const o = oversampled(4, (x) => x + y); return (x) => o(x);', /y stands for nothing/],
  ['const s = smooth(-1); return (x) => x;', /from 0 to 60/],
  ['const s = smooth(x); return (x) => x;', /known at once/],
  ['return (x) => smooth(1);', /no function smooth here/],
  ['const noise = 1; return (x) => x;', /noise is given already/],
  ['return (x) => { watch(x, 1); return x; };', /a name and a value/],
  [
    `return (x) => { ${Array.from({ length: 17 }, (_, n) => `watch('w${n}', x);`).join(' ')} return x; };`,
    /At most 16/,
  ],
])('%s is refused by name', (body, message) => {
  let fault: unknown;
  try {
    compileForm(parseScript(`export function channel() { ${body} }`), {}, 48_000);
  } catch (error) {
    fault = error;
  }
  expect(fault).toBeInstanceOf(ScriptError);
  expect((fault as ScriptError).faults[0]).toMatch(message);
  expect((fault as ScriptError).places[0].line).toBe(1);
});
