/** What comes out for what goes in. */
import { TAU, sin } from '../dsp/portableMath.ts';
import { type StageDocument } from '../chain/schema.ts';
import { compressorGain } from '../stages/builtin/dynamics/compressor.ts';
import { stageOf } from '../stages/builtin/index.ts';
import type { LiveStage, ResolvedValues } from '../stages/contract.ts';
import type { Params } from '../params/params.ts';
import type { StagePicture } from './model.ts';
import type { Numbers } from './values.ts';
import { runStage } from './response.ts';
import { RATE, axis } from './values.ts';

export function compressorLevel(values: Numbers, at: number): number {
  return at + compressorGain(at, values['threshold'], values['ratio'], values['knee']) + values['makeUp'];
}

/** Half a turn of a slow wave, from its lowest to its highest: what goes in against what comes out. */
export function transferPicture(values: ResolvedValues<Params>, stage: StageDocument): StagePicture {
  const definition = stageOf(stage.kind) as LiveStage;
  const hertz = 40;
  const turn = RATE / hertz;
  const still =
    stage.kind === 'drive' ? { ...values, oversampling: 'as it is', tone: 20000 } : { ...values, rate: RATE * 4 };
  const out = runStage(definition, still, 4 * turn, RATE, (samples) => {
    for (let i = 0; i < samples.length; i++) samples[i] = -sin((TAU * hertz * (i + turn / 4)) / RATE);
  });
  const points: number[] = [];
  for (let i = 0; i <= turn / 2; i += 3) points.push(-sin((TAU * hertz * (i + turn / 4)) / RATE), out[2 * turn + i]);
  const ticks = [-1, -0.5, 0, 0.5, 1];
  return {
    type: 'curves',
    title: 'What comes out for what goes in',
    x: axis('in', '', -1, 1, ticks),
    y: axis('out', '', -1.1, 1.1, ticks),
    curves: [
      { label: 'transfer', points },
      { label: 'unchanged', points: [-1, -1, 1, 1], faint: true },
    ],
    handles: [],
  };
}

export function dynamicsPicture(
  values: Numbers,
  handle: string,
  levelAt: (values: Numbers, level: number) => number,
): StagePicture {
  const points: number[] = [];
  for (let level = -72; level <= 0; level += 0.5) points.push(level, Math.max(-90, levelAt(values, level)));
  const ticks = [-60, -48, -36, -24, -12, 0];
  return {
    type: 'curves',
    title: 'Level out for level in',
    x: axis('in', 'dB', -72, 0, ticks),
    y: axis('out', 'dB', -90, 12, ticks),
    curves: [
      { label: 'curve', points },
      { label: 'unchanged', points: [-72, -72, 0, 0], faint: true },
    ],
    handles: [
      {
        label: handle,
        x: Math.max(-72, values[handle]),
        y: Math.max(-90, levelAt(values, values[handle])),
        xParam: handle,
        yParam: undefined,
      },
    ],
  };
}
