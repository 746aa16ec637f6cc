/** From 0 at 0 to 1 at 1 with flat ends: how fades run that must not be heard. Stays 0 before and 1 behind. */
export function smoothStep(t: number): number {
  return t <= 0 ? 0 : t >= 1 ? 1 : t * t * (3 - 2 * t);
}
