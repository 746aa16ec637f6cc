/** Movement while it plays: changes of what moves, loops, and settings from shared memory. */
import { headOfClip } from '../../heads/clip/clip.ts';
import { BUILT_INS } from '../../catalogue/builtIns.ts';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { curveAt, type Breakpoints } from '../../modulation/curve.ts';
import type { ScaledParam } from '../../params/params.ts';
import { chainOf } from '../../testing/chains.ts';
import { LiveRun } from '../../testing/live.ts';
import { clipOf, sine } from '../../testing/signals.ts';
import { aboveBoth, decibels } from '../../testing/spectrum.ts';
import { Lane } from './laneReader.ts';
import { LiveEngine } from '../live/liveEngine.ts';
import { planStages, shapeOf } from '../plan/plan.ts';
import { flatValues } from '../plan/valueLayout.ts';

const RATE = 48000;
const TONE = sine(1000, 0.5, 1, RATE, 2);
const EDGE = 4096;

const lfo = (settings: object = {}) => ({ id: 'lfo', kind: 'lfo', settings: { rate: 2, ...settings } });
const route = (rest: object = {}) => ({ id: 'r', from: 'lfo', to: 'filter.level', depth: 0.05, ...rest });
const lane = (...values: number[]) => ({
  target: 'filter.level',
  curve: { over: 'seconds', points: values.map((value, at) => ({ at, value })) },
});
const filter = (rest: Record<string, unknown>) =>
  chainOf([{ kind: 'filter', settings: { type: 'notch', cutoff: 5000 } }], rest);

/** Highest sample of both sides, away from their ends. */
const loudest = (sides: readonly Float64Array[]) =>
  Math.max(
    ...sides.map((side) => side.subarray(EDGE, side.length - EDGE).reduce((most, x) => Math.max(most, Math.abs(x)), 0)),
  );

describe('a change of what moves makes no click', () => {
  const moving = { modulators: [lfo()], routes: [route()] };
  test.each<[string, Record<string, unknown>, Record<string, unknown>]>([
    ['a route comes', {}, moving],
    ['a route goes', moving, {}],
    ['a depth is turned', moving, { modulators: [lfo()], routes: [route({ depth: -0.1 })] }],
    ['a polarity is turned', moving, { modulators: [lfo()], routes: [route({ polarity: 'up' })] }],
    ['another wave', moving, { modulators: [lfo({ wave: 'square' })], routes: [route()] }],
    ['another rate', moving, { modulators: [lfo({ rate: 7 })], routes: [route()] }],
    ['a lane comes', {}, { lanes: [lane(-20, -3, -12)] }],
    ['a lane is redrawn', { lanes: [lane(-20, -3, -12)] }, { lanes: [lane(0, -30, 0)] }],
    ['a lane goes', { lanes: [lane(-20, -3, -12)] }, {}],
    ['a modulator is switched off', moving, { ...moving, modulators: [{ ...lfo(), on: false }] }],
  ])('%s', (_, before, after) => {
    const live = new LiveRun(filter(before), TONE);
    live.run(RATE / 2);
    live.change(filter(after));
    live.run(RATE / 2);
    const highs = aboveBoth([live.heard[0], live.heard[1]], 8000, RATE);
    const most = loudest(highs);
    expect(decibels(most)).toBeLessThan(-60);
  });
});

test('depths and the numbers of modulators go as numbers, words and routes as a new plan', () => {
  const plan = (modulators: object[], routes: object[]) => planStages(BUILT_INS, filter({ modulators, routes }), RATE);
  const base = plan([lfo()], [route()]);
  for (const other of [plan([lfo({ rate: 9 })], [route()]), plan([lfo()], [route({ depth: 0.5 })])]) {
    expect(shapeOf(BUILT_INS, other)).toBe(shapeOf(BUILT_INS, base));
    expect(flatValues(other)).not.toEqual(flatValues(base));
    expect(flatValues(other)).toHaveLength(flatValues(base).length);
  }
  for (const other of [
    plan([lfo({ wave: 'saw' })], [route()]),
    plan([lfo()], [route({ bend: 0.5 })]),
    plan([lfo()], [route(), route({ id: 'r2', to: 'filter.mix' })]),
  ])
    expect(shapeOf(BUILT_INS, other)).not.toBe(shapeOf(BUILT_INS, base));
});

test('a depth from shared memory is heard without a new plan', () => {
  const level = (depth: number) =>
    filter({ modulators: [lfo({ wave: 'square', rate: 0.25 })], routes: [route({ depth })] });
  const live = new LiveRun(level(0.05), TONE, { fadeIn: 0 });
  live.run(RATE / 4);
  live.section.setValues(flatValues(planStages(BUILT_INS, level(0.1), RATE)), 0);
  live.run(RATE / 4);
  const peak = (from: number, to: number) =>
    live.heard[0].slice(from, to).reduce((most, x) => Math.max(most, Math.abs(x)), 0);
  // A twentieth more of a scale of 120 dB is 6 dB; a square is up in its first half.
  const before = decibels(peak(RATE / 8, RATE / 4));
  expect(decibels(peak(RATE / 2 - 4800, RATE / 2)) - before).toBeCloseTo(6, 2);
});

test('round a loop what moves goes on without a step, though the timeline jumps', () => {
  // A second holds whole periods of the tone, so only movement could click where it goes round.
  const chain = filter({ lanes: [lane(0, -40)], modulators: [lfo({ rate: 1.37 })], routes: [route()] });
  const engine = new LiveEngine(BUILT_INS, RATE);
  engine.load('work', {
    head: headOfClip(TONE),
    plan: planStages(BUILT_INS, chain, RATE),
    gain: 0,
    span: { start: 0, end: RATE },
  });
  engine.listen('work');
  engine.play(0, { start: 0, end: RATE }, Infinity);
  const sides: [number[], number[]] = [[], []];
  const block = [new Float32Array(128), new Float32Array(128)];
  for (let n = 0; n < (3 * RATE) / 128; n++) {
    engine.process(block[0], block[1], 128);
    sides.forEach((side, c) => side.push(...block[c]));
  }
  expect(decibels(loudest(aboveBoth(sides, 8000, RATE)))).toBeLessThan(-60);
  // And it did move: 40 dB over each round.
  const peak = (from: number) => sides[0].slice(from, from + 480).reduce((size, x) => Math.max(size, Math.abs(x)), 0);
  expect(decibels(peak(RATE - 960) / peak(960))).toBeLessThan(-25);
});

describe('a lane at work', () => {
  const gain = BUILT_INS.of({ kind: 'gain' }).params['gain'] as ScaledParam;
  const number = (min: number, max: number) => fc.double({ min, max, noNaN: true }).map((x) => x + 0);
  const points = fc
    .uniqueArray(fc.integer({ min: 0, max: 200 }), { minLength: 1, maxLength: 12 })
    .chain((places) =>
      fc.tuple(
        fc.constant(places.sort((a, b) => a - b)),
        fc.array(number(gain.min, gain.max), { minLength: places.length, maxLength: places.length }),
        fc.array(number(-1, 1), { minLength: places.length, maxLength: places.length }),
      ),
    )
    .map(([places, values, bends]) =>
      places.map((place, n) => ({ at: place / 100, value: values[n], bend: bends[n] })),
    );

  test('is the curve that was drawn, asked for at any places in any order', () => {
    fc.assert(
      fc.property(points, fc.array(fc.integer({ min: -500, max: 100_000 }), { maxLength: 30 }), (drawn, places) => {
        const curve: Breakpoints = { over: 'seconds', points: drawn };
        const lane = new Lane({ over: 'seconds', points: drawn }, gain, RATE, { start: 0, end: RATE });
        for (const place of places)
          expect(Math.abs(lane.valueAt(place) - curveAt(curve, place / RATE))).toBeLessThan(1e-6);
      }),
    );
  });

  test('marks every breakpoint of a stretch, and nothing else', () => {
    fc.assert(
      fc.property(points, fc.integer({ min: 0, max: 95_000 }), (drawn, position) => {
        const lane = new Lane({ over: 'seconds', points: drawn }, gain, RATE, { start: 0, end: RATE });
        const marks = new Uint8Array(128);
        lane.mark(position, 128, marks);
        const frames = drawn.map(({ at }) => Math.round(at * RATE));
        marks.forEach((mark, i) => {
          // What begins right at the start of a stretch needs no cut there.
          if (i > 0) expect(mark).toBe(frames.includes(position + i) ? 1 : 0);
        });
      }),
    );
  });

  test('a jump is made before its frame and is there on it', () => {
    const jump = [
      { at: 0, value: 0, bend: 0 },
      { at: 0.5, value: 0, bend: 0 },
      { at: 0.5, value: -60, bend: 0 },
    ];
    const lane = new Lane({ over: 'seconds', points: jump }, gain, RATE, { start: 0, end: RATE });
    expect([lane.valueAt(0.49 * RATE), lane.valueAt(0.5 * RATE), lane.valueAt(0.9 * RATE)]).toEqual([0, -60, -60]);
    expect(lane.valueAt(0.496 * RATE)).toBeCloseTo(-30, 0);
  });

  test('over the clip it lies where the source lies, wherever that has been moved', () => {
    const ramp = [
      { at: 0, value: -40, bend: 0 },
      { at: 1, value: 0, bend: 0 },
    ];
    const lane = new Lane({ over: 'clip', points: ramp }, gain, RATE, { start: 24000, end: 72000 });
    expect([24000, 48000, 72000].map((place) => lane.valueAt(place))).toEqual([-40, -20, 0]);
  });
});

test('a stage that sleeps through silence wakes with what moves it where it belongs', () => {
  const silence = clipOf([new Float32Array(RATE), new Float32Array(RATE)]);
  silence.channels.forEach((side, c) => side.set(TONE.channels[c].subarray(0, RATE / 4), 0.75 * RATE));
  const chain = chainOf([{ kind: 'gain' }], {
    lanes: [
      {
        target: 'gain.gain',
        curve: {
          over: 'seconds',
          points: [
            { at: 0, value: 0 },
            { at: 1, value: -40 },
          ],
        },
      },
    ],
  });
  const live = new LiveRun(chain, silence, { fadeIn: 0, once: true });
  live.run(RATE);
  const at = Math.round(0.9 * RATE);
  const peak = live.heard[0].slice(at, at + 96).reduce((most, x) => Math.max(most, Math.abs(x)), 0);
  expect(decibels(peak / 0.5)).toBeCloseTo(-36, 0);
});
