import { OSCILLATOR_SHAPES, Oscillator } from '../dsp/oscillator.ts';
import { BLOCK_FRAMES, defineLiveStage } from './contract.ts';
import { choice, rate, ratio } from './params.ts';

export const ringMod = defineLiveStage({
  kind: 'ringMod',
  family: 'motion',
  title: 'Ring modulator',
  summary: 'Multiplies the sound with a tone: every partial becomes two, one higher and one lower.',
  keywords: ['robot', 'machine', 'metallic', 'bell', 'alien', 'inharmonic', 'radio', 'multiply'],
  sidesApart: true,
  mixLaw: 'linear',
  params: {
    carrier: rate({
      default: 40,
      min: 0.1,
      max: 8000,
      doc: 'Frequency of the tone. Low it trembles, around 40 Hz voices become machines, high they ring like bells.',
    }),
    shape: choice(OSCILLATOR_SHAPES, {
      default: 'sine',
      doc: 'Wave of the tone. The sharper it is, the more partials it adds.',
    }),
    depth: ratio({ default: 1, doc: 'How much of the sound is multiplied; the rest stays as it is.' }),
    offset: ratio({
      default: 0,
      doc: 'Lifts the tone above zero, so that the sound itself shines through: at 50 % only its level moves.',
    }),
  },
  tailSeconds: () => 0,
  create({ sampleRate }) {
    const oscillator = new Oscillator(sampleRate);
    const tone = new Float64Array(BLOCK_FRAMES);
    const limit = 0.49 * sampleRate;
    const frequency = { start: 0, end: 0 };
    return {
      memoryFrames: 0,
      reset: () => oscillator.reset(),
      process(input, output, frames, { carrier, shape, depth, offset }) {
        frequency.start = Math.min(limit, carrier.start);
        frequency.end = Math.min(limit, carrier.end);
        oscillator.fill(tone, frames, shape, frequency);
        const depthStep = (depth.end - depth.start) / frames;
        const offsetStep = (offset.end - offset.start) / frames;
        let deep = depth.start;
        let lift = offset.start;
        for (let i = 0; i < frames; i++) {
          tone[i] = 1 - deep + deep * (lift + (1 - lift) * tone[i]);
          deep += depthStep;
          lift += offsetStep;
        }
        for (let c = 0; c < output.length; c++) {
          const from = input[c];
          const out = output[c];
          for (let i = 0; i < frames; i++) out[i] = from[i] * tone[i];
        }
      },
    };
  },
});
