import { BUILT_INS } from '../../catalogue/builtIns.ts';
import { describe, expect, test } from 'vitest';
import { integratedLoudness } from '../../analysis/loudness.ts';
import { peakOf } from '../../analysis/level.ts';
import { chainOf, renderOf } from '../../testing/chains.ts';
import { clipOf, noise, sine } from '../../testing/signals.ts';
import { frameCount } from '../../model/clip.ts';
import { finishRender } from './renderer.ts';
import { renderRegion } from './region.ts';

const rendering = (render: object, stages: { kind: string }[] = []) =>
  chainOf(stages, { render: { tail: { mode: 'none' }, ...render } });

describe('the channels of a render', () => {
  test('one becomes two alike, two become their mean, as they come nothing changes', () => {
    const stereo = clipOf([
      [0.5, -0.25, 1],
      [0.5, 0.75, -1],
    ]);
    expect(renderOf(rendering({ channels: 'mono' }), stereo).channels.map((side) => [...side])).toEqual([
      [0.5, 0.25, 0],
    ]);
    const mono = clipOf([[0.5, -0.25]]);
    expect(renderOf(rendering({ channels: 'stereo' }), mono).channels.map((side) => [...side])).toEqual([
      [0.5, -0.25],
      [0.5, -0.25],
    ]);
    expect(renderOf(rendering({}), mono).channels).toHaveLength(1);
    // A stage that widens gives two by itself.
    expect(renderOf(rendering({}, [{ kind: 'pan' }]), mono).channels).toHaveLength(2);
  });
});

describe('the level of a render', () => {
  const quiet = sine(1000, 0.05, 2);
  test('to a peak, within a hundredth of a decibel', () => {
    const peak = 20 * Math.log10(peakOf(renderOf(rendering({ level: { mode: 'peak', to: -3 } }), quiet)));
    expect(peak).toBeCloseTo(-3, 2);
  });

  test('to a loudness, within a tenth, but never past full scale', () => {
    expect(integratedLoudness(renderOf(rendering({ level: { mode: 'loudness', to: -20 } }), quiet))).toBeCloseTo(
      -20,
      1,
    );
    const spiky = clipOf([new Float32Array(96000)]);
    for (let i = 0; i < 96000; i += 4800) spiky.channels[0][i] = 0.9;
    const loud = renderOf(rendering({ level: { mode: 'loudness', to: -6 } }), spiky);
    expect(peakOf(loud)).toBeCloseTo(1, 4);
  });

  test('silence stays silence', () => {
    const silent = renderOf(rendering({ level: { mode: 'peak', to: 0 } }), clipOf([new Float32Array(1000)]));
    expect(peakOf(silent)).toBe(0);
  });

  test('a region is brought to it by itself, before it goes back to its place', () => {
    const source = noise(48000, 48000, 1);
    source.channels[0].forEach((_, i) => (source.channels[0][i] *= 0.1));
    const chain = rendering({ level: { mode: 'peak', to: -6 } });
    const region = { start: 12000, end: 24000 };
    const out = finishRender(
      renderRegion(BUILT_INS, { chain, source, region, beyond: 'nothing', splice: { fade: 0, tail: 'cut' } }),
    );
    expect(frameCount(out)).toBe(48000);
    const peak = (from: number, to: number) =>
      out.channels[0].subarray(from, to).reduce((most, x) => Math.max(most, Math.abs(x)), 0);
    expect(peak(12000, 24000)).toBeCloseTo(0.501, 2);
    expect(peak(0, 12000)).toBeLessThan(0.101);
  });
});
