/** What a tempo that changes within a render does to settings that follow it: each goes along as if it were drawn. */
import type { Beats } from '../../stages/contract.ts';
import type { Breakpoints } from '../../modulation/curve.ts';
import { isScaled, resolveSetting, type Params, type Settings } from '../../params/params.ts';
import { REFERENCE_RATE, isSynced, type Timing } from '../../timing/tempo.ts';
import type { TempoMap } from '../../timing/tempoMap.ts';
import type { PlannedLane } from './plannedLane.ts';

/** From a frame on, what keeps to the grid counts the timeline from so many frames earlier. */
export interface TimelineShift {
  readonly frame: number;
  readonly shift: number;
}

/**
 * A lane for each setting that follows the tempo and may move while it runs. `grid` is the key of the one that divides the
 * timeline: it steps on the frame, so that no place of the grid falls between the old and the new.
 */
export function tempoLanes(params: Params, settings: Settings, map: TempoMap, grid?: string): Map<string, PlannedLane> {
  const lanes = new Map<string, PlannedLane>();
  const steps = map.steps();
  if (steps.length < 2) return lanes;
  for (const [key, param] of Object.entries(params)) {
    const value = settings[key];
    if (!isScaled(param) || param.fixed === true || !isSynced(value)) continue;
    const under = (timing: Timing) =>
      Math.max(param.min, Math.min(param.max, resolveSetting(param, value, timing, REFERENCE_RATE) as number));
    const points = steps.flatMap(({ seconds, ...timing }, n) => [
      ...(n === 0 ? [] : [{ at: seconds, value: under(steps[n - 1]), bend: 0 }]),
      { at: seconds, value: under(timing), bend: 0 },
    ]);
    lanes.set(key, { over: 'seconds', points, ...(key === grid ? { stepped: true } : {}) });
  }
  return lanes;
}

/**
 * Where the timeline would have to begin for a grid in beats, which is laid from frame 0 on at the tempo of the moment, to
 * go on where it was when the tempo changed.
 */
export function timelineShifts(map: TempoMap, sampleRate: number): readonly TimelineShift[] {
  return map.steps().map(({ seconds, quarter, tempo }) => ({
    frame: Math.round(seconds * sampleRate),
    shift: Math.round(((quarter * 60) / tempo - seconds) * sampleRate),
  }));
}

/** The tempos of a map, each from its frame on. */
export function beatsOf(map: TempoMap, sampleRate: number): readonly Beats[] {
  return map.steps().map(({ seconds, quarter, tempo }) => ({ frame: seconds * sampleRate, quarter, tempo }));
}

/** A curve over beats as one over seconds. Beats are those of the meter given. */
export function curveAlong(curve: Breakpoints, map: TempoMap, { meter }: Timing): Breakpoints {
  if (curve.over !== 'beats') return curve;
  const points = curve.points.map((point) => ({ ...point, at: map.secondsAt((point.at * 4) / meter[1]) }));
  return { over: 'seconds', points };
}
