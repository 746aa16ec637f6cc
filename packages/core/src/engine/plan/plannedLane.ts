import type { CurvePoint } from '../../modulation/curve.ts';

/** A lane as the engine runs it. */
export interface PlannedLane {
  readonly over: 'clip' | 'seconds';
  readonly points: readonly CurvePoint[];
  /** True where a step stands on its frame; else it is rounded over the moment before, so that nothing clicks. */
  readonly stepped?: boolean;
}
