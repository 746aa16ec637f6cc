import { expect, test } from 'vitest';
import { tappedTempo } from './tapTempo.ts';
import { tempoTable } from './tempoTable.ts';

test('taps give their tempo, one late tap changes little, a pause begins anew', () => {
  const at = (tempo: number, count: number, from = 0) =>
    Array.from({ length: count }, (_, n) => from + (n * 60_000) / tempo);
  expect(tappedTempo([])).toBeUndefined();
  expect(tappedTempo([100])).toBeUndefined();
  expect(tappedTempo(at(93, 6))).toBe(93);
  const late = at(120, 9);
  late[4] += 40;
  expect(Math.abs((tappedTempo(late) ?? 0) - 120)).toBeLessThan(0.5);
  expect(tappedTempo([...at(60, 4), ...at(150, 5, 10_000)])).toBe(150);
  expect(tappedTempo([0, 10])).toBe(400);
});

test('a tempo table says milliseconds, hertz, samples and beats of every note value', () => {
  const table = tempoTable({ tempo: 120, meter: [6, 8] }, 44100);
  const row = (note: string) => table.find((one) => one.note === note);
  expect(row('1/4')).toEqual({ note: '1/4', milliseconds: 500, hertz: 2, samples: 22050, beats: 2 });
  expect(row('1/8d')?.milliseconds).toBeCloseTo(375, 9);
  expect(row('1/8t')?.milliseconds).toBeCloseTo(500 / 3, 9);
  expect(row('1 bar')).toEqual({ note: '1 bar', milliseconds: 1500, hertz: 2 / 3, samples: 66150, beats: 6 });
  expect(table).toHaveLength(25);
});
