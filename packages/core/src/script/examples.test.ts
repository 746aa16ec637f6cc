/** The scripts that ship, each against an independent statement of what it does. */
import { beforeAll, expect, test } from 'vitest';
import { exampleTexts } from '../../../../scripts/write-examples.mjs';
import { BUILT_INS } from '../catalogue/builtIns.ts';
import { withScriptStage } from '../chain/scripts.ts';
import { emptyChain, parseChain } from '../chain/validate.ts';
import { finishRender, renderChain } from '../engine/offline/renderer.ts';
import type { Clip } from '../model/clip.ts';
import { searchStages } from '../reference/searchStages.ts';
import { clipOf, impulse, noise, sine } from '../testing/signals.ts';
import { decibels, responseAt, spectrumOf } from '../testing/spectrum.ts';
import { EXAMPLE_TEXTS } from './exampleTexts.ts';
import { learnScripts } from './learnScripts.ts';
import { SCRIPT_LANGUAGE } from './scriptLanguage.ts';

beforeAll(learnScripts);

/** What a script makes of a sound, all wet. */
function made(name: string, settings: object, source: Clip, chain: object = {}, mix = 1): readonly Float32Array[] {
  const text = { language: SCRIPT_LANGUAGE, text: EXAMPLE_TEXTS[name] };
  const own = withScriptStage(BUILT_INS, emptyChain(BUILT_INS, name), text);
  const document = parseChain(BUILT_INS, {
    ...own.chain,
    stages: [{ ...own.stage, mix, settings: { ...own.stage.settings, ...settings } }],
    render: { tail: { mode: 'none' }, seed: 7 },
    ...chain,
  });
  return finishRender(renderChain(BUILT_INS, { chain: document, source })).channels;
}
const RATES = [44_100, 96_000];
const loudest = (samples: Float32Array) => samples.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
const rms = (samples: Float32Array) => Math.sqrt(samples.reduce((sum, x) => sum + x * x, 0) / samples.length);
const off = (a: Float32Array, b: (n: number) => number, from = 0) =>
  a.reduce((most, x, n) => (n < from ? most : Math.max(most, Math.abs(x - b(n)))), 0);
/** Amplitude of a tone in a stretch, by correlation with it. */
const toneIn = (samples: Float32Array, frequency: number, rate: number) => {
  let [re, im] = [0, 0];
  samples.forEach((x, n) => {
    const window = 0.5 - 0.5 * Math.cos((2 * Math.PI * n) / samples.length);
    re += x * window * Math.cos((2 * Math.PI * frequency * n) / rate);
    im += x * window * Math.sin((2 * Math.PI * frequency * n) / rate);
  });
  return (4 * Math.hypot(re, im)) / samples.length;
};

test('their texts are those of the files, short, and explained', () => {
  expect(EXAMPLE_TEXTS).toEqual(exampleTexts());
  for (const text of Object.values(EXAMPLE_TEXTS)) {
    const lines = text.split('\n');
    expect(lines.length).toBeLessThan(60);
    expect(text.match(/\/\/ /g)!.length).toBeGreaterThan(2);
    expect(text.startsWith('// ')).toBe(true);
  }
});

test.each(RATES)('repeat: once, on the frame, as loud as it says (%i Hz)', (rate) => {
  const source = noise(rate, rate, 2);
  const frames = Math.round(0.217 * rate);
  made('repeat', { time: frames / rate, amount: 0.3 }, source).forEach((out, side) => {
    const x = source.channels[side];
    expect(off(out, (n) => x[n] + (n < frames ? 0 : 0.3 * x[n - frames]))).toBeLessThan(1e-6);
  });
});

test.each(RATES)('darkening repeats: each is duller by the filter and softer by the feedback (%i Hz)', (rate) => {
  const gap = Math.round(0.2 * rate);
  const [out] = made('darkeningRepeats', { time: gap / rate, feedback: 0.5, tone: 2000 }, impulse(0, rate, rate));
  const at = (round: number) => out.slice(round * gap - 2, (round + 1) * gap - 2);
  for (const round of [1, 2, 3]) {
    for (const frequency of [100, 4000, 8000]) {
      // A low-pass of one pole: its step response is exact, its slope that of the pole at this rate.
      const pole = Math.exp((-2 * Math.PI * 2000) / rate);
      const angle = (2 * Math.PI * frequency) / rate;
      const gain = (1 - pole) / Math.hypot(1 - pole * Math.cos(angle), pole * Math.sin(angle));
      expect(responseAt(at(round), frequency, rate)).toBeCloseTo((0.5 * gain) ** (round - 1), 3);
    }
  }
});

test.each(RATES)('ring of bells: sum and difference, and nothing else (%i Hz)', (rate) => {
  const [out] = made('ringModulator', { pitch: 300, depth: 1 }, sine(1000, 0.5, 1, rate));
  for (const frequency of [700, 1300]) expect(toneIn(out, frequency, rate)).toBeCloseTo(0.25, 3);
  for (const frequency of [300, 1000, 1600]) expect(toneIn(out, frequency, rate)).toBeLessThan(1e-4);
  const [half] = made('ringModulator', { pitch: 300, depth: 0.5 }, sine(1000, 0.5, 1, rate));
  expect(toneIn(half, 1000, rate)).toBeCloseTo(0.25, 3);
});

test('soft clipper: odd overtones only unless it leans, and mirrored ones far below', () => {
  const rate = 44_100;
  const [out] = made('softClipper', { drive: 24, lean: 0 }, sine(5000, 0.5, 1, rate));
  const steady = out.slice(4410);
  const first = toneIn(steady, 5000, rate);
  expect(toneIn(steady, 15_000, rate)).toBeGreaterThan(0.1 * first);
  expect(toneIn(steady, 10_000, rate)).toBeLessThan(1e-4 * first);
  // 25 kHz would come back at 19.1, 35 at 9.1, 45 at 0.9 kHz.
  for (const mirrored of [19_100, 9100, 900])
    expect(decibels(toneIn(steady, mirrored, rate) / first)).toBeLessThan(-60);
  const [leaning] = made('softClipper', { drive: 24, lean: 1 }, sine(5000, 0.5, 1, rate));
  expect(toneIn(leaning.slice(4410), 10_000, rate)).toBeGreaterThan(0.02 * first);
  // What is too soft to be bent comes out as the curve’s slope has it, in its place although it is late.
  const soft = sine(1000, 1e-4, 0.5, rate);
  const [linear] = made('softClipper', { drive: 0, lean: 0 }, soft);
  expect(off(linear.slice(1000, -1000), (n) => soft.channels[0][n + 1000])).toBeLessThan(1e-7);
});

test('tape wobble: the pitch wavers as far as it is set, and stands without', () => {
  const rate = 48_000;
  const source = sine(1000, 0.5, 4, rate);
  const spread = (settings: object) => {
    const [out] = made('tapeWobble', settings, source);
    const [crossings, places]: [number[], number[]] = [[], []];
    for (let n = 4800; n < out.length - 1; n++)
      if (out[n] < 0 && out[n + 1] >= 0) places.push(n + out[n] / (out[n] - out[n + 1]));
    for (let k = 10; k < places.length; k++) crossings.push((10 * rate) / (places[k] - places[k - 10]));
    return Math.max(...crossings.map((hertz) => Math.abs(1200 * Math.log2(hertz / 1000))));
  };
  expect(spread({ wow: 0, flutter: 0, age: 0 })).toBeLessThan(0.5);
  // 4 ms to and fro at 0.45 Hz: a share of 2π · 0.45 · 0.004 at the most.
  const expected = 1200 * Math.log2(1 + 2 * Math.PI * 0.45 * 0.004);
  expect(spread({ wow: 1, flutter: 0, age: 0 })).toBeCloseTo(expected, -0.5);
});

test.each(RATES)('bit crusher: as many steps and as many samples a second as it says (%i Hz)', (rate) => {
  const [out] = made('bitCrusher', { bits: 4, rate: rate / 8 }, sine(100, 0.9, 0.5, rate));
  const values = new Set([...out].map((x) => Math.round(8 * x)));
  expect(off(out, (n) => Math.round(8 * out[n]) / 8)).toBeLessThan(1e-6);
  expect(values.size).toBe(15);
  const changes = out.reduce((count, x, n) => count + (n > 0 && x !== out[n - 1] ? 1 : 0), 0);
  expect(changes).toBeLessThanOrEqual(out.length / 8);
});

test('fog gate: what is below closes, both sides at once, without a click', () => {
  const rate = 48_000;
  const loud = sine(400, 0.5, 0.5, rate).channels[0];
  const left = new Float32Array(rate);
  left.set(loud);
  const soft = sine(300, 0.001, 1, rate).channels[0];
  const both = [left.map((x, n) => x + soft[n]), soft];
  const [one, two] = made('gate', { threshold: -36, hold: 0.05, close: 0.03 }, clipOf(both, rate));
  const level = (samples: Float32Array, from: number, to: number) => rms(samples.slice(from * rate, to * rate));
  expect(level(one, 0.1, 0.5)).toBeCloseTo(0.5 / Math.SQRT2, 3);
  // The softer side is open as long as the louder one is.
  expect(level(two, 0.1, 0.5)).toBeCloseTo(level(soft, 0.1, 0.5), 5);
  expect(decibels(level(two, 0.9, 1) / level(soft, 0.9, 1))).toBeLessThan(-60);
});

test('lighthouse pan: at the quarters of its way it is where it should be, at any tempo', () => {
  const rate = 44_100;
  for (const tempo of [77, 140]) {
    const still = clipOf([new Float32Array(6 * rate).fill(0.5)], rate);
    const out = made('autoPanner', { beats: 4, width: 1 }, still, { timing: { tempo } });
    const at = (beats: number) => Math.round((beats * 60 * rate) / tempo);
    const place = (beats: number) => [out[0][at(beats)], out[1][at(beats)]];
    const close = ([l, r]: number[], [a, b]: number[]) => {
      expect(Math.abs(l - a)).toBeLessThan(0.02);
      expect(Math.abs(r - b)).toBeLessThan(0.02);
    };
    close(place(2), [0.5, 0.5]);
    close(place(1), [0, Math.SQRT1_2]);
    close(place(3), [Math.SQRT1_2, 0]);
    // As loud everywhere.
    for (let n = rate; n < 5 * rate; n += 997) expect(Math.hypot(out[0][n], out[1][n])).toBeCloseTo(Math.SQRT1_2, 2);
  }
});

test.each(RATES)('ringing beams: peaks at the harmonics of the note, ringing as long as told (%i Hz)', (rate) => {
  const [out] = made('resonators', { note: 220, spread: 1, ring: 60 }, impulse(0, 2 * rate, rate));
  for (let n = 1; n <= 6; n++) {
    const peak = responseAt(out, 220 * n, rate);
    expect(peak).toBeGreaterThan(5 * responseAt(out, 220 * (n + 0.5), rate));
  }
  // Quality 60 at 220 Hz: down by 60 dB after 2.2 · 60 / 220 s.
  const decay = (from: number) => rms(out.slice(from * rate, (from + 0.05) * rate));
  expect(decibels(decay(0.7) / decay(0.1))).toBeLessThan(-55);
  expect(decibels(decay(0.4) / decay(0.1))).toBeGreaterThan(-40);
});

test('held breath: what sounded before goes on when the sound has ended, as loud and at its pitch', () => {
  const rate = 48_000;
  const source = clipOf(
    [Float32Array.from({ length: 3 * rate }, (_, n) => (n < rate ? Math.sin((2 * Math.PI * 440 * n) / rate) / 2 : 0))],
    rate,
  );
  const [held] = made('freeze', { wait: 0.8, grain: 0.1 }, source);
  const late = held.slice(2 * rate, 2 * rate + 32_768);
  const { bins, hertz } = spectrumOf(late, rate);
  const strongest = bins.reduce((best, x, n) => (x > bins[best] ? n : best), 0) * hertz;
  expect(Math.abs(strongest - 440)).toBeLessThan(15);
  expect(Math.abs(decibels(rms(late) / rms(source.channels[0].slice(0, rate))))).toBeLessThan(4);
  const [passing] = made('freeze', { hold: false }, source);
  expect(off(passing, (n) => source.channels[0][n])).toBeLessThan(1e-6);
});

test.each(RATES)(
  'backwards first: the sound stays where it was, and before the gap it runs backwards (%i Hz)',
  (rate) => {
    const source = noise(3000, rate, 2);
    const gap = Math.round(0.1 * rate);
    const out = made('backwardsFirst', { gap: 0.1, swell: 0.5 }, source);
    out.forEach((samples, side) => {
      expect(samples).toHaveLength(6000 + gap);
      const x = source.channels[side];
      expect(off(samples, (n) => (n < 3000 ? 0.5 * x[2999 - n] : n < 3000 + gap ? 0 : x[n - 3000 - gap]))).toBe(0);
    });
  },
);

test('watcher changes nothing', () => {
  const source = noise(20_000, 48_000, 2);
  made('meter', {}, source).forEach((out, side) => expect(out).toEqual(source.channels[side]));
  expect(loudest(source.channels[0])).toBeGreaterThan(0.5);
});

test('whatever built-in stage a word finds first, it finds first beside the examples too; a whole title finds its own', () => {
  const scripts = Object.entries(EXAMPLE_TEXTS).map(([id, text]) => ({ id, language: SCRIPT_LANGUAGE, text }));
  const offered = BUILT_INS.for({ scripts });
  const words = BUILT_INS.stages.flatMap(({ title, keywords }) => [
    title,
    ...keywords,
    ...keywords.join(' ').split(' '),
  ]);
  for (const word of [...words, 'backwards', 'church', 'muffled', 'louder', 'repeats', 'wobble', 'crush'])
    expect(searchStages(offered, word)[0]?.kind, word).toBe(searchStages(BUILT_INS, word)[0]?.kind);
  expect(searchStages(offered, 'backwards first')[0].title).toBe('Backwards first');
});
