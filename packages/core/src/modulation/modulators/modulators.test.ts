import { describe, expect, test } from 'vitest';
import { chainOf, renderOf } from '../../testing/chains.ts';
import { SWING, steady, valuesOf } from '../../testing/movedGain.ts';
import { clipOf, sine } from '../../testing/signals.ts';
import type { Clip } from '../../model/clip.ts';

const RATE = 48000;

describe('modulators', () => {
  const moved = (modulator: object, source: Clip, depth = 0.05) =>
    renderOf(
      chainOf([{ kind: 'gain' }], {
        modulators: [{ id: 'm', ...modulator }],
        routes: [{ id: 'r', from: 'm', to: 'gain.gain', depth, polarity: 'up' }],
      }),
      source,
    ).channels[0];
  const inDecibels = (samples: Float32Array, at: number) => 20 * Math.log10(samples[at] / 0.5);

  test('a follower rises with the sound and falls when it stops', () => {
    const burst = sine(1000, 0.5, 2);
    burst.channels[0].fill(0, 0, RATE / 2);
    burst.channels[0].fill(0, RATE, 2 * RATE);
    const settings = { attack: 0.005, release: 0.1, floor: -60, ceiling: -6 };
    const value = valuesOf({ kind: 'follower', settings }, burst);
    expect(value(0.4)).toBe(0);
    // −6 dB is the ceiling.
    expect(value(0.6)).toBeGreaterThan(0.97);
    // 8.7 dB a time constant: after 0.2 s some 17 of the 54 dB.
    expect(value(1.2)).toBeCloseTo(1 - 17.4 / 54, 1);
  });

  test('steps go through their row in time, swing and glide', () => {
    const plain = moved({ kind: 'sequence', settings: { steps: [1, -1, 0.5], rate: 4 } }, steady(2));
    const at = (samples: Float32Array, step: number) => inDecibels(samples, Math.round((step + 0.5) * 12000)) / SWING;
    [1, 0, 0.75, 1, 0, 0.75].forEach((height, step) => expect(at(plain, step)).toBeCloseTo(height, 2));
    const swung = moved({ kind: 'sequence', settings: { steps: [1, -1], rate: 4, swing: 0.5 } }, steady(1));
    expect(inDecibels(swung, 12000 + 5000) / SWING).toBeCloseTo(1, 2);
    expect(inDecibels(swung, 12000 + 8000) / SWING).toBeCloseTo(0, 2);
  });

  test('an envelope is its curve, over the clip, in time and round and round', () => {
    const curve = (over: string, length: number) => ({
      over,
      points: [
        { at: 0, value: 0 },
        { at: length, value: 1 },
      ],
    });
    const clip = moved({ kind: 'envelope', settings: { curve: curve('clip', 1) } }, steady(2));
    expect(inDecibels(clip, RATE) / SWING).toBeCloseTo(0.5, 2);
    const beats = moved({ kind: 'envelope', settings: { curve: curve('beats', 2) } }, steady(2));
    expect(inDecibels(beats, RATE / 2) / SWING).toBeCloseTo(0.5, 2);
    const round = moved({ kind: 'envelope', settings: { curve: curve('seconds', 0.5), loop: true } }, steady(2));
    expect(inDecibels(round, 1.25 * RATE) / SWING).toBeCloseTo(0.5, 2);
  });

  test('a triggered envelope goes off in time: attack, decay, sustain, release', () => {
    const settings = { by: 'time', every: 1, attack: 0.1, decay: 0.1, sustain: 0.5, gate: 0.5, release: 0.1 };
    const found = moved({ kind: 'trigger', settings }, steady(2));
    for (const turn of [0, 1]) {
      const value = (seconds: number) => inDecibels(found, Math.round((turn + seconds) * RATE)) / SWING;
      expect(value(0.05)).toBeCloseTo(0.5, 1);
      expect(value(0.1)).toBeCloseTo(1, 1);
      expect(value(0.45)).toBeCloseTo(0.5, 2);
      expect(value(0.65)).toBeLessThan(0.02);
    }
  });

  test('a triggered envelope hears attacks', () => {
    const hits = steady(2);
    hits.channels[0].fill(1e-4);
    for (const at of [0.5, 1.2]) hits.channels[0].fill(0.5, at * RATE, (at + 0.02) * RATE);
    const settings = { by: 'attacks', attack: 0.01, decay: 0.1, gate: 0.05, release: 0.05 };
    const found = moved({ kind: 'trigger', settings }, hits);
    expect(inDecibels(found, 0.51 * RATE) / SWING).toBeGreaterThan(0.9);
    expect(inDecibels(found, 1.21 * RATE) / SWING).toBeGreaterThan(0.9);
    // Between them it comes to rest.
    expect((20 * Math.log10(found[52799] / 1e-4)) / SWING).toBeLessThan(0.05);
  });

  test('a triggered envelope hears notes that follow each other closely, and none in a steady tone', () => {
    // Four bass notes with gaps of 30 ms: each is struck while the level has hardly fallen.
    const notes = clipOf([new Float32Array(2 * RATE)]);
    const tone = sine(55, 0.5, 2).channels[0];
    const starts = [0, 0.5, 1, 1.5];
    for (const start of starts) {
      const from = start * RATE;
      notes.channels[0].set(tone.subarray(from, from + 0.47 * RATE), from);
    }
    const settings = { by: 'attacks', attack: 0.01, decay: 0.05, gate: 0.05, release: 0.05 };
    const heard = valuesOf({ kind: 'trigger', settings }, notes);
    for (const start of starts) {
      const rise = Array.from({ length: 30 }, (_, ms) => heard(start + ms / 1000));
      expect(Math.max(...rise)).toBeGreaterThan(0.9);
      expect(heard(start + 0.3)).toBeLessThan(0.05);
    }
    const held = valuesOf({ kind: 'trigger', settings }, sine(41, 0.5, 2));
    for (let at = 0.3; at < 2; at += 0.004) expect(held(at)).toBeLessThan(0.05);
  });

  test('notes: pitch around its centre, velocity, held; a triggered envelope is held as long as they are', () => {
    const notes = [
      { at: 1, length: 1, key: 72, velocity: 0.5 },
      { at: 3, length: 0.5, key: 54, velocity: 1 },
    ];
    const half = (samples: Float32Array, beats: number) => inDecibels(samples, beats * 0.5 * RATE) / SWING;
    const pitch = moved({ kind: 'notes', settings: { notes, range: 12 } }, steady(2));
    // Up from the setting: 0 at the lowest, a half in the middle, 1 an octave above it.
    expect([half(pitch, 0.5), half(pitch, 1.5), half(pitch, 3.2)].map((x) => Number(x.toFixed(2)))).toEqual([
      0.5, 1, 0.25,
    ]);
    const velocity = moved({ kind: 'notes', settings: { notes, by: 'velocity' } }, steady(2));
    expect([half(velocity, 0.5), half(velocity, 2.5), half(velocity, 3.2)].map((x) => Number(x.toFixed(2)))).toEqual([
      0, 0.5, 1,
    ]);
    const held = moved({ kind: 'notes', settings: { notes, by: 'held' } }, steady(2));
    expect(
      [half(held, 1.5), half(held, 2.5), half(held, 3.2), half(held, 3.8)].map((x) => Number(x.toFixed(2))),
    ).toEqual([1, 0, 1, 0]);
    const settings = { by: 'notes', notes, attack: 0.01, decay: 0.05, sustain: 0.6, release: 0.05 };
    const envelope = moved({ kind: 'trigger', settings }, steady(2));
    expect(
      [half(envelope, 0.9), half(envelope, 1.9), half(envelope, 2.5), half(envelope, 3.45)].map((x) =>
        Number(x.toFixed(1)),
      ),
    ).toEqual([0, 0.6, 0, 0.6]);
  });

  test('random stands between its draws and uses all of its range', () => {
    const found = moved({ kind: 'random', settings: { rate: 10, glide: 0, levels: 3 } }, steady(6));
    const heights = Array.from({ length: 60 }, (_, n) => Math.round((2 * inDecibels(found, n * 4800 + 3000)) / SWING));
    expect(new Set(heights)).toEqual(new Set([0, 1, 2]));
  });

  test('a follower hears one band, each side by itself, or another sound', () => {
    const low = sine(100, 0.5, 1).channels[0];
    const high = sine(5000, 0.5, 1).channels[0];
    const both = clipOf([low.map((x, i) => (i < RATE / 2 ? x : high[i]))]);
    const above = valuesOf({ kind: 'follower', settings: { lowCut: 2000, release: 0.02 } }, both);
    expect(above(0.4)).toBeLessThan(0.1);
    expect(above(0.9)).toBeGreaterThan(0.95);
    const below = valuesOf({ kind: 'follower', settings: { highCut: 400, release: 0.02 } }, both);
    expect(below(0.4)).toBeGreaterThan(0.95);
    expect(below(0.9)).toBeLessThan(0.1);
    const oneSide = clipOf([low, new Float32Array(RATE)]);
    const apart = valuesOf({ kind: 'follower', settings: { apart: true } }, oneSide);
    expect(apart(0.9, 0)).toBeGreaterThan(0.95);
    expect(apart(0.9, 1)).toBe(0);
    const other = { kind: 'follower', settings: { other: { sound: 'led' }, release: 0.02 } };
    const led = clipOf([low.map((x, i) => (i < RATE / 2 ? x : 0))]);
    const following = valuesOf(other, clipOf([new Float32Array(RATE)]), {
      sounds: () => ({ sha256: 'led', clip: led }),
    });
    expect(following(0.4)).toBeGreaterThan(0.95);
    expect(following(0.9)).toBe(0);
  });

  test('steps glide over their share, and count backwards before the beginning', () => {
    const settings = { steps: [1, -1, 0], rate: 4, glide: 1 };
    const glide = valuesOf({ kind: 'sequence', settings }, steady(1));
    expect(glide(0.25)).toBeCloseTo(1, 2);
    expect(glide(0.375)).toBeCloseTo(0, 2);
    expect(glide(0.5 - 0.005)).toBeCloseTo(-1, 1);
    const early: Clip = { ...steady(1), origin: -RATE / 2 };
    const before = valuesOf({ kind: 'sequence', settings: { ...settings, glide: 0 } }, early);
    expect([-0.4, -0.1, 0.1].map((at) => before(at))).toEqual([-1, 0, 1].map((x) => expect.closeTo(x, 6)));
  });

  test('random: a chance of none changes nothing, glide passes smoothly, each side has draws of its own', () => {
    const of = (settings: object) => valuesOf({ kind: 'random', settings: { rate: 10, ...settings } }, steady(2));
    const times = Array.from({ length: 600 }, (_, n) => n / 300);
    const still = of({ chance: 0 });
    expect(new Set(times.map((at) => still(at).toFixed(6))).size).toBe(1);
    const smooth = of({ glide: 1 });
    const steps = times.slice(1).map((at, n) => Math.abs(smooth(at) - smooth(times[n])));
    // A way of 2 at most in a tenth of a second, at its steepest 1.875 times as fast as on average.
    expect(Math.max(...steps)).toBeLessThan((2 * 1.875) / 30 + 1e-3);
    const apart = of({ apart: true, glide: 0 });
    expect(times.filter((at) => apart(at, 0) === apart(at, 1)).length).toBeLessThan(30);
    const together = of({ glide: 0 });
    expect(times.every((at) => together(at, 0) === together(at, 1))).toBe(true);
  });

  test('random: a chance that is moved changes the draws to come, not the one that stands', () => {
    const points = [
      { at: 0, value: 1 },
      { at: 1.05, value: 1 },
      { at: 1.05, value: 0 },
    ];
    const lanes = [{ target: 'lfo.chance', curve: { over: 'seconds', points } }];
    const random = valuesOf({ kind: 'random', settings: { rate: 5, glide: 0 } }, steady(2), { lanes });
    expect(new Set([0.1, 0.3, 0.5, 0.7, 0.9, 1.04].map((at) => random(at))).size).toBe(6);
    expect(new Set([1.04, 1.06, 1.3, 1.9].map((at) => random(at))).size).toBe(1);
  });

  test('a triggered envelope goes off once at the start; set off again, it rises from where it is', () => {
    const once = valuesOf(
      { kind: 'trigger', settings: { by: 'start', attack: 0.1, decay: 0.1, sustain: 0, gate: 0.3, release: 0.1 } },
      steady(2),
    );
    expect([0, 0.1, 1.5].map((at) => once(at))).toEqual([0, 1, 0].map((x) => expect.closeTo(x, 2)));
    const again = valuesOf(
      { kind: 'trigger', settings: { by: 'time', every: 4, attack: 0.05, gate: 0.1, sustain: 1, release: 1 } },
      steady(2),
    );
    const times = Array.from({ length: 1400 }, (_, n) => n / 700);
    // In the long release it is set off anew: nowhere does it fall faster than its release, or jump.
    const falls = times.slice(1).map((at, n) => again(times[n]) - again(at));
    expect(Math.max(...falls)).toBeLessThan(0.01);
    expect(again(0.99)).toBeGreaterThan(0.4);
    expect(again(1.06)).toBeCloseTo(1, 1);
  });

  test('notes glide as long as they are told to; pressure moves, and far notes stay at the end of the scale', () => {
    const notes = [
      { at: 0, length: 1, key: 60, velocity: 1, pressure: 0.25 },
      { at: 1, length: 1, key: 72, velocity: 1, pressure: 0.75 },
      { at: 2, length: 1, key: 120, velocity: 1, pressure: 1 },
    ];
    const pitch = valuesOf({ kind: 'notes', settings: { notes, range: 24, glide: 0.2 } }, steady(2));
    // A beat is half a second: halfway through the glide it is halfway between the notes.
    expect([0.4, 0.6, 0.8, 1.4].map((at) => pitch(at))).toEqual([0, 0.25, 0.5, 1].map((x) => expect.closeTo(x, 2)));
    const pressure = valuesOf({ kind: 'notes', settings: { notes, by: 'pressure' } }, steady(2));
    expect([0.4, 0.9, 1.4].map((at) => pressure(at))).toEqual([-0.5, 0.5, 1].map((x) => expect.closeTo(x, 6)));
  });
});
