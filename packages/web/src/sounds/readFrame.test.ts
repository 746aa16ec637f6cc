import { InputError } from '@hexenkessel/core/model';
import { expect, test } from 'vitest';
import { readFrame } from './readFrame.ts';

test.each([
  ['480', 44_100, null, 480],
  ['480 samples', 44_100, null, 480],
  ['0.5 s', 44_100, null, 22_050],
  ['1,5 s', 96_000, null, 144_000],
  ['250 ms', 48_000, null, 12_000],
  ['2 beats', 48_000, 93, 61_935],
  ['1 bar', 44_100, 120, 88_200],
])('%s at %d Hz, %s bpm', (text, rate, tempo, frame) => {
  expect(readFrame(text, rate, tempo, 0, 1_000_000)).toBe(frame);
});

test('a length in beats needs a tempo; a place outside and half a sample are refused', () => {
  expect(() => readFrame('2 beats', 48_000, null, 0, 100_000)).toThrow('The tempo of the sound is not known');
  for (const text of ['1.5', '200000', '-1', 'soon'])
    expect(() => readFrame(text, 48_000, 93, 0, 100_000)).toThrow(InputError);
});
