/** Curves over time, measured. */
import { gainToDecibels } from '../../dsp/portableMath.ts';
import type { StagePicture } from '../../model/picture.ts';
import type { LiveStage, ResolvedValues } from '../contract.ts';
import type { Params } from '../../params/params.ts';
import { PICTURE_RATE, axis } from './axis.ts';
import { runStage } from './response.ts';

const LONGEST_DECAY = 6;

/** How the energy that is still to come falls (M. R. Schroeder, 1965), measured on an impulse. */
export function decayPicture(stage: LiveStage, values: ResolvedValues<Params>): StagePicture {
  const seconds = Math.min(LONGEST_DECAY, 1.25 * (values['decay'] as number) + 0.1);
  const out = runStage(stage, values, Math.ceil(seconds * PICTURE_RATE), PICTURE_RATE, (samples) => (samples[0] = 1));
  const energies: number[] = [];
  const span = Math.max(1, Math.floor(out.length / 200));
  let sum = 0;
  for (let at = out.length - 1; at >= 0; at--) {
    sum += out[at] * out[at];
    if (at % span === 0) energies.push(sum);
  }
  energies.reverse();
  const points = energies.flatMap((energy, n) => [
    (n * span) / PICTURE_RATE,
    Math.max(-75, 0.5 * gainToDecibels(Math.max(1e-12, energy / (energies[0] || 1)))),
  ]);
  const ticks = Array.from({ length: 7 }, (_, n) => Number(((seconds * n) / 6).toPrecision(2)));
  return {
    type: 'curves',
    title: 'Decay',
    x: axis('time', 's', 0, seconds, ticks),
    y: axis('level', 'dB', -72, 3, [-60, -48, -36, -24, -12, 0]),
    curves: [{ label: 'decay', points }],
    handles: [],
  };
}

/** Two cycles of a movement of the level. */
export function movementPicture(stage: LiveStage, values: ResolvedValues<Params>): StagePicture {
  const rate = values['rate'] as number;
  // As fast as is quick to run; the time axis is its own.
  const out = runStage(stage, { ...values, rate: 4 }, PICTURE_RATE / 2, PICTURE_RATE, (samples) => samples.fill(1));
  const points: number[] = [];
  for (let i = 0; i < out.length; i += 120) points.push((i / PICTURE_RATE) * (4 / rate), out[i]);
  const seconds = 2 / rate;
  return {
    type: 'curves',
    title: 'Level over two cycles',
    x: axis(
      'time',
      's',
      0,
      seconds,
      [0, 0.25, 0.5, 0.75, 1].map((share) => Number((share * seconds).toPrecision(2))),
    ),
    y: axis('level', '', 0, 1.05, [0, 0.5, 1]),
    curves: [{ label: 'level', points }],
    handles: [],
  };
}
