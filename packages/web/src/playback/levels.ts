import { gainToDecibels } from '@hexenkessel/core/model';

const FLOOR = -60; // dBFS at the left end of a bar

/** Share of a bar that a level fills. */
export function barShare(amplitude: number): number {
  return Math.max(0, Math.min(1, 1 - gainToDecibels(Math.max(1e-9, amplitude)) / FLOOR));
}
