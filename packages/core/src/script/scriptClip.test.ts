/** Scripts that work on a whole clip. */
import { beforeAll, expect, test } from 'vitest';
import { BUILT_INS } from '../catalogue/builtIns.ts';
import { withScriptStage } from '../chain/scripts.ts';
import { emptyChain, parseChain } from '../chain/validate.ts';
import { estimateRender } from '../engine/offline/estimate.ts';
import { finishRender, renderChain } from '../engine/offline/renderer.ts';
import type { Clip } from '../model/clip.ts';
import { clipOf, noise } from '../testing/signals.ts';
import { learnScripts } from './learnScripts.ts';
import { SCRIPT_LANGUAGE } from './scriptLanguage.ts';

beforeAll(learnScripts);

const HEADER = `export const language = 1;
export const title = 'Trial';
export const family = 'clip';
export const summary = 'A trial.';
export const params = {
  gap: time({ default: '100 ms', min: '0 ms', max: '4 s', doc: 'How long.' }),
  speed: number({ default: 1, min: 0.1, max: 4, doc: 'How fast.' }),
  way: choice(['there', 'back'], { default: 'back', doc: 'Where.' }),
};`;
const chainOf = (rest: string, settings: object = {}) => {
  const own = withScriptStage(BUILT_INS, emptyChain(BUILT_INS, 'Own'), {
    language: SCRIPT_LANGUAGE,
    text: `${HEADER}\n${rest}`,
  });
  return parseChain(BUILT_INS, {
    ...own.chain,
    stages: [{ ...own.stage, settings: { ...own.stage.settings, ...settings } }],
    render: { tail: { mode: 'none' }, leadIn: { mode: 'auto' } },
  });
};
const made = (rest: string, source: Clip, settings: object = {}) =>
  finishRender(renderChain(BUILT_INS, { chain: chainOf(rest, settings), source }));

test('backwards is what the stage that reverses gives, bit for bit', () => {
  const source = noise(5000, 44_100, 2);
  const own = made(
    `export function clip(sound, out, p) {
       for (let side = 0; side < sound.sides; side++)
         for (let n = 0; n < sound.frames; n++) out.write(side, sound.frames - 1 - n, sound.read(side, n));
     }`,
    source,
  );
  const reverse = parseChain(BUILT_INS, {
    ...emptyChain(BUILT_INS, 'Reverse'),
    stages: [{ id: 'reverse', kind: 'reverse' }],
    render: { tail: { mode: 'none' } },
  });
  const built = finishRender(renderChain(BUILT_INS, { chain: reverse, source }));
  expect(own.channels).toEqual(built.channels);
  expect(own.origin).toBe(built.origin);
});

test('length and place follow settings and sound; outside nothing is read and nothing written', () => {
  const rate = 48_000;
  const source = noise(1000, rate);
  const out = made(
    `export const frames = (sound, p) => 2 * sound.frames + Math.round(p.gap * sampleRate);
     export const origin = (sound, p) => -sound.frames - Math.round(p.gap * sampleRate);
     export function clip(sound, out, p) {
       const gap = out.frames - 2 * sound.frames;
       const heap = array(4);
       heap[1] = 1;
       for (let n = -5; n < sound.frames + 5; n++) {
         const x = sound.read(0, n) * heap[1];
         if (p.way === 'back') out.write(0, sound.frames - 1 - n, x);
         out.write(0, sound.frames + gap + n, x);
       }
       out.write(7, 0, 9);
       out.write(0, -1, 9);
       out.write(0, out.frames, 9);
     }`,
    source,
    { gap: 0.01 },
  );
  const [samples] = out.channels;
  const x = source.channels[0];
  const at = (n: number) => samples[n - out.origin];
  expect(out.origin).toBe(-1480);
  for (let n = 0; n < 1000; n++) {
    // What lies at the seam is written over by those beside the sound, as 0.
    expect(at(n)).toBe(x[n]);
    if (n >= 5) expect(at(-481 - n)).toBe(n < 995 ? x[n] : at(-481 - n));
  }
  for (let n = -470; n < -10; n++) expect(at(n)).toBe(0);
});

test('between samples it is read by a cubic: half as fast is an octave lower', () => {
  const rate = 48_000;
  const tone = Float32Array.from({ length: 4800 }, (_, n) => 0.5 * Math.sin((2 * Math.PI * 600 * n) / rate));
  const { channels } = made(
    `export const frames = (sound, p) => Math.floor(sound.frames / p.speed);
     export function clip(sound, out, p) {
       for (let n = 0; n < out.frames; n++) out.write(0, n, sound.read(0, n * p.speed));
     }`,
    clipOf([tone], rate),
    { speed: 0.5 },
  );
  expect(channels[0]).toHaveLength(9600);
  for (let n = 10; n < 9590; n++)
    expect(Math.abs(channels[0][n] - 0.5 * Math.sin((2 * Math.PI * 300 * n) / rate))).toBeLessThan(1e-5);
});

test('noise is seeded; settings come as they are', () => {
  const source = clipOf([new Float32Array(2000)], 48_000);
  const text = 'export function clip(sound, out, p) { for (let n = 0; n < out.frames; n++) out.write(0, n, noise()); }';
  const [one] = made(text, source).channels;
  expect(made(text, source).channels[0]).toEqual(one);
  expect(Math.max(...one)).toBeGreaterThan(0.9);
});

test('what is too long, or no number, is refused in words', () => {
  const source = noise(480, 48_000);
  const loop = 'export function clip(sound, out, p) {\n while (true) out.write(0, 0, 0);\n}';
  expect(() => made(loop, source)).toThrow(/“Trial” works too long \(line 11 of its text\)/);
  expect(() => made('export function clip(sound, out, p) { out.write(0, 3, 0 / 0); }', source)).toThrow(
    /no number, at frame 3/,
  );
  const long = 'export const frames = (sound, p) => 1e9; export function clip(sound, out, p) {}';
  expect(() => made(long, source)).toThrow(/would make a clip of 1000000000 frames; allowed is 1 to 28800000/);
  // Told before anything is rendered.
  expect(() => estimateRender(BUILT_INS, chainOf(long), { sampleRate: 48_000, frames: 480, channels: 1 })).toThrow(
    /1000000000 frames/,
  );
});

test('on its way it says how much is done, and may be left', () => {
  const source = clipOf([new Float32Array(96_000)], 48_000);
  const busy = (round: string) => `export function clip(sound, out, p) {
    let sum = 0;
    for (let n = 0; n < out.frames; n++) {
      for (let k = 0; k < 200; k++) { ${round} }
      out.write(0, n, sum);
    }
  }`;
  const done: number[] = [];
  const chain = chainOf(busy('sum = 0.5 * sum + 0.1 * k;'));
  finishRender(renderChain(BUILT_INS, { chain, source }), (step) => step.type === 'progress' && done.push(step.done));
  // In even parts, by what is written.
  expect(done.length).toBeGreaterThan(5);
  for (const [n, share] of done.entries()) expect(share).toBeCloseTo((n + 1) / done.length, 1);
  // What never ends comes back, too.
  const endless = renderChain(BUILT_INS, { chain: chainOf(busy('while (true) sum = sum + 1;')), source });
  expect(endless.next().value).toMatchObject({ type: 'progress' });
  endless.return(undefined as never);
});

test.each([
  ['export function clip(sound) {}', /export function clip\(sound, out, p\)/],
  [
    'export function clip(sound, out, p) { out.write(0, 0, sound.length); }',
    /There are frames, sides, start, end, read of it/,
  ],
  ['export function clip(sound, out, p) { out.write(0, 0, beat); }', /beat stands for nothing here/],
  ['export function clip(sound, out, p) { sound.write(0, 0, 1); }', /there is read/],
  [
    'export function clip(sound, out, p) {} export function pair() {}',
    /A script has one form; clip stands there already/,
  ],
  ['export function clip(sound, out, p) {} export { a }; const a = 1;', /Outside of functions stand only/],
])('%s is refused', (text, message) => {
  expect(() => chainOf(text)).toThrow(message);
});
