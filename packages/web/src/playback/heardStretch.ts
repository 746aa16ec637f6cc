import type { CascadeState } from '../cascade/useCascade.ts';
import type { Region } from '../chain/benchSlice.ts';

/** The region, or all that there is to hear. */
export function heardStretch(cascade: CascadeState, region: Region | null): Region {
  if (region) return region;
  const rows = [cascade.rows.source, cascade.rows.result].flatMap((row) => row ?? []);
  return {
    start: Math.min(0, ...rows.map(({ start }) => start)) / cascade.sampleRate,
    end: Math.max(1, ...rows.map(({ end }) => end)) / cascade.sampleRate,
  };
}
