import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { InputError } from '../model/errors.ts';
import {
  frequencyToKey,
  keyToFrequency,
  parseDegrees,
  parseFrequency,
  parseInterval,
  parseKey,
  parseLevel,
  parseNumber,
  parseRate,
  parseRatio,
  parseTime,
  printDegrees,
  printFrequency,
  printInterval,
  printKey,
  printLevel,
  printRate,
  printRatio,
  printTime,
} from './expressions.ts';
import { resolveTime, type TimeValue } from './tempo.ts';

const at93 = { tempo: 93, meter: [4, 4] } as const;
const amount = fc.double({ min: 1e-9, max: 1e6, noNaN: true });
const signed = fc.double({ min: -1e4, max: 1e4, noNaN: true }).map((x) => x + 0); // no negative zero
const note = fc
  .tuple(fc.integer({ min: 1, max: 64 }), fc.integer({ min: 1, max: 128 }), fc.constantFrom('', 'd', 't'))
  .map(([a, b, c]) => ({ note: `${a}/${b}${c}` }));
const musical = fc.oneof(note, fc.record({ beats: amount }), fc.record({ bars: amount }));

describe('printing and parsing are each other’s inverse, bit for bit', () => {
  const roundTrips = <V>(values: fc.Arbitrary<V>, print: (value: V) => string, parse: (text: string) => V) =>
    fc.assert(
      fc.property(values, (value) => {
        expect(parse(print(value))).toEqual(value);
      }),
      { numRuns: 500 },
    );

  test('times', () =>
    roundTrips<TimeValue>(fc.oneof(amount, musical, fc.record({ samples: fc.nat() })), printTime, parseTime));
  test('rates', () => roundTrips(fc.oneof(amount, musical), printRate, parseRate));
  test('frequencies', () => roundTrips(amount, printFrequency, parseFrequency));
  test('levels', () => roundTrips(signed, printLevel, parseLevel));
  test('ratios', () => roundTrips(fc.double({ min: 0, max: 2, noNaN: true }), printRatio, parseRatio));
  test('intervals', () => roundTrips(signed, printInterval, parseInterval));
  test('degrees', () => roundTrips(signed, printDegrees, parseDegrees));
  test('keys', () =>
    roundTrips(
      fc.integer({ min: 0, max: 127 * 100 }).map((cents) => cents / 100),
      printKey,
      (text) => Number(parseKey(text).toFixed(9)),
    ));
});

describe('what a designer types', () => {
  test.each([
    ['4 beats', 2.580645],
    ['4beats', 2.580645],
    ['1/4', 0.645161],
    ['1/4d', 0.967742],
    ['1/8t', 0.215054],
    ['2 bars', 5.16129],
    ['250 ms', 0.25],
    ['.5 s', 0.5],
    ['480 samples', 0.01],
    ['5', 5],
  ])('%s at 93 bpm is %d s', (text, seconds) => {
    expect(resolveTime(parseTime(text), at93, 48000)).toBeCloseTo(seconds, 6);
  });

  test('the short form is printed where it means the same', () => {
    expect([1.15, 0.55, 0.07].map(printRatio)).toEqual(['115 %', '55 %', '7 %']);
    expect([0.0321, 0.035].map(printTime)).toEqual(['0.0321 s', '35 ms']);
    expect([1234, 1200, 440].map(printFrequency)).toEqual(['1.234 kHz', '1.2 kHz', '440 Hz']);
  });

  test('a beat of 6/8 is an eighth', () => {
    expect(resolveTime({ beats: 6 }, { tempo: 120, meter: [6, 8] }, 48000)).toBe(1.5);
    expect(resolveTime({ bars: 1 }, { tempo: 120, meter: [6, 8] }, 48000)).toBe(1.5);
  });

  test('levels, shares, frequencies, intervals and notes', () => {
    expect(parseLevel('\u22126 dB')).toBe(-6);
    expect(parseRatio('50 %')).toBe(0.5);
    expect(parseRatio('0.5 x')).toBe(0.5);
    expect(parseFrequency('1.2 kHz')).toBe(1200);
    expect(parseFrequency('A4')).toBeCloseTo(440, 9);
    expect(parseInterval('+7 st')).toBe(7);
    expect(parseInterval('-7 st 50 ct')).toBe(-7.5);
    expect(parseInterval('-30 ct')).toBe(-0.3);
    expect(parseKey('Eb2')).toBe(39);
    expect(printKey(61)).toBe('C#4');
    expect(frequencyToKey(keyToFrequency(57.25))).toBeCloseTo(57.25, 9);
  });

  test.each([
    [parseTime, 'soon', 'write 1/8d'],
    [parseTime, '4 dB', '250 ms'],
    [parseTime, '1/0', '8 beats'],
    [parseTime, 'Infinity', '5 s'],
    [parseLevel, '6 Hz', 'decibels'],
    [parseFrequency, 'H9', '1.2 kHz'],
    [parseRatio, 'half', '50 %'],
    [parseRate, '5 s', '5 Hz'],
    [parseKey, 'C', 'C3'],
    [parseInterval, 'up', '+7 st'],
  ])('%o refuses "%s" and says what is allowed', (parse, text, hint) => {
    expect(() => (parse as (text: string) => unknown)(text)).toThrow(InputError);
    expect(() => (parse as (text: string) => unknown)(text)).toThrow(hint);
  });

  test.each([
    parseTime,
    parseRate,
    parseFrequency,
    parseLevel,
    parseRatio,
    parseInterval,
    parseDegrees,
    parseKey,
    parseNumber,
  ])('%o refuses what is longer than any value, and does not repeat it', (parse) => {
    for (const long of ['1'.repeat(10_000), `1${' '.repeat(9998)}!`, 'st '.repeat(3333), 'c'.repeat(10_000)])
      try {
        (parse as (text: string) => unknown)(long);
        expect.unreachable();
      } catch (error) {
        expect(error).toBeInstanceOf(InputError);
        expect((error as InputError).message).toMatch(/a value has at most 200/);
        expect((error as InputError).message.length).toBeLessThan(200);
      }
  });
});
