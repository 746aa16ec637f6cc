import { BUILT_INS } from '../../catalogue/builtIns.ts';
import { expect, test } from 'vitest';
import { chainOf, renderOf } from '../../testing/chains.ts';
import { noise } from '../../testing/signals.ts';
import { frameCount } from '../../model/clip.ts';
import { estimateRender } from './estimate.ts';

const source = { frames: 48_000, sampleRate: 48_000, channels: 2 };

test.each([
  [[{ kind: 'smear', settings: { factor: 12 } }]],
  [
    [
      { kind: 'stretch', settings: { factor: 1.7 } },
      { kind: 'speed', settings: { interval: -5 } },
    ],
  ],
  [
    [
      {
        kind: 'bend',
        settings: {
          speed: {
            over: 'clip',
            points: [
              { at: 0, value: 12 },
              { at: 1, value: -12 },
            ],
          },
          times: 2,
        },
      },
    ],
  ],
  [[{ kind: 'crossfade', settings: { length: 0.3 } }]],
  [[{ kind: 'reverse' }, { kind: 'hall' }, { kind: 'reverse' }]],
])('the length is told beforehand: %j', (stages) => {
  const chain = chainOf(stages, { render: { tail: { mode: 'fixed', length: 0.5 } } });
  const { frames, bytes } = estimateRender(BUILT_INS, chain, source);
  const rendered = frameCount(renderOf(chain, noise(48_000, 48_000, 2)));
  expect(Math.abs(frames / rendered - 1)).toBeLessThan(0.002);
  expect(bytes).toBe(frames * 8);
});

test('fifty times ten seconds: some eight minutes of sound, told with what it takes', () => {
  const chain = chainOf([{ kind: 'smear', settings: { factor: 50, window: 0.25 } }]);
  const { frames, bytes, seconds } = estimateRender(BUILT_INS, chain, { ...source, frames: 480_000 });
  expect(frames / 48_000).toBe(500);
  expect(bytes).toBe(192_000_000);
  expect(seconds).toBeGreaterThan(5);
  expect(seconds).toBeLessThan(60);
});

test('what would be refused is refused now: too long a window, too long a result', () => {
  const smear = (settings: object) => chainOf([{ kind: 'smear', settings }]);
  expect(() => estimateRender(BUILT_INS, smear({ window: 2 }), source)).toThrow('at most its length of 1 s');
  expect(() => estimateRender(BUILT_INS, smear({ factor: 1000 }), { ...source, frames: 480_000 })).toThrow(
    '30 minutes of stereo',
  );
});
