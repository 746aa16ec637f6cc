import { expect, test } from 'vitest';
import { readTempo } from './readTempo.ts';

test('a tempo is read with its unit or without; what is out of range is refused with what is allowed', () => {
  expect([readTempo('93'), readTempo('93 bpm'), readTempo(' 120.5BPM')]).toEqual([93, 93, 120.5]);
  expect(() => readTempo('5')).toThrow(/5 bpm is out of range; allowed is \d+ to \d+\./);
  expect(() => readTempo('fast')).toThrow('fast');
});
