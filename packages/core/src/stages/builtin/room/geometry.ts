import { PI, log } from '../../../dsp/portableMath.ts';

export const SPEED_OF_SOUND = 343; // m/s
/** Reflections that are followed from wall to wall. */
export const ORDER = 3;
/** Places of the mirrored sources up to that order. */
export const IMAGES = imagePlaces();

/** Share of the sound, in the middle and in the highs, that a surface swallows. */
export const SURFACES = {
  stone: [0.03, 0.06],
  tiles: [0.02, 0.03],
  glass: [0.06, 0.04],
  plaster: [0.08, 0.12],
  wood: [0.13, 0.2],
  carpet: [0.3, 0.65],
  books: [0.35, 0.45],
  curtains: [0.5, 0.75],
} as const;
export type Surface = keyof typeof SURFACES;
export const SURFACE_NAMES = Object.keys(SURFACES) as Surface[];

/** A shoebox in metres, with a source and a listener in it; places count from the back left corner of the floor. */
export interface RoomShape {
  length: number;
  width: number;
  height: number;
  sourceAlong: number;
  sourceAcross: number;
  sourceHeight: number;
  listenerAlong: number;
  listenerAcross: number;
  listenerHeight: number;
}

/** Which mirror room an image lies in, and how often the sound meets each surface on its way. */
export interface ImagePlace {
  readonly x: number;
  readonly y: number;
  readonly z: number;
  readonly order: number;
  readonly walls: number;
  readonly floor: number;
  readonly ceiling: number;
}

/** In the order of reflections; the source itself first. */
function imagePlaces(): ImagePlace[] {
  const places: ImagePlace[] = [];
  for (let x = -ORDER; x <= ORDER; x++) {
    for (let y = -ORDER; y <= ORDER; y++) {
      for (let z = -ORDER; z <= ORDER; z++) {
        const order = Math.abs(x) + Math.abs(y) + Math.abs(z);
        if (order > ORDER) continue;
        const more = Math.ceil(Math.abs(z) / 2);
        const less = Math.abs(z) - more;
        places.push({
          x,
          y,
          z,
          order,
          walls: Math.abs(x) + Math.abs(y),
          // Upwards the ceiling is met first, downwards the floor.
          ceiling: z > 0 ? more : less,
          floor: z > 0 ? less : more,
        });
      }
    }
  }
  return places.sort((a, b) => a.order - b.order);
}

/** Where an image lies along one edge of `size` metres: mirrored in every second room. */
export function mirrored(room: number, size: number, place: number): number {
  return room * size + (room % 2 === 0 ? place : size - place);
}

/** Mean share swallowed per reflection: every surface by its area. */
export function meanAbsorption(
  { length, width, height }: RoomShape,
  walls: number,
  floor: number,
  ceiling: number,
): number {
  const side = 2 * (length + width) * height;
  const ground = length * width;
  return (side * walls + ground * (floor + ceiling)) / (side + 2 * ground);
}

/** Time in seconds until the sound has fallen by 60 dB (C. F. Eyring, "Reverberation time in dead rooms", 1930). */
export function eyringTime(shape: RoomShape, absorption: number): number {
  const { length, width, height } = shape;
  const area = 2 * (length * width + (length + width) * height);
  return (0.161 * length * width * height) / (-area * log(1 - absorption));
}

/** How strong the late sound is against the direct sound at a metre, as an amplitude: √(16π (1 − α) / (S α)). */
export function lateLevel({ length, width, height }: RoomShape, absorption: number): number {
  const area = 2 * (length * width + (length + width) * height);
  return Math.sqrt((16 * PI * (1 - absorption)) / (area * absorption));
}
