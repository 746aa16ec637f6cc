/** A tempo that changes within one render: what follows it goes along, and phases are the sum of the beats that have passed. */
import { describe, expect, test } from 'vitest';
import { BUILT_INS } from '../catalogue/builtIns.ts';
import type { ChainDocument } from '../chain/schema.ts';
import type { Clip } from '../model/clip.ts';
import { chainOf } from '../testing/chains.ts';
import { noise } from '../testing/signals.ts';
import { TempoMap } from '../timing/tempoMap.ts';
import { finishRender, renderChain } from './offline/renderer.ts';
import { StreamedRender } from './offline/streamedRender.ts';

/** Seven quarters at 84, eleven and a half at 151, then 63 in 6/8. */
const MAP = new TempoMap([
  { quarter: 0, tempo: 84, meter: [4, 4] },
  { quarter: 7, tempo: 151, meter: [4, 4] },
  { quarter: 18.5, tempo: 63, meter: [6, 8] },
]);
const SECONDS = 12;
const TIMING = { timing: { tempo: 84 } };

const held = (rate: number): Clip => ({
  sampleRate: rate,
  origin: 0,
  channels: [0, 1].map(() => new Float32Array(SECONDS * rate).fill(0.5)),
});
const render = (chain: ChainDocument, source: Clip, tempoMap: TempoMap | undefined = MAP) =>
  finishRender(renderChain(BUILT_INS, { chain, source, tempoMap })).channels[0];

/** Frames at which a signal crosses the middle upwards. */
function risings(samples: Float32Array, middle: number): number[] {
  const found: number[] = [];
  for (let i = 1; i < samples.length; i++) if (samples[i - 1] < middle && samples[i] >= middle) found.push(i);
  return found;
}

describe.each([44_100, 96_000])('at %d Hz', (rate) => {
  test('an LFO that goes by the beat, as a modulator and inside a stage', () => {
    const triangle = chainOf([{ kind: 'gain' }], {
      ...TIMING,
      modulators: [{ id: 'wave', kind: 'lfo', settings: { wave: 'triangle', rate: { beats: 2 } } }],
      routes: [{ id: 'r', from: 'wave', to: 'gain.level', depth: 0.1 }],
    });
    const tremolo = chainOf(
      [{ kind: 'tremolo', settings: { shape: 'triangle', rate: { beats: 2 }, depth: 1, phase: 0 } }],
      TIMING,
    );
    for (const [chain, middle] of [
      [triangle, 0.5],
      [tremolo, 0.25],
    ] as const) {
      const crossed = risings(render(chain, held(rate)), middle).map((frame) => MAP.quarterAt(frame / rate));
      expect(crossed.length).toBeGreaterThan(9);
      // Two beats apart all along; the meter of 6/8 counts eighths.
      for (let n = 1; n < crossed.length; n++) {
        const apart = crossed[n] - crossed[n - 1];
        const across = crossed[n - 1] < 18.5 && crossed[n] > 18.5;
        if (!across) expect(apart).toBeCloseTo(crossed[n] < 18.5 ? 2 : 1, 2);
      }
    }
  });

  test('steps stand on the beat in every tempo', () => {
    const levels = Object.fromEntries(Array.from({ length: 4 }, (_, n) => [`level${n + 1}`, n === 0 ? 1 : 0]));
    const chain = chainOf(
      [{ kind: 'pattern', settings: { steps: 4, step: { note: '1/4' }, smoothing: 0.003, ...levels } }],
      TIMING,
    );
    const opened = risings(render(chain, held(rate)), 0.25).map((frame) => MAP.quarterAt(frame / rate));
    expect(opened.length).toBeGreaterThanOrEqual(5);
    for (const quarter of opened) expect(Math.abs(quarter - 4 * Math.round(quarter / 4))).toBeLessThan(0.01);
  });

  test('an echo repeats at the note value of the moment', () => {
    const chain = chainOf([{ kind: 'echo', mix: 1, settings: { time: { note: '1/8' }, feedback: 0 } }], TIMING);
    const source = held(rate);
    const clicks = [2, 4.99, 8.1, 11];
    for (const side of source.channels) {
      side.fill(0);
      for (const at of clicks) side[Math.round(at * rate)] = 0.9;
    }
    const out = render(chain, source);
    // Clear of the moments in which it passes from one tempo to the next: at 5 s and 9.57 s.
    for (const at of [2, 8.1, 11]) {
      const from = Math.round((at + 0.02) * rate);
      const part = out.subarray(from, from + Math.round(0.6 * rate));
      const loudest = part.reduce((best, x, i) => (Math.abs(x) > Math.abs(part[best]) ? i : best), 0);
      expect((from + loudest) / rate - at).toBeCloseTo(30 / MAP.at(at).tempo, 3);
    }
  });

  test('a lane over beats has its breakpoints where the beats lie', () => {
    const points = [
      { at: 6, value: 0 },
      { at: 8, value: -20 },
      { at: 20, value: 0 },
    ];
    const chain = chainOf([{ kind: 'gain' }], {
      ...TIMING,
      lanes: [{ target: 'gain.level', curve: { over: 'beats', points } }],
    });
    const out = render(chain, held(rate));
    for (const { at, value } of points)
      expect(20 * Math.log10(out[Math.round(MAP.secondsAt(at) * rate)] / 0.5)).toBeCloseTo(value, 3);
  });
});

test('in one pass it is the same as in memory; and a map of one tempo is no map', async () => {
  const chain = chainOf(
    [
      { kind: 'stutter', settings: { grid: { beats: 1 }, fires: 'always' } },
      { kind: 'tremolo', settings: { rate: { beats: 1 } } },
    ],
    TIMING,
  );
  const source = noise(6 * 48_000, 48_000, 2);
  const whole = render(chain, source);
  const [left, right] = source.channels;
  const frames = left.length;
  const read = (from: number, count: number) =>
    Promise.resolve([left.slice(from, from + count), right.slice(from, from + count)]);
  const streamed = new StreamedRender(
    BUILT_INS,
    chain,
    { sampleRate: 48_000, channels: 2, frames, read },
    { tempoMap: MAP },
  );
  const pieces: number[] = [];
  for await (const [piece] of streamed.pieces()) for (const sample of piece) pieces.push(sample);
  const bytes = (samples: Float32Array) => Buffer.from(samples.buffer, samples.byteOffset, samples.byteLength);
  expect(bytes(Float32Array.from(pieces)).equals(bytes(whole))).toBe(true);
  const steady = new TempoMap([{ quarter: 0, tempo: 84, meter: [4, 4] }]);
  const plain = finishRender(renderChain(BUILT_INS, { chain, source })).channels[0];
  expect(bytes(render(chain, source, steady)).equals(bytes(plain))).toBe(true);
  expect(bytes(whole).equals(bytes(plain))).toBe(false);
});

test('from a place on, the map is the same music', () => {
  const later = MAP.from(6.5);
  for (const seconds of [0, 1.1, 3.07, 5]) {
    expect(later.quarterAt(seconds)).toBeCloseTo(MAP.quarterAt(6.5 + seconds) - MAP.quarterAt(6.5), 9);
    expect(later.at(seconds).tempo).toBe(MAP.at(6.5 + seconds).tempo);
  }
});
