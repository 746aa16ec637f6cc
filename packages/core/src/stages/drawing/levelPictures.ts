/** What comes out for what goes in. */
import { TAU, sin } from '../../dsp/portableMath.ts';
import type { StagePicture } from '../../model/picture.ts';
import type { LiveStage, ResolvedValues } from '../contract.ts';
import type { Params } from '../../params/params.ts';
import { PICTURE_RATE, axis } from './axis.ts';
import { runStage } from './response.ts';

/**
 * Half a cycle of a slow wave, from its lowest to its highest: what goes in against what comes out, with those values that
 * have nothing to do with it out of the way.
 */
export function transferPicture(stage: LiveStage, still: ResolvedValues<Params>): StagePicture {
  const hertz = 40;
  const cycle = PICTURE_RATE / hertz;
  const out = runStage(stage, still, 4 * cycle, PICTURE_RATE, (samples) => {
    for (let i = 0; i < samples.length; i++) samples[i] = -sin((TAU * hertz * (i + cycle / 4)) / PICTURE_RATE);
  });
  const points: number[] = [];
  for (let i = 0; i <= cycle / 2; i += 3)
    points.push(-sin((TAU * hertz * (i + cycle / 4)) / PICTURE_RATE), out[2 * cycle + i]);
  const ticks = [-1, -0.5, 0, 0.5, 1];
  return {
    type: 'curves',
    title: 'Transfer curve',
    x: axis('in', '', -1, 1, ticks),
    y: axis('out', '', -1.1, 1.1, ticks),
    curves: [
      { label: 'transfer', points },
      { label: '1:1', points: [-1, -1, 1, 1], faint: true },
    ],
    handles: [],
  };
}

/** Level out for level in, in dB. */
export function dynamicsPicture(
  handle: { readonly param: string; readonly at: number },
  levelAt: (level: number) => number,
): StagePicture {
  const points: number[] = [];
  for (let level = -72; level <= 0; level += 0.5) points.push(level, Math.max(-90, levelAt(level)));
  const ticks = [-60, -48, -36, -24, -12, 0];
  return {
    type: 'curves',
    title: 'Transfer curve',
    x: axis('in', 'dB', -72, 0, ticks),
    y: axis('out', 'dB', -90, 12, ticks),
    curves: [
      { label: 'curve', points },
      { label: '1:1', points: [-72, -72, 0, 0], faint: true },
    ],
    handles: [
      {
        label: handle.param,
        x: Math.max(-72, handle.at),
        y: Math.max(-90, levelAt(handle.at)),
        xParam: handle.param,
        yParam: undefined,
      },
    ],
  };
}
