/** Which samples a file of whole numbers keeps as they are, and which it dithers. */
import { BUILT_INS } from '../catalogue/builtIns.ts';
import { describe, expect, test } from 'vitest';
import { chainOf } from '../testing/chains.ts';
import { noise } from '../testing/signals.ts';
import type { Clip } from '../model/clip.ts';
import { finishRender, renderChain } from '../engine/offline/renderer.ts';
import { renderRegion } from '../engine/offline/region.ts';
import { decodeClip, decodeSound, flacBytes } from './codecs.ts';
import { piecesOf } from './decoding/clipReader.ts';
import { DitherScan, Quantiser, ditheredSpans } from './common/quantise.ts';
import { bytesInMemory } from './common/byteSource.ts';
import { encodeWav } from './wav/writer.ts';

const STEPS = { '16': 32768, '24': 8388608 } as const;

/** Noise of whole steps, as a file of so many bits gives it. */
function recorded(depth: '16' | '24', frames = 20_000): Clip {
  const clip = noise(frames, 44100, 2);
  return {
    ...clip,
    channels: clip.channels.map((side) => side.map((x) => Math.round(0.9 * x * STEPS[depth]) / STEPS[depth])),
  };
}

const through = async (clip: Clip, depth: '16' | '24', kind: 'wav' | 'flac') => {
  const { sampleRate, channels } = clip;
  const pieces: Uint8Array[] = [];
  if (kind === 'wav') pieces.push(...encodeWav(clip, { depth }));
  else {
    const dithered = ditheredSpans(clip, depth);
    const format = { sampleRate, channels: channels.length, depth, dithered, frames: channels[0].length };
    pieces.push(await flacBytes(piecesOf(clip), format));
  }
  return decodeClip(await decodeSound(bytesInMemory(Buffer.concat(pieces))));
};

/** Frames at which two sounds differ, as [first, last], or undefined. */
function difference(a: Clip, b: Clip): [number, number] | undefined {
  const frames = Array.from(a.channels[0].keys()).filter((i) =>
    a.channels.some((side, c) => side[i] !== b.channels[c][i]),
  );
  return frames.length === 0 ? undefined : [frames[0], frames.at(-1)!];
}

describe.each(['wav', 'flac'] as const)('%s', (kind) => {
  test('a chain without stages gives the very samples, at their own bits and at more', async () => {
    const chain = chainOf([]);
    const source = recorded('16');
    const out = finishRender(renderChain(BUILT_INS, { chain, source }));
    for (const depth of ['16', '24'] as const)
      expect(difference(await through(out, depth, kind), source)).toBeUndefined();
  });

  test.each(['overlap', 'cut'] as const)('a splice with the tail on %s changes its region alone', async (tail) => {
    const source = recorded('16');
    const chain = chainOf([{ kind: 'gain', settings: { gain: -3.1 } }], {
      render: { tail: { mode: 'fixed', length: 0.05 } },
    });
    const region = { start: 5000, end: 9000 };
    const out = finishRender(
      renderRegion(BUILT_INS, { chain, source, region, beyond: 'auto', splice: { fade: 200, tail } }),
    );
    const end = tail === 'cut' ? 9000 : 9000 + 2205;
    expect(ditheredSpans(out, '16')).toEqual([{ start: 5000, end }]);
    const [first, last] = difference(await through(out, '16', kind), source)!;
    expect(first).toBeGreaterThanOrEqual(5000);
    expect(last).toBeLessThan(end);
  });
});

test('what needs more bits than there are is dithered throughout, and worked-on sound too', () => {
  const all = [{ start: 0, end: 20_000 }];
  expect(ditheredSpans(recorded('24'), '16')).toEqual(all);
  expect(ditheredSpans(noise(20_000, 48000, 2), '24')).toEqual(all);
  // A few samples that are whole by chance are dithered with the rest.
  const clip = noise(20_000, 48000, 1);
  clip.channels[0].fill(0, 0, 9000);
  expect(ditheredSpans(clip, '24')).toEqual(all);
});

test('worked-on sound that stays on whole steps is not dithered', () => {
  const chain = chainOf([{ kind: 'reverse' }, { kind: 'swap' }]);
  expect(ditheredSpans(finishRender(renderChain(BUILT_INS, { chain, source: recorded('16') })), '16')).toEqual([]);
});

test('a scan and the rounding do not depend on how the sound is cut', () => {
  const clip = noise(10_000, 48000, 2);
  const touched = { start: 2500, end: 7777 };
  const dithered = [touched];
  const cut = (size: number) => {
    const scan = new DitherScan('16', touched);
    const quantiser = new Quantiser('16', dithered);
    const steps: number[] = [];
    for (let from = 0; from < 10_000; from += size) {
      const piece = clip.channels.map((side) => side.subarray(from, from + size));
      scan.add(piece);
      steps.push(...quantiser.steps(piece));
    }
    return { spans: scan.finish(), steps };
  };
  expect(cut(10_000).spans).toEqual([{ start: 0, end: 10_000 }]);
  for (const size of [1, 333, 4096]) expect(cut(size)).toEqual(cut(10_000));
});
