import type { CascadeState } from '../cascade/useCascade.ts';
import type { Region } from '../chain/benchSlice.ts';

/** The region, or all that there is to hear; undefined while the sound is not there yet. */
export function heardStretch(cascade: CascadeState, region: Region | null): Region | undefined {
  if (region) return region;
  const { source, result } = cascade.rows;
  if (!source) return undefined;
  return {
    start: Math.min(0, source.start, result?.start ?? 0) / cascade.sampleRate,
    end: Math.max(source.end, result?.end ?? 0) / cascade.sampleRate,
  };
}
