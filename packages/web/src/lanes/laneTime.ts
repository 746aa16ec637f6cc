import { barSeconds, beatSeconds, type Timing } from '@hexenkessel/core/model';
import type { Curve } from '@hexenkessel/core/stages';

/** Seconds that one of what a lane counts lasts. */
export function unitSeconds(over: Curve['over'], timing: Timing, sourceSeconds: number): number {
  if (over === 'seconds') return 1;
  return over === 'beats' ? beatSeconds(timing) : Math.max(1e-3, sourceSeconds);
}

export const GRIDS = ['free', '1/16', '1/8', 'beat', 'bar'] as const;
export type Grid = (typeof GRIDS)[number];

/** Seconds between two lines of a grid; 0 for none. */
export function gridSeconds(grid: Grid, timing: Timing): number {
  const whole = (4 * 60) / timing.tempo;
  return { free: 0, '1/16': whole / 16, '1/8': whole / 8, beat: beatSeconds(timing), bar: barSeconds(timing) }[grid];
}
