import { TEMPO_RANGE } from './tempo.ts';

/** A pause longer than this, in milliseconds, begins a new count. */
const PAUSE = 2500;
/** Taps that are looked at. */
const TAPS = 12;

/**
 * The tempo of taps at some times in milliseconds: the slope of a straight line through the last of them, so that one late
 * tap does little. Undefined for fewer than two.
 */
export function tappedTempo(times: readonly number[]): number | undefined {
  let first = Math.max(0, times.length - TAPS);
  for (let n = times.length - 1; n > first; n--) if (times[n] - times[n - 1] > PAUSE) first = n;
  const taps = times.slice(first);
  if (taps.length < 2) return undefined;
  const middle = (taps.length - 1) / 2;
  const mean = taps.reduce((sum, time) => sum + time, 0) / taps.length;
  const slope =
    taps.reduce((sum, time, n) => sum + (n - middle) * (time - mean), 0) /
    taps.reduce((sum, _, n) => sum + (n - middle) * (n - middle), 0);
  if (slope <= 0) return undefined;
  const tempo = Number((60_000 / slope).toFixed(1));
  return Math.max(TEMPO_RANGE.min, Math.min(TEMPO_RANGE.max, tempo));
}
