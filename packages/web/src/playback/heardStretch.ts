import type { CascadeState } from '../cascade/chainRenderer.ts';
import type { Region } from '../chain/playbackSlice.ts';

/**
 * The region, or all that there is to hear; undefined while the sound is not there yet. `round`: a whole sound that goes
 * round does so in the length that the chain gives it, dry and wet alike, and what rings on sounds over its beginning.
 */
export function heardStretch(
  cascade: Pick<CascadeState, 'rows' | 'span' | 'sampleRate'>,
  region: Region | null,
  round = false,
): Region | undefined {
  if (region) return region;
  const { source, result } = cascade.rows;
  if (!source) return undefined;
  if (round) {
    const { start, end } = cascade.span ?? source;
    return { start: start / cascade.sampleRate, end: end / cascade.sampleRate };
  }
  return {
    start: Math.min(0, source.start, result?.start ?? 0) / cascade.sampleRate,
    end: Math.max(source.end, result?.end ?? 0) / cascade.sampleRate,
  };
}
