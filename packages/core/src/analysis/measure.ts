import { gainToDecibels } from '../dsp/portableMath.ts';
import type { Clip } from '../engine/clip.ts';
import { peakOf } from './level.ts';
import { integratedLoudness } from './loudness.ts';
import { truePeakOf } from './truePeak.ts';

/** What is kept about every sound. Levels are −Infinity for silence. */
export interface Measures {
  /** Sample peak, dBFS. */
  readonly peak: number;
  /** True peak, dBTP. */
  readonly truePeak: number;
  /** Integrated loudness, LUFS. */
  readonly loudness: number;
}

export function measureClip(clip: Clip): Measures {
  return {
    peak: gainToDecibels(peakOf(clip)),
    truePeak: gainToDecibels(truePeakOf(clip)),
    loudness: integratedLoudness(clip),
  };
}
