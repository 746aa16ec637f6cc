import { decibelsToGain } from '../../dsp/portableMath.ts';
import { defineLiveStage } from '../contract.ts';
import { level } from '../../params/params.ts';
import { words } from '../../model/words.ts';

export const gain = defineLiveStage({
  kind: 'gain',
  family: 'plumbing',
  title: 'Gain',
  summary: 'Makes the sound louder or quieter and changes nothing else.',
  keywords: words('volume, level, louder, quieter, boost, trim level, amplify, attenuate, decibel, db, fader, trim'),
  sidesApart: true,
  mixLaw: 'linear',
  params: {
    gain: level({
      default: 0,
      min: -96,
      max: 36,
      doc: 'Raises the level. 6 dB doubles the amplitude; 0 dB leaves it alone.',
    }),
  },
  mayRise: {
    by: 'its gain',
    most: ({ gain }) => Math.max(0, gain),
  },
  tailSeconds: () => 0,
  create: () => ({
    memoryFrames: 0,
    reset: () => undefined,
    process(input, output, frames, values) {
      const start = decibelsToGain(values.gain.start);
      const step = (decibelsToGain(values.gain.end) - start) / frames;
      for (let c = 0; c < output.length; c++) {
        const from = input[c];
        const to = output[c];
        let factor = start;
        for (let i = 0; i < frames; i++) {
          to[i] = from[i] * factor;
          factor += step;
        }
      }
    },
  }),
});
