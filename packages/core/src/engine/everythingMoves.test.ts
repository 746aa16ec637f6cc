import { BUILT_INS } from '../catalogue/builtIns.ts';
import { describe, expect, test } from 'vitest';
import type { ChainDocument } from '../chain/schema.ts';
import { chainOf, renderOf } from '../testing/chains.ts';
import { LiveRun } from '../testing/live.ts';
import { noise } from '../testing/signals.ts';
import { ClipCache } from './offline/cache.ts';
import { frameCount, type Clip } from '../model/clip.ts';
import { finishRender, renderChain } from './offline/renderer.ts';
import { StreamedRender } from './offline/streamedRender.ts';

const RATE = 48000;

/** A render in pieces, put together. */
async function streamed(chain: ChainDocument, source: Clip): Promise<Float32Array[]> {
  const { sampleRate, channels } = source;
  const render = new StreamedRender(BUILT_INS, chain, {
    sampleRate,
    channels: channels.length,
    frames: frameCount(source),
    read: (from, count) => Promise.resolve(channels.map((samples) => samples.slice(from, from + count))),
  });
  const sides: number[][] = channels.map(() => []);
  for await (const piece of render.pieces()) piece.forEach((samples, c) => sides[c].push(...samples));
  return sides.map((side) => Float32Array.from(side));
}

/** A chain in which nearly everything moves. */
function everythingMoves(): ChainDocument {
  return chainOf(
    [
      { kind: 'filter', settings: { cutoff: 800 } },
      { kind: 'transpose', settings: { interval: 3 }, mix: 0.4 },
      { kind: 'echo', settings: { time: { note: '1/8' }, feedback: 0.4 } },
      {
        kind: 'split',
        branches: [
          { id: 'a', stages: [{ id: 'inner', kind: 'tremolo' }] },
          { id: 'b', stages: [{ id: 'dirt', kind: 'drive' }] },
        ],
      },
    ],
    {
      modulators: [
        { id: 'lfo', kind: 'lfo', settings: { rate: { note: '1/8' }, spread: 90 } },
        { id: 'fast', kind: 'lfo', settings: { rate: 17, wave: 'square' } },
        { id: 'env', kind: 'follower', settings: {} },
        { id: 'hits', kind: 'trigger', settings: {} },
        { id: 'steps', kind: 'sequence', settings: {} },
      ],
      routes: [
        { id: 'r1', from: 'lfo', to: 'filter.cutoff', depth: 0.4 },
        { id: 'r2', from: 'env', to: 'filter.resonance', depth: 0.4, polarity: 'up' },
        { id: 'r3', from: 'fast', to: 'echo.mix', depth: 0.3 },
        { id: 'r4', from: 'hits', to: 'dirt.amount', depth: 0.5, smoothing: 0.01 },
        { id: 'r5', from: 'env', to: 'lfo.rate', depth: 0.2 },
        { id: 'r6', from: 'steps', to: 'b.pan', depth: 0.5 },
        { id: 'r7', from: 'steps', to: 'inner.depth', depth: -0.5 },
      ],
      lanes: [
        {
          target: 'transpose.mix',
          curve: {
            over: 'seconds',
            points: [
              { at: 0, value: 0 },
              { at: 0.7013, value: 1 },
              { at: 0.7013, value: 0.2 },
            ],
          },
        },
        {
          target: 'inner.rate',
          curve: {
            over: 'clip',
            points: [
              { at: 0, value: 2 },
              { at: 1, value: 12, bend: 0.4 },
            ],
          },
        },
      ],
    },
  );
}

describe('with everything moving', () => {
  const bursts = noise(2 * RATE, RATE, 2);
  for (const side of bursts.channels) side.forEach((_, i) => (side[i] *= 0.4 * Math.exp(-((i % 12000) / 2500))));

  test('kept stages, a stream and the whole render give the same bytes', async () => {
    const chain = everythingMoves();
    const plain = renderOf(chain, bursts);
    const cache = new ClipCache(1e9);
    finishRender(renderChain(BUILT_INS, { chain, source: bursts, cache, sourceKey: 'x' }));
    const again = { ...chain, stages: chain.stages.map((stage, n) => (n === 3 ? { ...stage, level: -1 } : stage)) };
    const resumed = finishRender(renderChain(BUILT_INS, { chain: again, source: bursts, cache, sourceKey: 'x' }));
    expect(resumed.channels).toEqual(renderOf(again, bursts).channels);
    expect(await streamed(chain, bursts)).toEqual(plain.channels);
  });

  test('played live it is the same', () => {
    const chain = everythingMoves();
    const rendered = renderOf(chain, bursts);
    const live = new LiveRun(chain, bursts, { fadeIn: 0, once: true });
    const late = live.section.latency;
    live.run(frameCount(rendered) + late);
    // Transpose looks ahead, and a render ends each stage with the source: near the end it sees what live does not.
    const whole = frameCount(rendered) - 4096;
    const different = [...rendered.channels[0].subarray(0, whole)].findIndex(
      (sample, i) => live.heard[0][i + late] !== sample,
    );
    expect(different).toBe(-1);
  });
});
