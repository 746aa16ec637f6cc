import { BUILT_INS } from '../catalogue/builtIns.ts';
import { describe, expect, test } from 'vitest';
import { frameCount } from '../model/clip.ts';
import { finishRender, renderChain } from '../engine/offline/renderer.ts';
import { renderRegion, type RegionRender } from '../engine/offline/region.ts';
import { chainOf } from '../testing/chains.ts';
import { impulse } from '../testing/signals.ts';
import { leftOutMarks, leftOutText, renderedMarks } from './renderedMarks.ts';

const RATE = 44100;
const FRAMES = RATE;
const AT = 17_000;
const marks = {
  rootKey: 64,
  fineTune: -7,
  loops: [{ kind: 'sustain' as const, start: AT, end: 30_000, times: 0 }],
  markers: [{ at: AT, label: 'hit' }],
};

/** A click where the marker stands, rendered; and where click and marker then are. */
function through(stages: object[], region?: RegionRender, render: object = {}) {
  const chain = chainOf(stages as never, { render: { tail: { mode: 'none' }, ...render } });
  const source = impulse(AT, FRAMES, RATE);
  const request = { chain, source };
  const clip = finishRender(
    region ? renderRegion(BUILT_INS, { ...request, ...region }) : renderChain(BUILT_INS, request),
  );
  const [samples] = clip.channels;
  let loudest = 0;
  samples.forEach((x, i) => Math.abs(x) > Math.abs(samples[loudest]) && (loudest = i));
  const place = { frames: FRAMES, sampleRate: RATE, region, originFrames: clip.origin, renderFrames: frameCount(clip) };
  return { loudest, kept: renderedMarks(BUILT_INS, marks, chain, place) };
}

describe('markers go where what they mark goes', () => {
  test.each<[string, object[], RegionRender | undefined]>([
    ['a live chain', [{ kind: 'gain' }, { kind: 'hall', mix: 0.2 }], undefined],
    ['at half the speed', [{ kind: 'speed', settings: { interval: -12 } }], undefined],
    ['longer', [{ kind: 'stretch', settings: { factor: 1.3, mode: 'percussive' } }], undefined],
    ['backwards', [{ kind: 'reverse' }], undefined],
    ['backwards and slower', [{ kind: 'reverse' }, { kind: 'speed', settings: { interval: -5 } }], undefined],
    ['a region alone', [{ kind: 'gain' }], { region: { start: 12_000, end: 25_000 }, beyond: 'nothing' }],
    ['a region turned round', [{ kind: 'reverse' }], { region: { start: 12_000, end: 25_000 }, beyond: 'nothing' }],
    [
      'a region put back',
      [{ kind: 'reverse' }],
      { region: { start: 12_000, end: 25_000 }, beyond: 'nothing', splice: { fade: 100, tail: 'cut' } },
    ],
  ])('%s', (_, stages, region) => {
    const { loudest, kept } = through(stages, region);
    expect(Math.abs(kept.markers[0].at - loudest)).toBeLessThanOrEqual(
      300 * Number(stages.some((s) => 'kind' in s && s.kind === 'stretch')) + 1,
    );
  });
});

test('loops, root and tuning stay in a live chain, and a loop turned round begins at its end', () => {
  expect(through([{ kind: 'gain' }]).kept).toEqual(marks);
  expect(through([{ kind: 'reverse' }]).kept.loops).toEqual([
    { kind: 'sustain', start: FRAMES - 30_000, end: FRAMES - AT, times: 0 },
  ]);
});

test('what falls out of the render, or lies nowhere, is left out; a root that is no longer true too', () => {
  const early = through([], { region: { start: 20_000, end: 40_000 }, beyond: 'nothing' }).kept;
  expect(early).toMatchObject({ rootKey: 64, loops: [], markers: [] });
  expect(through([{ kind: 'bend' }]).kept).toEqual({ rootKey: null, fineTune: 0, loops: [], markers: [] });
  expect(through([{ kind: 'transpose' }]).kept).toMatchObject({ rootKey: null, markers: marks.markers });
  expect(through([], undefined, { anchor: 'end' }).kept.markers).toEqual([]);
});

test('what is left out is said', () => {
  expect(leftOutText(leftOutMarks(marks, through([{ kind: 'gain' }]).kept))).toBeUndefined();
  const bent = leftOutText(leftOutMarks(marks, through([{ kind: 'bend' }]).kept));
  expect(bent).toContain('1 loop and 1 marker');
  expect(bent).toContain('the root note');
  const part = { region: { start: 20_000, end: 40_000 }, beyond: 'nothing' as const };
  expect(leftOutText(leftOutMarks(marks, through([], part).kept))).toMatch(/1 loop and 1 marker/);
});
