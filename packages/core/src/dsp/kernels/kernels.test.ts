/** Kernels of another kind take the place of ours without a stage noticing: here, ones whose memory moves at every call. */
import { expect, test } from 'vitest';
import { BUILT_INS } from '../../catalogue/builtIns.ts';
import { Catalogue } from '../../catalogue/catalogue.ts';
import { finishRender, renderChain } from '../../engine/offline/renderer.ts';
import { clipHead } from '../../heads/clip/clip.ts';
import { STAGES } from '../../stages/builtin/index.ts';
import { chainOf } from '../../testing/chains.ts';
import { noise } from '../../testing/signals.ts';
import { TRIAL_BANK } from '../../testing/trialSounds.ts';
import type { Kernels, OversamplerKernel } from './contract.ts';
import { TYPESCRIPT_KERNELS } from './typescript.ts';

/** Counts what is made, and gives out a buffer that is void at the next call, as one in a memory that has grown. */
function movingKernels() {
  const made: string[] = [];
  const counted =
    <A extends unknown[], R>(name: string, make: (...args: A) => R) =>
    (...args: A): R => {
      made.push(name);
      return make(...args);
    };
  const kernels: Kernels = {
    transform: counted('transform', TYPESCRIPT_KERNELS.transform),
    network: counted('network', TYPESCRIPT_KERNELS.network),
    resample: counted('resample', TYPESCRIPT_KERNELS.resample),
    partImpulse: counted('partImpulse', TYPESCRIPT_KERNELS.partImpulse),
    convolver: counted('convolver', TYPESCRIPT_KERNELS.convolver),
    oversampler: counted('oversampler', (factor: number, maxFrames: number, inside?: number): OversamplerKernel => {
      const inner = TYPESCRIPT_KERNELS.oversampler(factor, maxFrames, inside);
      let view = new Float64Array(inner.buffer.length);
      const move = () => {
        view.fill(NaN);
        view = new Float64Array(inner.buffer.length);
      };
      return {
        factor,
        latency: inner.latency,
        get buffer() {
          return view;
        },
        reset: () => inner.reset(),
        up(samples, frames) {
          inner.up(samples, frames);
          move();
          view.set(inner.buffer);
        },
        down(samples, frames) {
          inner.buffer.set(view);
          inner.down(samples, frames);
          move();
        },
      };
    }),
  };
  return { made, kernels };
}

test.each([
  [['oversampler'], [{ kind: 'drive', settings: { amount: 20 } }]],
  [['oversampler'], [{ kind: 'ringMod', settings: { carrier: 300, shape: 'square' } }]],
  [['network'], [{ kind: 'hall', settings: { decay: 0.4 } }]],
  [['network'], [{ kind: 'room' }]],
  [['resample', 'partImpulse', 'convolver'], [{ kind: 'convolve', settings: { impulse: { sound: 'Rattle' } } }]],
])('%j', (wanted, stages) => {
  const { made, kernels } = movingKernels();
  const other = new Catalogue({ stages: STAGES, heads: [clipHead], kernels });
  const chain = chainOf(stages);
  const source = noise(9000, 44_100, 2);
  const render = (catalogue: Catalogue) =>
    finishRender(renderChain(catalogue, { chain, source, sounds: TRIAL_BANK })).channels;
  expect(render(other)).toEqual(render(BUILT_INS));
  expect([...new Set(made)]).toEqual(wanted);
});
