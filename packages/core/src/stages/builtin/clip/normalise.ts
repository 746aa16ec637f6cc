import { integratedLoudness } from '../../../analysis/loudness.ts';
import { peakOf } from '../../../analysis/level.ts';
import { truePeakOf } from '../../../analysis/truePeak.ts';
import { decibelsToGain, gainToDecibels } from '../../../dsp/portableMath.ts';
import type { Clip } from '../../../model/clip.ts';
import { defineClipStage, inPlace } from '../../contract.ts';
import { choice, level } from '../../../params/params.ts';
import { words } from '../../../model/words.ts';

const MEASURES = ['peak', 'true peak', 'loudness'] as const;

export const normalise = defineClipStage({
  kind: 'normalise',
  family: 'clip',
  title: 'Normalise',
  summary: 'Makes the whole clip louder or quieter until it measures what is wanted.',
  keywords: words(
    'level, loudness, lufs, peak, volume, match, gain, maximise, normalize, normalisation, normalization, ebu r128, lkfs, dbfs, dbtp, integrated, target',
  ),
  mixLaw: 'linear',
  params: {
    measure: choice(MEASURES, {
      shown: { peak: 'sample peak', loudness: 'integrated loudness' },
      default: 'peak',
      doc: 'What is measured: the highest sample, the highest peak between samples, or the integrated loudness after ITU-R BS.1770.',
    }),
    to: level({
      label: 'target level',
      unitBy: ({ measure }) => (measure === 'loudness' ? 'LUFS' : measure === 'true peak' ? 'dBTP' : 'dBFS'),
      default: -1,
      min: -70,
      max: 0,
      doc: 'What it shall measure, in the unit of the measure. Higher is louder; a loud LUFS value can clip.',
    }),
  },
  heldTo: [
    {
      what: 'Comes to the level that is set, in dBFS, dBTP or LUFS after ITU-R BS.1770',
      limit: ['within', 0.1, 'dB'],
      how: 'on what comes out',
    },
  ],
  mayRise: {
    by: 'what is missing to its goal',
    most: ({ to }) => Math.max(0, to + 21),
  },
  placeOf: inPlace,
  transform(clip, { measure, to }) {
    const now = measured(clip, measure);
    if (!Number.isFinite(now)) return clip;
    const gain = decibelsToGain(to - now);
    return { ...clip, channels: clip.channels.map((samples) => samples.map((sample) => gain * sample)) };
  },
});

function measured(clip: Clip, measure: (typeof MEASURES)[number]): number {
  if (measure === 'loudness') return integratedLoudness(clip);
  return gainToDecibels(measure === 'peak' ? peakOf(clip) : truePeakOf(clip));
}
