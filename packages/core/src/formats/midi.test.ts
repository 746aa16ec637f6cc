import { describe, expect, test } from 'vitest';
import fc from 'fast-check';
import { InputError } from '../model/errors.ts';
import { LIMITS } from '../model/limits.ts';
import { readTempoMap } from './midi.ts';
import { readMidiLanes } from './midiLanes.ts';
import { readMidiNotes } from './midiNotes.ts';

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
/** A file whose one track is made of these bytes. */
function rawTrack(bytes: readonly number[]): Uint8Array {
  const file = midi([]);
  const whole = Uint8Array.from([...file.subarray(0, 22), ...bytes]);
  new DataView(whole.buffer).setUint32(18, bytes.length);
  return whole;
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
  expect(() => readTempoMap(midi([], 0xe728))).toThrow('SMPTE time division');
});

describe('a file that is broken on purpose ends in words, and does not hang', () => {
  const ff = (count: number) => Array.from({ length: count }, () => 0xff);

  test.each([
    // 99 bytes in all: a text whose length is a run of ff leads a reader back to where it was.
    ['a length of many bytes', [0, 0xff, 0x01, ...ff(70), 0x7f], /byte \d+: a number has more than 4 bytes/],
    ['a length past the track', [0, 0xff, 0x01, 0xff, 0xff, 0xff, 0x7f], /claims 268435455 bytes, 0 are left/],
    ['a delta of many bytes', [0x81, 0x80, 0x80, 0x80, 0x80, 0, 0xff, 0x2f, 0], /more than 4 bytes/],
    ['a number that does not end', [0x81, 0x80], /ends within a number/],
    ['a delta without an event', [0], /ends within an event/],
    ['a system message past the track', [0, 0xf0, 0x20, 1, 2], /claims 32 bytes, 2 are left/],
    ['a running status that none has set', [0, 0x40, 0x40], /a status that none has set/],
    ['a note cut short', [0, 0x90, 60], /claims 2 bytes, 1 are left/],
    ['a byte that is no event', [0, 0xf4, 1], /244 is no event/],
  ] as const)('%s', (_, track, words) => {
    for (const read of [readTempoMap, readMidiNotes, readMidiLanes]) {
      expect(() => read(rawTrack(track))).toThrow(InputError);
      expect(() => read(rawTrack(track))).toThrow(words);
    }
  });

  test('seeded changes of a good file are read or refused', () => {
    const good = midi([
      [0, tempo(97)],
      [0, meter(7, 3)],
      [10, [0x90, 60, 100]],
      [200, [61, 0]],
      [0, [0xb3, 74, 10]],
      [300, [0x80, 60, 0]],
      [0, [0xe1, 0, 64]],
      [0, [0xf0, 3, 1, 2, 0xf7]],
      [5, [0xff, 0x01, 3, 65, 66, 67]],
    ]);
    const refused = (read: (bytes: Uint8Array) => unknown, bytes: Uint8Array): boolean => {
      try {
        read(bytes);
        return false;
      } catch (error) {
        expect(error).toBeInstanceOf(InputError);
        return true;
      }
    };
    let [fine, bad] = [0, 0];
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(good.length - 1), fc.constantFrom(0, 1, 0x7f, 0x80, 0xf0, 0xff)), { maxLength: 3 }),
        fc.nat(6),
        (changes, cut) => {
          const bytes = good.slice(0, good.length - (cut === 6 ? 5 : 0));
          for (const [at, value] of changes) if (at < bytes.length) bytes[at] = value;
          for (const read of [readTempoMap, readMidiNotes, readMidiLanes]) {
            if (refused(read, bytes)) bad++;
            else fine++;
          }
        },
      ),
      { numRuns: 2000 },
    );
    expect(Math.min(fine, bad)).toBeGreaterThan(300);
  });

  test('more events or bytes than are allowed are refused', () => {
    const many = Array.from({ length: LIMITS.midiEvents + 1 }, () => [1, 60, 1]).flat();
    expect(() => readMidiNotes(rawTrack([0, 0x90, 60, 1, ...many]))).toThrow(`more than ${LIMITS.midiEvents} events`);
    expect(() => readTempoMap(new Uint8Array(LIMITS.midiBytes + 1))).toThrow('at most 8388608 (8 MiB)');
  });

  test('notes that overlap on several channels end by themselves, and pressure is that of their channel', () => {
    const notes = readMidiNotes(
      midi([
        [0, [0x90, 60, 127]],
        [0, [0x91, 60, 64]],
        [240, [0xd0, 127]],
        [240, [0x80, 60, 0]],
        [480, [0x81, 60, 0]],
      ]),
    );
    expect(notes.map(({ at, length, pressure }) => [at, length, pressure])).toEqual([
      [0, 1, 1],
      [0, 2, 0],
    ]);
  });
});
