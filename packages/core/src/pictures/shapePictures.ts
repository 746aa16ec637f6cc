/** Pictures of a shape of their own. */
import { MOST_STEPS } from '../stages/builtin/grain/pattern.ts';
import type { StagePicture } from './model.ts';
import type { Numbers, Words } from './values.ts';
import { voicePhase, voicePlace, voiceRest } from '../stages/builtin/ensemble/voices.ts';
import { SURFACES, eyringTime, meanAbsorption } from '../stages/builtin/room/geometry.ts';
import type { RoomShape, Surface } from '../stages/builtin/room/geometry.ts';

export function roomPicture(
  values: RoomShape & Record<'walls' | 'floor' | 'ceiling', Surface> & { ownDecay: boolean; decay: number },
): StagePicture {
  const absorption = meanAbsorption(
    values,
    SURFACES[values.walls][0],
    SURFACES[values.floor][0],
    SURFACES[values.ceiling][0],
  );
  return {
    type: 'room',
    title: 'The room from above',
    length: values.length,
    width: values.width,
    height: values.height,
    source: [values.sourceAlong, values.sourceAcross],
    listener: [values.listenerAlong, values.listenerAcross],
    decay: values.ownDecay ? values.decay : Math.min(20, Math.max(0.1, eyringTime(values, absorption))),
  };
}

export function voicesPicture(values: Numbers & Words): StagePicture {
  const count = Math.round(values['voices']);
  return {
    type: 'voices',
    title: 'Delay of every voice',
    voices: Array.from({ length: count }, (_, voice) => ({
      phase: voicePhase(voice, count, values['distribution']),
      rest: voiceRest(voice),
      pan: voicePlace(voice, count) * values['spread'],
    })),
    wave: values['wave'],
    rate: values['rate'],
    depth: values['depth'],
    drift: values['drift'],
  };
}

export function stepsPicture(values: Numbers): StagePicture {
  const count = Math.round(values['steps']);
  const params = Array.from({ length: Math.min(MOST_STEPS, count) }, (_, n) => `level${n + 1}`);
  return {
    type: 'steps',
    title: 'Steps',
    levels: params.map((key) => values[key]),
    params,
    swing: values['swing'],
    gate: values['length'],
  };
}
