import { BUILT_INS } from '../catalogue/builtIns.ts';
import { describe, expect, test } from 'vitest';
import { emptyChain } from '../chain/validate.ts';
import { newStage } from '../chain/edit.ts';
import { pictureOf } from './pictureOf.ts';
import type { CurvePicture, RepeatsPicture, RoomPicture } from '../model/picture.ts';

const TIMING = { tempo: 120, meter: [4, 4] } as const;
const chain = emptyChain(BUILT_INS, 'x');
const drawn = (kind: string, settings: object = {}) => {
  const stage = newStage(BUILT_INS, chain, { kind });
  return pictureOf(BUILT_INS, { ...stage, settings: { ...stage.settings, ...settings } }, TIMING);
};
const curveOf = (kind: string, settings: object = {}) => {
  const picture = drawn(kind, settings) as CurvePicture;
  return (x: number, curve = 0) => {
    const { points } = picture.curves[curve];
    let best = 0;
    for (let n = 0; n < points.length; n += 2) if (Math.abs(points[n] - x) < Math.abs(points[best] - x)) best = n;
    return points[best + 1];
  };
};

test.each(BUILT_INS.stages.filter((stage) => stage.runs === 'live' && stage.picture).map(({ kind }) => kind))(
  '%s: numbers only, within reason',
  (kind) => {
    const picture = drawn(kind)!;
    expect(picture.title).not.toBe('');
    const numbers = JSON.stringify(picture).match(/null/g);
    if (picture.type === 'curves') {
      expect(picture.curves.every(({ points }) => points.length >= 4 && points.every(Number.isFinite))).toBe(true);
      expect(numbers).toBeNull();
    }
  },
);

describe('curves', () => {
  test('the equaliser shows its bands and hands them out to be dragged', () => {
    const at = curveOf('equaliser', { type4: 'bell', frequency4: 1000, gain4: 9, q4: 1 });
    expect(at(1000)).toBeCloseTo(9, 0);
    expect(at(15000)).toBeCloseTo(0, 0);
    const { handles } = drawn('equaliser', { gain4: 9 }) as CurvePicture;
    expect(handles.map(({ yParam }) => yParam)).toContain('gain4');
    expect(handles.find(({ xParam }) => xParam === 'frequency1')?.yParam).toBeUndefined();
  });

  test('the filter falls beyond its cutoff', () => {
    const at = curveOf('filter', { cutoff: 500, slope: '24 dB/oct' });
    expect(at(500)).toBeCloseTo(-3, 0);
    expect(at(2000)).toBeLessThan(-40);
  });

  test('the notches of the flanger move', () => {
    const at = curveOf('flanger', { minDelay: 0.001, depth: 0.002, shape: 'triangle', phase: 0 });
    const curve = (n: number) => [300, 500, 700, 900].map((f) => at(f, n).toFixed(1)).join();
    expect(new Set([0, 1, 2, 3].map(curve)).size).toBe(4);
  });

  test.each(['flanger', 'phaser'])('%s: drawn at a moment it is where its movement is then', (kind) => {
    for (const rate of [0.13, 2.7]) {
      const stage = newStage(BUILT_INS, chain, { kind });
      const set = { ...stage, settings: { ...stage.settings, rate } };
      const pointsAt = (seconds?: number) =>
        (pictureOf(BUILT_INS, set, TIMING, seconds) as CurvePicture).curves.map(({ points }) => points);
      const course = pointsAt();
      const furthest = (one: readonly number[], other: readonly number[]) =>
        Math.max(...one.map((value, n) => Math.abs(value - other[n])));
      expect(furthest(pointsAt(0)[0], course[0])).toBeLessThan(0.1);
      expect(furthest(pointsAt(0.25 / rate)[0], course[2])).toBeLessThan(0.1);
      expect(furthest(pointsAt(3.25 / rate)[0], course[2])).toBeLessThan(0.1);
      expect(furthest(pointsAt(0.25 / rate)[0], course[0])).toBeGreaterThan(3);
    }
  });

  test('a delay in mid and side shows its repeats as those, not as left and right', () => {
    const settings = { layout: 'middle/sides', time: 0.3, secondTime: 0.4, feedback: 0.5 };
    const { sides, repeats } = drawn('echo', settings) as RepeatsPicture;
    expect(sides).toEqual(['mid', 'side']);
    expect(repeats.slice(0, 2).map(({ at, pan }) => [at, pan])).toEqual([
      [0.3, -1],
      [0.4, 1],
    ]);
    expect((drawn('echo', { ...settings, layout: 'left/right' }) as RepeatsPicture).sides).toEqual(['left', 'right']);
  });

  test('the hard shape of drive is flat above its threshold', () => {
    const at = curveOf('drive', { shape: 'hard', threshold: -6, amount: 12, matched: false });
    expect(at(0.9)).toBeCloseTo(0.5, 1);
    expect(at(0.6)).toBeCloseTo(0.5, 1);
    expect(at(0.05)).toBeCloseTo(0.2, 1);
  });

  test('the compressor bends at its threshold', () => {
    const at = curveOf('compressor', { threshold: -24, ratio: 4, knee: 0, makeUp: 0 });
    expect(at(-48)).toBeCloseTo(-48, 5);
    expect(at(0)).toBeCloseTo(-18, 5);
  });

  test('the tape stands at the end of its stop', () => {
    const at = curveOf('tapeStop', { time: { beats: 2 }, curve: 0, after: 'it stays silent' });
    expect(at(0)).toBe(1);
    expect(at(0.5)).toBeCloseTo(0.5, 2);
    expect(at(1)).toBe(0);
  });

  test('the hall falls by 60 dB in its decay', () => {
    const at = curveOf('hall', { decay: 2, highDecay: 1, preDelay: 0 });
    expect(at(1)).toBeGreaterThan(-40);
    expect(at(1)).toBeLessThan(-20);
  });
});

test('the echo lays its repeats over the beat, level by feedback, pitch by what stands in its loop', () => {
  const stage = newStage(BUILT_INS, chain, { kind: 'echo' });
  const deep = {
    ...newStage(BUILT_INS, chain, { kind: 'transpose' }),
    id: 'deep',
    settings: { ...newStage(BUILT_INS, chain, { kind: 'transpose' }).settings, interval: -12 },
  };
  const settings = { ...stage.settings, layout: 'single', time: { beats: 1 }, feedback: 0.5 };
  const picture = pictureOf(
    BUILT_INS,
    { ...stage, settings, branches: [{ ...stage.branches![0], stages: [deep] }] },
    TIMING,
  ) as RepeatsPicture;
  expect(picture.beat).toBe(0.5);
  picture.repeats.slice(0, 4).forEach(({ at, level, pitch, pan }, n) => {
    expect(at).toBeCloseTo(0.5 * (n + 1));
    expect(level).toBeCloseTo(0.5 ** n);
    expect(pitch).toBe(-12 * (n + 1));
    expect(pan).toBe(0);
  });
});

test('the room says how it dies by its surfaces', () => {
  const hard = drawn('room', { walls: 'tiles', floor: 'tiles', ceiling: 'tiles' }) as RoomPicture;
  const soft = drawn('room', { walls: 'curtains', floor: 'carpet', ceiling: 'curtains' }) as RoomPicture;
  expect(hard.decay).toBeGreaterThan(5 * soft.decay);
});
