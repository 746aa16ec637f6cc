import { expect, test } from 'vitest';
import { showBarsBeats, showFrequency, showLevel, showOtherUnits, showSeconds } from './display.ts';
import { barSeconds, beatSeconds, isSynced, noteInWholes, resolveRate } from './tempo.ts';

const timing = { tempo: 93, meter: [4, 4] } as const;

test.each([
  [0, '0 s'],
  [0.0123456, '12.35 ms'],
  [0.25, '250 ms'],
  [5.16129, '5.161 s'],
  [61.239, '61.24 s'],
])('%d seconds are shown as %s', (seconds, text) => expect(showSeconds(seconds)).toBe(text));

test.each([
  [0.333333, '0.33 Hz'],
  [420, '420 Hz'],
  [1234.5, '1.23 kHz'],
])('%d hertz are shown as %s', (hertz, text) => expect(showFrequency(hertz)).toBe(text));

test('levels have a true minus sign; silence is called so', () => {
  expect(showLevel(-6.02)).toBe('\u22126.0 dB');
  expect(showLevel(3)).toBe('3.0 dB');
  expect(showLevel(-Infinity)).toBe('silent');
});

test.each([
  [{ beats: 8 }, '5.161 s · 2 bars'],
  [{ bars: 2 }, '5.161 s · 8 beats'],
  [{ note: '1/4' }, '645.2 ms · 1 beat'],
  [0.5, '0.78 beats'],
  [{ samples: 4800 }, '100 ms · 0.16 beats'],
])('%j is also %s', (value, text) => expect(showOtherUnits(value, timing, 48000)).toBe(text));

test('bars and beats count from 1.1 and have no bar 0', () => {
  const beat = beatSeconds(timing);
  expect([0, 1, 4, 5.5, -1, -4, -5].map((beats) => showBarsBeats(beats * beat, timing))).toEqual([
    '1.1',
    '1.2',
    '2.1',
    '2.2',
    '\u22121.4',
    '\u22121.1',
    '\u22122.4',
  ]);
  expect(showBarsBeats(barSeconds({ tempo: 100, meter: [3, 4] }), { tempo: 100, meter: [3, 4] })).toBe('2.1');
});

test('note values, rates and what follows the tempo', () => {
  expect(['1/4', '1/8d', '1/8t', '3/16'].map(noteInWholes)).toEqual([0.25, 0.1875, 1 / 12, 0.1875]);
  expect(resolveRate({ note: '1/4' }, timing)).toBeCloseTo(93 / 60, 9);
  expect(resolveRate(5, timing)).toBe(5);
  expect([{ beats: 1 }, { note: '1/4' }, { bars: 1 }, { samples: 1 }, 3, 'low'].map(isSynced)).toEqual([
    true,
    true,
    true,
    false,
    false,
    false,
  ]);
});
