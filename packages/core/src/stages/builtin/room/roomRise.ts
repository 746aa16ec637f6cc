import { gainToDecibels } from '../../../dsp/portableMath.ts';
import { IMAGES, SURFACES, lateLevel, meanAbsorption, mirrored, type RoomShape, type Surface } from './geometry.ts';
import { MOST_STRENGTH, NEAREST } from './roomProcessor.ts';

interface Settings extends RoomShape {
  readonly walls: Surface;
  readonly floor: Surface;
  readonly ceiling: Surface;
  readonly direct: number;
  readonly reflections: number;
  readonly late: number;
  readonly lowTone: number;
  readonly highTone: number;
}

/** dB by which a tone that meets a mode of the room stands out of the energy of all that comes back. */
const MODE = 6;

/**
 * How much louder a room makes a sound, in dB: the energy of the direct sound, of every reflection and of the late part,
 * as Sabine's diffuse field has it, and more for a tone that meets a mode.
 */
export function roomRise(values: Settings): number {
  const level = (decibels: number) => 10 ** (decibels / 20);
  const kept = (surface: Surface) => 1 - SURFACES[surface][0];
  const energies = IMAGES.map((image) => {
    const x =
      mirrored(image.x, values.length, values.sourceAlong * values.length) - values.listenerAlong * values.length;
    const y =
      mirrored(image.y, values.width, values.sourceAcross * values.width) - values.listenerAcross * values.width;
    const z =
      mirrored(image.z, values.height, values.sourceHeight * values.height) - values.listenerHeight * values.height;
    const swallowed =
      kept(values.walls) ** image.walls * kept(values.floor) ** image.floor * kept(values.ceiling) ** image.ceiling;
    return swallowed / Math.max(NEAREST * NEAREST, x * x + y * y + z * z);
  });
  const [straight, ...reflected] = energies;
  const absorption = meanAbsorption(values, 1 - kept(values.walls), 1 - kept(values.floor), 1 - kept(values.ceiling));
  const late = level(values.late) * Math.min(MOST_STRENGTH, lateLevel(values, absorption));
  const tone = level(Math.max(0, values.lowTone, values.highTone));
  const answered = level(values.reflections) ** 2 * reflected.reduce((sum, x) => sum + x, 0) + late * late;
  const energy = level(values.direct) ** 2 * straight + tone * tone * answered;
  return Math.max(0, MODE + 0.5 * gainToDecibels(energy));
}
