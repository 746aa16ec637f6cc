import { voicesPicture } from './voicesPicture.ts';
import { windowFrames } from '../../../dsp/spectralShifter.ts';
import { defineLiveStage } from '../../contract.ts';
import { choice, frequency, level, number, rate, ratio, semitones, time, toggle } from '../../../params/params.ts';
import { resonance } from '../../rise.ts';
import { EnsembleProcessor, MOST_DEPTH, MOST_DRIFT, OPEN, TRANSPOSING_WINDOW, WAVES } from './ensembleProcessor.ts';
import { MOST_VOICES } from './voices.ts';

export const ensemble = defineLiveStage({
  kind: 'ensemble',
  family: 'motion',
  title: 'Ensemble',
  summary: 'Makes many out of one: voices that are never quite together, in tune or in place.',
  keywords: ['chorus', 'choir', 'doubling', 'double', 'thicken', 'wider', 'many voices', 'unison', 'lush', 'detune'],
  mixLaw: 'equal-power',
  widens: true,
  firstMix: 0.6,
  params: {
    filter: choice(['off', 'low', 'band', 'high'], {
      default: 'off',
      doc: 'What of the sound gets into the ensemble: all, or what lies below, around or above the cutoff.',
    }),
    cutoff: frequency({ default: 2500, min: 40, max: 16000, doc: 'Where the filter before it cuts.' }),
    resonance: number({
      default: 0.707,
      min: 0.5,
      max: 12,
      curve: 'log',
      doc: 'How sharply the filter rings at its cutoff.',
    }),
    transposition: choice(['off', 'formants kept', 'formants moved'], {
      default: 'off',
      doc: 'Whether the voices sing another pitch, with the colour of the voice kept or moved along.',
    }),
    interval: semitones({ default: 12, min: -12, max: 12, doc: 'The pitch of the transposed voices.' }),
    transposed: ratio({ default: 0.35, doc: 'How much of the ensemble is transposed; the rest sings along.' }),
    voices: number({
      default: 4,
      min: 1,
      max: MOST_VOICES,
      fixed: true,
      doc: 'How many there are. More is smoother and thicker.',
    }),
    rate: rate({ default: 0.55, min: 0.02, max: 10, doc: 'How fast each voice moves. Fast trembles.' }),
    depth: time({
      default: 0.0032,
      min: 0,
      max: MOST_DEPTH,
      curve: 'linear',
      doc: 'How far each voice moves in time, and by that in pitch. A lot is out of tune.',
    }),
    wave: choice(WAVES, {
      default: 'sine',
      doc: 'How a voice moves: in waves, in straight lines, or by chance, smoothly or from place to place.',
    }),
    distribution: ratio({
      default: 1,
      doc: 'How evenly the voices are spread over the movement. At 0 % they all move together.',
    }),
    drift: time({
      default: 0.0015,
      min: 0,
      max: MOST_DRIFT,
      curve: 'linear',
      doc: 'How far the voices stray from their time by chance, each for itself. More is more human.',
    }),
    spread: ratio({ default: 0.9, doc: 'How far apart the voices stand between left and right.' }),
    mirrored: toggle({ default: true, doc: 'Moves the voices on the right against those on the left.' }),
    saturation: level({ default: 0, min: 0, max: 24, doc: 'Warms the voices by driving them softly.' }),
    softened: frequency({
      label: 'softened above',
      default: 9000,
      min: 1000,
      max: OPEN,
      doc: 'Where the highs of the voices are rounded off. Lower is older and softer; off at 20 kHz.',
    }),
    width: ratio({ default: 1, max: 2, doc: 'Sides against middle: 0 % is mono, above 100 % wider than it is.' }),
    gain: level({ default: 0, min: -24, max: 12, doc: 'Level of the ensemble.' }),
  },
  groups: {
    input: ['filter', 'cutoff', 'resonance'],
    'pitch shift': ['transposition', 'interval', 'transposed'],
    voices: ['voices', 'rate', 'depth', 'wave', 'distribution', 'drift'],
    stereo: ['spread', 'mirrored', 'width'],
    output: ['saturation', 'softened', 'gain'],
  },
  picture: ({ values }) => voicesPicture(values),
  exempt: [
    {
      trial: 'jump',
      param: 'saturation',
      because: 'on the way it passes settings at which it makes highs itself, more than at either end',
    },
  ],
  latencyFrames: ({ transposition }, sampleRate) =>
    transposition === 'off' ? 0 : windowFrames(TRANSPOSING_WINDOW, sampleRate),
  heldTo: [
    { what: 'Voices are spread evenly over the cycle', limit: ['within', 1, 'degree'], how: 'by their delays' },
    { what: 'Summed to mono it loses', limit: ['less than', 3, 'dB'], how: 'on noise' },
    { what: 'Silence in, silence out', how: 'on silence' },
  ],
  mayRise: {
    by: 'its gain and the resonance of its filter',
    most: ({ gain, filter, resonance: q }) => Math.max(0, gain + (filter === 'off' ? 0 : resonance(q))),
  },
  // The filter rings as exp(−π f t / Q).
  tailSeconds: ({ filter, cutoff, resonance }) => 0.15 + (filter === 'off' ? 0 : (3 * Math.max(1, resonance)) / cutoff),
  create: (context, values) => new EnsembleProcessor(context, values),
});
