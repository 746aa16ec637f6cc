import fc from 'fast-check';
import { expect, test } from 'vitest';
import { chainOf, renderOf } from '../../../testing/chains.ts';
import { runs } from '../../../testing/long.ts';
import { ringing } from '../../../testing/ringing.ts';
import { impulse, noise } from '../../../testing/signals.ts';

test('the measure gives about 4 dB for noise that decays', () => {
  const decaying = noise(5 * 48000, 48000, 1, 3).channels[0].map((x, i) => x * Math.exp((-6.9 * i) / (4 * 48000)));
  expect(Math.abs(ringing(decaying, 48000, 4) - 4)).toBeLessThan(1);
});

test('a hall of 4 s does not ring: no mode stands out by 6 dB, whatever its size and movement', () => {
  const settings = fc.record({
    rate: fc.constantFrom(44100, 48000, 96000),
    seed: fc.nat(1000),
    movement: fc.oneof(fc.constant(0), fc.double({ min: 0, max: 1, noNaN: true })),
    size: fc.double({ min: 0.2, max: 2, noNaN: true }),
    diffusion: fc.double({ min: 0, max: 1, noNaN: true }),
  });
  fc.assert(
    fc.property(settings, ({ rate, seed, ...rest }) => {
      const chain = chainOf([{ kind: 'hall', mix: 1, settings: { decay: 4, highDecay: 1, preDelay: 0, ...rest } }], {
        render: { seed, tail: { mode: 'none' } },
      });
      expect(ringing(renderOf(chain, impulse(0, 5 * rate, rate)).channels[0], rate, 4)).toBeLessThan(6);
    }),
    { numRuns: runs(5, 200) },
  );
});
