import type { RoomPicture } from '../../../model/picture.ts';
import { SURFACES, eyringTime, meanAbsorption, type RoomShape, type Surface } from './geometry.ts';

export function roomPicture(
  values: RoomShape & Record<'walls' | 'floor' | 'ceiling', Surface> & { ownDecay: boolean; decay: number },
): RoomPicture {
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
