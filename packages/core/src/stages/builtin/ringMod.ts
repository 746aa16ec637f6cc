import { TAU, sin } from '../../dsp/portableMath.ts';
import { axis } from '../drawing/axis.ts';
import type { StagePicture } from '../../model/picture.ts';
import { BandlimitedWave } from '../../dsp/bandlimitedWave.ts';
import { OSCILLATOR_SHAPES } from '../../dsp/oscillator.ts';
import { Oversampler } from '../../dsp/oversampler.ts';
import { defineLiveStage } from '../contract.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import { choice, rate, ratio } from '../../params/params.ts';
import { HIGHER_COUNTS } from '../rise.ts';
import { words } from '../../model/words.ts';

/** The product is taken at this many times the sample rate: it reaches up to the sum of what is multiplied. */
const FINER = 2;

export const ringMod = defineLiveStage({
  kind: 'ringMod',
  family: 'motion',
  title: 'Ring modulator',
  summary: 'Multiplies the sound with a tone: every partial becomes two, one higher and one lower.',
  keywords: words(
    'robot, machine, metallic, bell, alien, inharmonic, radio, multiply, ring modulation, amplitude modulation, am, carrier, sidebands, sum and difference, robotic, harsh',
  ),
  sidesApart: true,
  mixLaw: 'linear',
  retunes: true,
  params: {
    carrier: rate({
      label: 'carrier frequency',
      default: 40,
      min: 0.1,
      max: 8000,
      doc: 'Frequency of the tone. Low it trembles, around 40 Hz voices become machines, high they ring like bells.',
    }),
    shape: choice(OSCILLATOR_SHAPES, {
      label: 'carrier waveform',
      default: 'sine',
      doc: 'Waveform of the tone. The sharper it is, the more partials it adds.',
    }),
    depth: ratio({ default: 1, doc: 'How much of the sound is multiplied; the rest stays as it is.' }),
    offset: ratio({
      label: 'carrier offset',
      default: 0,
      doc: 'Adds a DC offset to the tone, so that the sound itself shines through: at 50 % it is full amplitude modulation.',
    }),
  },
  picture: ({ values }) => tonePicture(values),
  exempt: [
    {
      trial: 'jump',
      param: 'carrier',
      because: 'on the way it passes settings at which it makes highs itself, more than at either end',
    },
    { trial: 'direct current', because: 'a partial moved to nothing is a direct current' },
  ],
  latencyFrames: () => new Oversampler(FINER, 1).latency,
  heldTo: [
    {
      what: 'Sine by sine gives the sum and the difference alone; all else lies',
      limit: ['below', -90, 'dB'],
      how: 'in the spectrum',
    },
    {
      what: 'With any wave, aliasing lies',
      limit: ['below', -70, 'dB'],
      how: 'in the spectrum, between the partials',
    },
  ],
  mayRise: { by: '4 LU, as high tones count for more', most: () => HIGHER_COUNTS },
  tailSeconds: () => 0.01,
  create({ sampleRate, outputChannels, kernels }, { shape }) {
    const carriers = new BandlimitedWave(shape, FINER * sampleRate, FINER * BLOCK_FRAMES);
    const oversamplers = Array.from({ length: outputChannels }, () => kernels.oversampler(FINER, BLOCK_FRAMES));
    const tone = new Float64Array(FINER * BLOCK_FRAMES);
    const limit = 0.49 * sampleRate;
    const frequency = { start: 0, end: 0 };
    return {
      memoryFrames: 2 * oversamplers[0].latency,
      reset() {
        carriers.reset();
        for (let c = 0; c < outputChannels; c++) oversamplers[c].reset();
      },
      process(input, output, frames, { carrier, depth, offset }, position) {
        const count = FINER * frames;
        frequency.start = Math.min(limit, carrier.start);
        frequency.end = Math.min(limit, carrier.end);
        carriers.begin(FINER * position, frequency.start);
        carriers.fill(tone, count, frequency);
        const depthStep = (depth.end - depth.start) / count;
        const offsetStep = (offset.end - offset.start) / count;
        let deep = depth.start;
        let lift = offset.start;
        for (let i = 0; i < count; i++) {
          tone[i] = 1 - deep + deep * (lift + (1 - lift) * tone[i]);
          deep += depthStep;
          lift += offsetStep;
        }
        for (let c = 0; c < outputChannels; c++) {
          const oversampler = oversamplers[c];
          oversampler.up(input[c], frames);
          const { buffer } = oversampler;
          for (let i = 0; i < count; i++) buffer[i] *= tone[i];
          oversampler.down(output[c], frames);
        }
      },
    };
  },
});

/** What the sound is multiplied with, over two cycles of the tone. */
function tonePicture(
  values: Readonly<Record<'carrier' | 'depth' | 'offset', number>> & { readonly shape: string },
): StagePicture {
  const { carrier, depth, offset } = values;
  const wave = (turn: number) => {
    const part = turn - Math.floor(turn);
    switch (values.shape) {
      case 'triangle':
        return 1 - 4 * Math.abs(((part + 0.25) % 1) - 0.5);
      case 'square':
        return part < 0.5 ? 1 : -1;
      case 'saw':
        return 2 * part - 1;
      default:
        return sin(TAU * part);
    }
  };
  const seconds = 2 / carrier;
  const points: number[] = [];
  for (let n = 0; n <= 200; n++)
    points.push((seconds * n) / 200, 1 - depth + depth * (offset + (1 - offset) * wave(n / 100)));
  return {
    type: 'curves',
    title: 'Carrier, over two cycles',
    x: axis(
      'time',
      's',
      0,
      seconds,
      [0, 0.5, 1].map((share) => Number((share * seconds).toPrecision(3))),
    ),
    y: axis('factor', '', -1.1, 1.1, [-1, 0, 1]),
    curves: [{ label: 'tone', points }],
    handles: [],
  };
}
