/** A whole clip’s function comes back in the middle of its work, and goes on there. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { compileForm } from './compileForm.ts';
import { instanceOf } from './scriptInstance.ts';
import { parseScript } from './parse.ts';

const FRAMES = 400;
const BODIES = {
  'a loop after another': `
    for (let n = 0; n < 50; n++) out.write(0, n, n);
    let sum = 3;
    for (let n = 50; n < 100; n++) { sum = sum * 1.01 + n; out.write(0, n, sum); }`,
  'loops in loops, with something before, between and behind': `
    let sum = 0;
    const first = noise();
    for (let a = 0; a < 5; a++) {
      const begins = noise() + first;
      let inner = a;
      for (let b = 0; b < 6; b++) {
        inner += begins;
        for (let c = 0; c < 7; c++) { sum += inner * c; out.write(0, a * 42 + b * 7 + c, sum); }
        sum -= 2;
      }
      out.write(0, 300 + a, inner);
    }
    out.write(0, 350, sum);`,
  'loops on either way of an if, true and false kept': `
    let odd = false;
    let at = 0;
    while (at < 300) {
      odd = !odd;
      if (odd) {
        for (let n = 0; n < 9; n++) { out.write(0, at, n); at++; }
      } else if (at % 4 === 1) {
        while (noise() < 0.5) { out.write(0, at, 7); at++; }
        out.write(0, at, 8);
      } else {
        out.write(0, at, -1);
        for (let n = 0; n < 3; n++) { if (n === 2 && !odd) { at++; out.write(0, at, -2); } }
      }
      at++;
    }`,
  'ways out: break, continue, return': `
    for (let a = 0; ; a++) {
      if (a === 3) continue;
      for (let b = 0; b < 20; b++) {
        if (b % 2 === 0) continue;
        if (b > 2 * a + 5) break;
        out.write(0, 20 * a + b, a + noise());
        if (a > 12) return;
      }
    }`,
  'loops without braces, in functions, and with memory': `
    const heap = array(20);
    const total = (upTo) => { let sum = 0; for (let n = 0; n < upTo; n++) sum += heap[n]; return sum; };
    for (let a = 0; a < 10; a++)
      for (let b = 0; b < 20; b++)
        if (b > a) heap[b] = heap[b] + total(b) + 1;
    for (let n = 0, m = 2; n < 20; n++, m *= 1.5) out.write(0, n, heap[n] / m);`,
} as const;

/** What is written, the steps that are left, and how often it rested, each time after as many steps as `rests` says. */
function work(body: string, rests: readonly number[]) {
  const text = `export function clip(sound, out, p) {${body}}`;
  const { bytes, ...facts } = compileForm(parseScript(text), {}, 48_000);
  const exports = instanceOf({ module: new WebAssembly.Module(bytes), bytes });
  const set = (address: number, value: number) => (new Float64Array(exports.memory.buffer, address, 1)[0] = value);
  exports.memory.grow(1);
  set(facts.clip!.sides, 1);
  set(facts.clip!.outFrames, FRAMES);
  [exports.base.value] = facts.bases;
  if (facts.noise !== undefined) set(facts.bases[0] + facts.noise, 12_345);
  exports.out.value = facts.bytesOfMemory;
  exports.steps.value = 1e6;
  let times = 0;
  do {
    const rest = rests.length === 0 ? 0 : rests[times % rests.length];
    exports.rest.value = rest === 0 ? 0 : exports.steps.value - rest;
    exports.clip();
    times++;
  } while (exports.resting.value !== 0);
  const written = new Float32Array(exports.memory.buffer, facts.bytesOfMemory, FRAMES).slice();
  return { written, left: exports.steps.value, late: exports.late.value, times, count: exports.written.value };
}

test.each(Object.entries(BODIES))('%s: the same, wherever it rests', (_what, body) => {
  const whole = work(body, []);
  expect(whole.times).toBe(1);
  expect(whole.late).toBe(0);
  expect(new Set(whole.written).size).toBeGreaterThan(9);
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 1, max: 400 }), { minLength: 1, maxLength: 20 }), (rests) => {
      const made = work(body, rests);
      expect(made.times).toBeGreaterThan(1);
      expect(made).toEqual({ ...whole, times: made.times });
    }),
    { numRuns: 60, endOnFailure: true, seed: 5 },
  );
});
