import type { RoomPicture } from '../../../model/picture.ts';
import { showSeconds } from '../../../timing/display.ts';
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
  const decay = values.ownDecay ? values.decay : Math.min(20, Math.max(0.1, eyringTime(values, absorption)));
  const metres = [values.length, values.width, values.height].map((size) => `${Number(size.toPrecision(3))} m`);
  return {
    type: 'room',
    title: `Room of ${metres.join(' × ')}, RT60 ${showSeconds(decay)}`,
    length: values.length,
    width: values.width,
    height: values.height,
    source: [values.sourceAlong, values.sourceAcross, values.sourceHeight],
    listener: [values.listenerAlong, values.listenerAcross, values.listenerHeight],
    decay,
  };
}
