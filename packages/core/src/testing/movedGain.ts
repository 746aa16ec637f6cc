/** What moves the gain of a steady level can be read off what comes out. */
import { BUILT_INS } from '../catalogue/builtIns.ts';
import { frameCount, type Clip } from '../model/clip.ts';
import { ModulationBus } from '../engine/modulation/modulationBus.ts';
import { modulatorsOf } from '../engine/plan/plannedModulation.ts';
import { planStages } from '../engine/plan/plan.ts';
import type { SoundBank } from '../engine/plan/soundBank.ts';
import type { ScaledParam } from '../params/params.ts';
import { chainOf, renderOf } from './chains.ts';
import { clipOf } from './signals.ts';

const RATE = 48000;

/** A steady level, so that what comes out of a gain is the gain. */
export const steady = (seconds: number, channels = 1): Clip =>
  clipOf(
    Array.from({ length: channels }, () => new Float32Array(Math.round(seconds * RATE)).fill(0.5)),
    RATE,
  );

export const gainParam = BUILT_INS.stages.find(({ kind }) => kind === 'gain')!.params['gain'] as ScaledParam;

/** Gains in dB, frame by frame, that a chain of one gain stage had. */
export function gains(rest: Record<string, unknown>, seconds: number, side = 0): number[] {
  const chain = chainOf([{ kind: 'gain' }], rest);
  const rendered = renderOf(chain, steady(seconds, 2));
  return [...rendered.channels[side]].map((sample) => 20 * Math.log10(sample / 0.5));
}

export const lfo = (settings: object, id = 'lfo') => ({ id, kind: 'lfo', settings });
export const route = (rest: object = {}) => ({ id: 'r', from: 'lfo', to: 'gain.gain', depth: 0.05, ...rest });

/** Half the swing of a full turn of that route on the gain's scale, in dB. */
export const SWING = 0.05 * (gainParam.max - gainParam.min);

/** A modulator's own value over time and side, −1…1 or 0…1, as it hears a sound that begins at `origin`. */
export function valuesOf(
  modulator: object,
  source: Clip,
  { sounds, lanes = [] }: { readonly sounds?: SoundBank; readonly lanes?: readonly object[] } = {},
): (seconds: number, side?: 0 | 1) => number {
  const chain = chainOf([{ kind: 'gain' }], {
    modulators: [{ id: 'lfo', ...modulator }],
    routes: [route()],
    lanes,
  });
  const end = source.origin + frameCount(source);
  const movement = new ModulationBus(modulatorsOf(planStages(BUILT_INS, chain, RATE, sounds)), RATE, { start: 0, end });
  const mover = movement.find('lfo');
  if (!mover) throw new Error('there is no modulator "lfo"');
  const found: [number, number][] = [];
  for (let at = 0; at < frameCount(source); at += 128) {
    const block = source.channels.map((side) => side.subarray(at, at + 128));
    movement.advance(block, source.origin + at);
    for (let step = 0; step < 4; step++)
      found.push([0, 1].map((side) => movement.value(mover, side, source.origin + at + 32 * step)) as [number, number]);
  }
  return (seconds, side = 0) => found[Math.round((seconds * RATE - source.origin) / 32)][side];
}
