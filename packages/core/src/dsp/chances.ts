/** A number in [0, 1) that belongs to a seed and a place: the same whenever and in whatever order it is asked for. */
export function chanceAt(seed: number, place: number): number {
  let t = (seed ^ Math.imul(place | 0, 0x9e3779b1)) >>> 0;
  t = Math.imul(t ^ (t >>> 16), 0x85ebca6b);
  t = Math.imul(t ^ (t >>> 13), 0xc2b2ae35);
  return ((t ^ (t >>> 16)) >>> 0) / 4294967296;
}
