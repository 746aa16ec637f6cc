import { expect, test } from 'vitest';
import { placeText } from './placement.ts';

test.each([
  ['source', 48000 * 5400.25, '01:30:00.250'],
  ['source', null, '01:00:00.000 (assumed)'],
  ['signal', null, '01:00:00.000 (assumed)'],
  ['render', 0, '00:00:00.000'],
  // A render without a place is one that begins earlier than a file can say.
  ['render', null, 'begins before midnight'],
] as const)('a %s at %s lies at %s', (kind, timeReference, text) => {
  expect(placeText({ kind, timeReference, sampleRate: 48000 })).toBe(text);
});
