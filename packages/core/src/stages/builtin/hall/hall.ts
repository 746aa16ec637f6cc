import { decayPicture } from '../../drawing/timePictures.ts';
import { gainToDecibels } from '../../../dsp/portableMath.ts';
import { defineLiveStage } from '../../contract.ts';
import { frequency, ratio, time, toggle } from '../../../params/params.ts';
import { HIGHEST_CUT, HallProcessor, LOWEST_CUT } from './hallProcessor.ts';
import { words } from '../../../model/words.ts';

/** Longest distance of a tap from the early reflections, at size 100 %, in seconds. */
const EARLY_SECONDS = 0.08;

export const hall = defineLiveStage({
  kind: 'hall',
  family: 'space',
  title: 'Hall reverb',
  summary: 'Puts the sound into a large, smooth hall.',
  keywords: words(
    'reverb, reverberation, church, cathedral, echo chamber, distance, space, ambience, tail, wash, hall, concert hall, large, long, rt60, decay, pre-delay, freeze, infinite, algorithmic, feedback delay network, drown',
  ),
  mixLaw: 'equal-power',
  widens: true,
  firstMix: 0.35,
  params: {
    decay: time({
      label: 'decay time',
      default: 2.5,
      min: 0.1,
      max: 60,
      doc: 'RT60: time until the reverb has fallen by 60 dB. Longer washes sounds together; shorter keeps them apart.',
    }),
    size: ratio({
      default: 1,
      min: 0.2,
      max: 2,
      doc: 'How far the walls stand. Larger spreads the first reflections and thins them; small sounds dense and boxy.',
    }),
    preDelay: time({
      label: 'pre-delay',
      default: 0.02,
      min: 0,
      max: 0.5,
      doc: 'Silence before the hall answers. Longer keeps the sound in front and the hall in the background.',
    }),
    lowDecay: ratio({
      label: 'low decay ratio',
      default: 1,
      min: 0.2,
      max: 2,
      doc: 'Decay time of the lows against the mids. Above 100 % it rumbles on; below, it stays lean.',
    }),
    lowCrossover: frequency({
      default: 250,
      min: 50,
      max: 1000,
      doc: 'Where the lows begin. Higher lets the low decay govern more.',
    }),
    highDecay: ratio({
      label: 'high decay ratio',
      default: 0.7,
      min: 0.1,
      max: 1.5,
      doc: 'Decay time of the highs against the mids. Lower darkens the tail as it fades, as air and curtains do.',
    }),
    highCrossover: frequency({
      default: 5000,
      min: 1000,
      max: 16000,
      doc: 'Where the highs begin. Lower darkens more of the sound.',
    }),
    diffusion: ratio({
      default: 0.8,
      doc: 'How much transients are smeared at the input. At 0 % one hears single echoes at the start; at 100 % a soft cloud.',
    }),
    movement: ratio({
      label: 'modulation depth',
      default: 0.4,
      doc: 'Slow modulation of the delays inside. A little hides metallic ringing; a lot is a gentle chorus in the tail.',
    }),
    lowCut: frequency({
      off: 'min',
      default: LOWEST_CUT,
      min: LOWEST_CUT,
      max: 2000,
      doc: 'High-pass on the reverb alone. Higher clears mud and moves the hall away.',
    }),
    highCut: frequency({
      off: 'max',
      default: HIGHEST_CUT,
      min: 500,
      max: HIGHEST_CUT,
      doc: 'Low-pass on the reverb alone. Lower is darker and further off.',
    }),
    width: ratio({
      label: 'stereo width',
      default: 1,
      doc: 'From a mono reverb in the centre (0 %) to one all around (100 %).',
    }),
    balance: ratio({
      label: 'early/late balance',
      default: 0.8,
      doc: 'From early reflections alone (0 %) to the late reverb alone (100 %). More is further from the source.',
    }),
    hold: toggle({
      label: 'freeze',
      act: { on: 'freeze', off: 'let go' },
      default: false,
      doc: 'Keeps the reverb ringing for ever and lets nothing new in.',
    }),
  },
  groups: {
    decay: ['decay', 'size', 'preDelay', 'hold'],
    damping: ['lowDecay', 'lowCrossover', 'highDecay', 'highCrossover'],
    density: ['diffusion', 'movement'],
    output: ['lowCut', 'highCut', 'width', 'balance'],
  },
  picture: ({ stage, values }) => decayPicture(stage, values),
  heldTo: [
    {
      what: 'Falls by 60 dB in the set decay, in every octave from 250 Hz to 4 kHz, over the whole scale of decay and size',
      limit: ['within', 10, '%'],
      how: 'after ISO 3382, on an impulse',
    },
    {
      what: 'Keeps the energy of an impulse, whatever the decay and size',
      limit: ['within', 3, 'dB'],
      how: 'by energy',
    },
    {
      what: 'After 100 ms, reflections per second:',
      limit: ['more than', 1000, ''],
      how: 'by counting peaks after an impulse',
    },
    {
      what: 'No mode rings, at any size and movement: each stands out of its surroundings by',
      limit: ['less than', 6, 'dB'],
      how: 'in the spectrum of the late decay',
    },
  ],
  mayRise: {
    by: '5 LU, for a tone that meets its modes, and by the low or high decay where it is over 100 %',
    most: ({ lowDecay, highDecay }) => 5 + 0.5 * gainToDecibels(Math.max(1, lowDecay, highDecay)),
  },
  tailSeconds: ({ decay, lowDecay, highDecay, preDelay, size, hold }) =>
    hold ? Infinity : decay * Math.max(1, lowDecay, highDecay) + preDelay + EARLY_SECONDS * size + 0.05,
  create: (context) => new HallProcessor(context),
});
