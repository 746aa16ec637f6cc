import { voicesPicture } from './voicesPicture.ts';
import { windowFrames } from '../../../dsp/spectralShifter.ts';
import { defineLiveStage } from '../../contract.ts';
import { choice, frequency, level, number, rate, ratio, semitones, time, toggle } from '../../../params/params.ts';
import { resonance } from '../../rise.ts';
import { EnsembleProcessor, MOST_DEPTH, MOST_DRIFT, OPEN, TRANSPOSING_WINDOW, WAVES } from './ensembleProcessor.ts';
import { MOST_VOICES } from './voices.ts';
import { words } from '../../../model/words.ts';

export const ensemble = defineLiveStage({
  kind: 'ensemble',
  family: 'motion',
  title: 'Chorus',
  summary: 'Makes many voices out of one, never quite together in time, pitch or position.',
  keywords: words(
    'chorus, choir, doubling, double, thicken, wider, many voices, unison, lush, detune, ensemble, double tracking, detuned, widen, fatten, thickening, strings, stereo, modulated delay',
  ),
  mixLaw: 'equal-power',
  widens: true,
  firstMix: 0.6,
  params: {
    filter: choice(['off', 'low', 'band', 'high'], {
      label: 'input filter',
      shown: { low: 'low-pass', band: 'band-pass', high: 'high-pass' },
      default: 'off',
      doc: 'What of the sound gets into the chorus: all, or what lies below, around or above the cutoff.',
    }),
    cutoff: frequency({ default: 2500, min: 40, max: 16000, doc: 'Cutoff frequency of the input filter.' }),
    resonance: number({
      label: 'resonance (Q)',
      default: 0.707,
      min: 0.5,
      max: 12,
      curve: 'log',
      doc: 'How sharply the filter rings at its cutoff.',
    }),
    transposition: choice(['off', 'formants kept', 'formants moved'], {
      label: 'pitch shift',
      shown: { 'formants kept': 'formants preserved', 'formants moved': 'formants shifted' },
      default: 'off',
      doc: 'Whether the voices sing at another pitch, with their formants preserved or shifted along.',
    }),
    interval: semitones({ default: 12, min: -12, max: 12, doc: 'The pitch of the shifted voices.' }),
    transposed: ratio({
      label: 'shifted voices',
      default: 0.35,
      doc: 'How much of the chorus is pitch-shifted; the rest sings along.',
    }),
    voices: number({
      default: 4,
      min: 1,
      max: MOST_VOICES,
      fixed: true,
      doc: 'How many there are. More is smoother and thicker.',
    }),
    rate: rate({ default: 0.55, min: 0.02, max: 10, doc: 'How fast each voice is modulated. Fast trembles.' }),
    depth: time({
      default: 0.0032,
      min: 0,
      max: MOST_DEPTH,
      curve: 'linear',
      doc: 'How far each voice is modulated in time, and so in pitch. A lot is out of tune.',
    }),
    wave: choice(WAVES, {
      label: 'LFO shape',
      shown: { steps: 'sample and hold' },
      default: 'sine',
      doc: 'Waveform that modulates the voices: sine is round, triangle straight, smooth random wanders, sample and hold jumps.',
    }),
    distribution: ratio({
      label: 'LFO phase spread',
      default: 1,
      doc: 'How evenly the phases of the voices are spread over the cycle. At 0 % they all move together.',
    }),
    drift: time({
      default: 0.0015,
      min: 0,
      max: MOST_DRIFT,
      curve: 'linear',
      doc: 'How far the timing of each voice is randomised. More is more human.',
    }),
    spread: ratio({ label: 'stereo spread', default: 0.9, doc: 'How far apart the voices are panned.' }),
    mirrored: toggle({
      label: 'opposite phase L/R',
      default: true,
      doc: 'Modulates the voices on the right in opposite phase to those on the left.',
    }),
    saturation: level({ label: 'drive', default: 0, min: 0, max: 24, doc: 'Warms the voices by soft saturation.' }),
    softened: frequency({
      off: 'max',
      label: 'high cut',
      default: 9000,
      min: 1000,
      max: OPEN,
      doc: 'Low-pass on the voices. Lower is older and softer.',
    }),
    width: ratio({
      label: 'stereo width',
      default: 1,
      max: 2,
      doc: 'Side level against mid: 0 % is mono, above 100 % wider than it is.',
    }),
    gain: level({
      label: 'wet gain',
      default: 0,
      min: -24,
      max: 12,
      doc: 'Level of the voices, before the dry/wet mix.',
    }),
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
    { what: 'LFO phases are evenly spread over the cycle', limit: ['within', 1, 'degree'], how: 'by their delays' },
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
