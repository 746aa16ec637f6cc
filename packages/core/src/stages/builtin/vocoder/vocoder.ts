import { bandsPicture } from './bandsPicture.ts';
import { prepareHeld } from '../../heldSound.ts';
import { defineLiveStage } from '../../contract.ts';
import { choice, frequency, level, number, ratio, semitones, sound, time, toggle } from '../../../params/params.ts';
import { together } from '../../rise.ts';
import { CARRIERS, CHORDS, VocoderProcessor, type Chord } from './vocoderProcessor.ts';
import { words } from '../../../model/words.ts';

export const vocoder = defineLiveStage({
  kind: 'vocoder',
  family: 'pitch',
  title: 'Vocoder',
  summary: 'Lets something else speak: the bands of the voice shape those of a chord, a noise or another sound.',
  keywords: words(
    'robot, talking, speak, machine, choir, synth voice, whisper, talk box, carrier, formant, modulator, filter bank, speech, vowels, consonants, synthesise, synthesize',
  ),
  mixLaw: 'linear',
  widens: true,
  retunes: true,
  params: {
    carrier: choice(CARRIERS, {
      shown: { pulse: 'square', 'another sound': 'sound' },
      default: 'chord',
      doc: 'What is made to speak: a sawtooth, a square, noise for a whisper, a chord, or another sound.',
    }),
    other: sound({
      label: 'carrier sound',
      needed: ({ carrier }) => carrier === 'another sound',
      doc: 'The sound that speaks when the carrier is a sound: chords, wind, rain. It loops from the start of the timeline.',
    }),
    note: frequency({
      label: 'carrier note',
      default: 110,
      min: 27.5,
      max: 880,
      doc: 'The tone, or the root of the chord; a note such as A2.',
    }),
    chord: choice(Object.keys(CHORDS) as Chord[], { default: 'minor', doc: 'Which tones stand on the root.' }),
    bands: number({
      label: 'number of bands',
      default: 20,
      min: 8,
      max: 40,
      fixed: true,
      doc: 'How many bands there are. Few sound like an early machine, many can be understood.',
    }),
    attack: time({ default: 0.004, min: 0.001, max: 0.2, doc: 'How fast a band opens. Longer blurs consonants.' }),
    release: time({
      default: 0.04,
      min: 0.005,
      max: 2,
      doc: 'How slowly a band closes. Longer lets the words ring into each other.',
    }),
    bandShift: semitones({
      label: 'formant shift',
      default: 0,
      min: -12,
      max: 12,
      doc: 'Moves all bands of the carrier up or down: a smaller or larger mouth.',
    }),
    stretch: ratio({
      label: 'formant stretch',
      default: 1,
      min: 0.5,
      max: 2,
      doc: 'Draws the bands apart or together around the middle: from numb to shrill.',
    }),
    unvoiced: ratio({
      label: 'unvoiced noise',
      default: 0.7,
      doc: 'How much noise takes the place of the carrier where the voice hisses. More is clearer.',
    }),
    sibilants: level({
      label: 'sibilance level',
      default: -14,
      min: -60,
      max: 6,
      doc: 'How much of the voice’s own highs, its s and t, is let through beside.',
    }),
    sibilantsFrom: frequency({
      label: 'sibilance crossover',
      default: 5500,
      min: 2000,
      max: 12000,
      doc: 'Where those highs begin.',
    }),
    spread: ratio({
      label: 'stereo spread',
      default: 0.5,
      doc: 'Puts neighbouring bands on opposite sides. More is wider.',
    }),
    hold: toggle({
      label: 'freeze',
      act: { on: 'freeze', off: 'let go' },
      default: false,
      doc: 'Keeps the bands as they are: the vowel of this moment stays.',
    }),
    gain: level({
      label: 'vocoded gain',
      default: 0,
      min: -24,
      max: 24,
      doc: 'Level of what speaks, beside the sibilance of the voice.',
    }),
  },
  groups: {
    carrier: ['carrier', 'other', 'note', 'chord'],
    bands: ['bands', 'bandShift', 'stretch'],
    envelope: ['attack', 'release', 'hold'],
    consonants: ['unvoiced', 'sibilants', 'sibilantsFrom'],
    output: ['spread', 'gain'],
  },
  picture: ({ values }) => bandsPicture(values),
  exempt: [{ trial: 'jump', because: 'its carrier has highs of its own, and beats' }],
  heldTo: [
    {
      what: 'In each band with a partial of the carrier the gain follows the voice’s envelope, smoothed as set, within 10 ms; 0.85 where the voice glides from one band into the next: correlation',
      limit: ['at least', 0.95, ''],
      how: 'band by band, on an artificial voice',
    },
  ],
  mayRise: {
    by: 'its gain and the sibilants together, and up to 10 LU more with a long release, which keeps the peaks',
    most: ({ gain, sibilants, release }) => Math.max(0, together(gain + (10 * release) / (release + 0.2), sibilants)),
  },
  tailSeconds: ({ attack, release, hold }) => (hold ? Infinity : 10 * release + 8 * attack + 0.2),
  prepare: prepareHeld,
  create: (context, values) => new VocoderProcessor(context, values),
});
