import { describe, expect, test } from 'vitest';
import { readTempoMap } from './midi.ts';

/** A MIDI file of one track, put together by hand; events are [ticks from the last, bytes of the event]. */
function midi(events: readonly (readonly [number, readonly number[]])[], division = 480): Uint8Array {
  const length = (ticks: number): number[] =>
    ticks < 128 ? [ticks] : [...length(ticks >> 7).map((byte) => byte | 0x80), ticks & 0x7f];
  const track = [...events, [0, [0xff, 0x2f, 0]] as const].flatMap(([ticks, bytes]) => [...length(ticks), ...bytes]);
  const word = (value: number) => [value >> 24, value >> 16, value >> 8, value].map((byte) => byte & 0xff);
  const ascii = (text: string) => [...text].map((letter) => letter.charCodeAt(0));
  return Uint8Array.from([
    ...ascii('MThd'),
    ...word(6),
    0,
    0,
    0,
    1,
    division >> 8,
    division & 0xff,
    ...ascii('MTrk'),
    ...word(track.length),
    ...track,
  ]);
}
const tempo = (bpm: number) => {
  const micro = Math.round(60_000_000 / bpm);
  return [0xff, 0x51, 3, micro >> 16, (micro >> 8) & 0xff, micro & 0xff];
};
const meter = (beats: number, power: number) => [0xff, 0x58, 4, beats, power, 24, 8];

describe('a tempo map', () => {
  // Two bars of 4/4 at 120, then 3/4 at 90 from quarter 8, then 60 from quarter 14.
  const map = readTempoMap(
    midi([
      [0, tempo(120)],
      [0, meter(4, 2)],
      [8 * 480, tempo(90)],
      [0, meter(3, 2)],
      [6 * 480, tempo(60)],
    ]),
  );

  test('says when each quarter and each bar comes', () => {
    expect([0, 4, 8, 11, 14, 15].map((quarter) => Number(map.secondsAt(quarter).toFixed(4)))).toEqual([
      0, 2, 4, 6, 8, 9,
    ]);
    expect([0, 1, 2, 3, 4, 5].map((bar) => Number(map.secondsAtBar(bar).toFixed(4)))).toEqual([0, 2, 4, 6, 8, 11]);
    expect(map.secondsAtBar(0.5)).toBeCloseTo(1, 6);
  });

  test('and leads back from seconds', () => {
    for (const quarter of [0, 3.3, 8, 10.5, 20]) expect(map.quarterAt(map.secondsAt(quarter))).toBeCloseTo(quarter, 9);
    expect(map.at(5)).toMatchObject({ meter: [3, 4] });
    expect(map.at(5).tempo).toBeCloseTo(90, 3);
    expect(map.at(100).tempo).toBeCloseTo(60, 3);
  });

  test('a file that says nothing is 120 in 4/4', () => {
    expect(readTempoMap(midi([])).changes).toEqual([{ quarter: 0, tempo: 120, meter: [4, 4] }]);
  });
});

test('what cannot be read is refused in words', () => {
  expect(() => readTempoMap(new TextEncoder().encode('not at all'))).toThrow('does not begin with MThd');
  expect(() => readTempoMap(midi([[0, tempo(120)]]).slice(0, 24))).toThrow(/broken or cut short/);
  expect(() => readTempoMap(midi([[0, tempo(10)]]))).toThrow('tempo of 10 at quarter 0; allowed is 20 to 400');
  expect(() => readTempoMap(midi([[0, meter(40, 2)]]))).toThrow('meter of 40/4');
  expect(() => readTempoMap(midi([], 0xe728))).toThrow('frames of film');
});
