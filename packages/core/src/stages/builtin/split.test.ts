import { describe, expect, test } from 'vitest';
import { chainOf, renderOf } from '../../testing/chains.ts';
import { clipOf, impulse, noise } from '../../testing/signals.ts';
import { decibels, responseAt } from '../../testing/spectrum.ts';

const split = (mode: string, branches: object[] = [], settings: object = {}) =>
  chainOf([{ kind: 'split', settings: { mode, ...settings }, branches }]);
const named = (...parts: object[]) => parts.map((part, n) => ({ id: `b${n}`, ...part }));

describe.each([
  ['2 bands', [900]],
  ['3 bands', [200, 4000]],
  ['4 bands', [120, 1000, 9000]],
])('%s', (mode, edges) => {
  const [low, middle, high] = edges;
  const settings = { ...(low ? { low } : {}), ...(middle ? { middle } : {}), ...(high ? { high } : {}) };

  test('the bands add up flat within 0.1 dB', () => {
    const [response] = renderOf(split(mode, [], settings), impulse(0, 16384)).channels;
    for (const frequency of [25, 60, 120, 200, 450, 900, 1000, 2000, 4000, 9000, 15_000, 20_000])
      expect(Math.abs(decibels(responseAt(response, frequency, 48000))), `${frequency} Hz`).toBeLessThan(0.1);
  });

  test('each band lets its own part pass, 6 dB down at its edges, 24 dB an octave beyond', () => {
    edges.forEach((edge, n) => {
      const alone = named(...Array.from({ length: edges.length + 1 }, (_, b) => ({ muted: b !== n })));
      const [response] = renderOf(split(mode, alone, settings), impulse(0, 16384)).channels;
      expect(decibels(responseAt(response, edge, 48000))).toBeCloseTo(-6, 0);
      const octave = decibels(responseAt(response, 2 * edge, 48000)) - decibels(responseAt(response, 4 * edge, 48000));
      if (4 * edge < 16_000) expect(octave).toBeGreaterThan(22);
    });
  });
});

test('left/right and mid/side come back as they went in, and each branch gets its side', () => {
  const source = noise(2000, 48000, 2);
  const [left, right] = source.channels;
  for (const mode of ['left/right', 'mid/side']) {
    const { channels } = renderOf(split(mode), source);
    channels.forEach((side, c) => side.forEach((x, i) => expect(x).toBeCloseTo(source.channels[c][i], 6)));
  }
  const onlyLeft = renderOf(split('left/right', named({}, { muted: true })), source).channels;
  expect([...onlyLeft[0]]).toEqual([...left]);
  expect(onlyLeft[1].every((x) => x === 0)).toBe(true);
  const onlySides = renderOf(split('mid/side', named({ muted: true }, {})), source).channels;
  onlySides[0].forEach((x, i) => expect(x).toBeCloseTo(0.5 * (left[i] - right[i]), 6));
  onlySides[1].forEach((x, i) => expect(x).toBeCloseTo(-0.5 * (left[i] - right[i]), 6));
});

test('copies add up; level, place, polarity and mute do what they say', () => {
  const source = clipOf([new Float32Array(1000).fill(0.25), new Float32Array(1000).fill(0.25)]);
  const last = (...parts: object[]) =>
    renderOf(split('copies', named(...parts)), source).channels.map((side) => side[999]);
  expect(last({}, {})).toEqual([0.5, 0.5]);
  expect(last({}, { inverted: true })).toEqual([0, 0]);
  expect(last({}, { muted: true })).toEqual([0.25, 0.25]);
  expect(last({ pan: -1 })).toEqual([0.25, 0]);
  expect(last({ level: -20 })[0]).toBeCloseTo(0.025, 6);
});

test('a stage inside is heard in its branch alone', () => {
  const source = impulse(0, 4096, 48000, 2);
  const chain = split(
    'left/right',
    named(
      { stages: [{ id: 'up', kind: 'gain', settings: { gain: 6 } }] },
      { stages: [{ id: 'off', kind: 'gain', on: false, settings: { gain: 20 } }] },
    ),
  );
  const { channels } = renderOf(chain, source);
  expect(channels[0][0]).toBeCloseTo(10 ** (6 / 20), 5);
  expect(channels[1][0]).toBe(1);
});
