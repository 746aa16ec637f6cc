import { exp, log } from '../../dsp/portableMath.ts';
import { SpectralShifter, windowFrames } from '../../dsp/spectralShifter.ts';
import { defineLiveStage } from '../contract.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import { choice, number, semitones } from '../../params/params.ts';
import { HIGHER_COUNTS } from '../rise.ts';
import { words } from '../../model/words.ts';

/** Frames of the window at 48 kHz: four periods of the lowest voice; what tells a chord’s partials apart; a drum’s attack. */
const WINDOWS = { monophonic: 4096, polyphonic: 8192, percussive: 1024 } as const;
const OCTAVE = log(2);

const sizeOf = (mode: keyof typeof WINDOWS, sampleRate: number) => windowFrames(WINDOWS[mode], sampleRate);

export const transpose = defineLiveStage({
  kind: 'transpose',
  family: 'pitch',
  title: 'Pitch shift',
  summary: 'Moves the pitch up or down at the same speed, with the formants preserved or shifted as wanted.',
  keywords: words(
    'pitch, deep voice, high voice, octave, chipmunk, giant, child, formant, harmony, tune, transpose, pitch shift, pitch shifter, shift, semitones, detune, higher, lower, up, down, octaver, monster, key',
  ),
  sidesApart: true,
  mixLaw: 'linear',
  retunes: true,
  params: {
    interval: semitones({
      label: 'pitch shift',
      default: -5,
      min: -24,
      max: 24,
      doc: 'How far the pitch moves. An octave is 12 semitones.',
    }),
    cents: number({
      label: 'fine tune',
      unit: 'ct',
      default: 0,
      min: -100,
      max: 100,
      doc: 'Fine tuning of the pitch shift.',
    }),
    formants: choice(['kept', 'moved', 'set apart'], {
      label: 'formant mode',
      shown: { kept: 'preserved', moved: 'follow pitch', 'set apart': 'independent' },
      default: 'kept',
      doc: 'Whether the formants, the colour of a voice, are preserved, follow the pitch – giants and dwarfs –, or are set independently. Sounds that are no voice have none, and keep their levels.',
    }),
    colour: semitones({
      label: 'formant shift',
      default: 0,
      min: -12,
      max: 12,
      doc: 'Where the formants go when they are independent. Lower is a larger body, higher a smaller one.',
    }),
    mode: choice(['monophonic', 'polyphonic', 'percussive'], {
      label: 'material',
      default: 'monophonic',
      doc: 'What it is tuned for. Monophonic: voices from 75 Hz on and single instruments, 85 ms of latency. Polyphonic: chords and low notes close together, 171 ms, transients soft. Percussive: transients stay sharp, 21 ms; chords beat.',
    }),
  },
  shiftOf: ({ interval, cents }) => interval + cents / 100,
  latencyFrames: ({ mode }, sampleRate) => sizeOf(mode, sampleRate),
  heldTo: [
    { what: 'Steady tones are in tune', limit: ['within', 2, 'cents'], how: 'by the frequency of sines' },
    {
      what: 'At its defaults a steady tone keeps its level within 1 dB; in mode polyphonic the partials of a chord keep theirs',
      limit: ['within', 2, 'dB'],
      how: 'in the spectra of tones and chords',
    },
    {
      what: 'With formants preserved, those of a vowel of 75–340 Hz move over ±7 semitones by',
      limit: ['less than', 5.5, '%'],
      how: 'by a model fitted to artificial vowels',
    },
  ],
  mayRise: {
    by: '4 LU, as high tones count for more, and 4 LU an octave that formants are shifted by independently',
    most: ({ formants, colour }) => HIGHER_COUNTS + (formants === 'set apart' ? Math.abs(colour) / 3 : 0),
  },
  tailSeconds: ({ mode }) => WINDOWS[mode] / 48000,
  create({ sampleRate, outputChannels }, { mode, formants }) {
    const shifters = Array.from(
      { length: outputChannels },
      () => new SpectralShifter(sizeOf(mode, sampleRate), sampleRate, mode !== 'polyphonic'),
    );
    const scratch = new Float64Array(BLOCK_FRAMES);
    const settings = { ratio: 1, formants: 1, formantsApart: formants !== 'moved' };
    let interval = NaN;
    let colour = NaN;
    return {
      memoryFrames: 2 * sizeOf(mode, sampleRate),
      reset() {
        for (let c = 0; c < shifters.length; c++) shifters[c].reset();
      },
      process(input, output, frames, values) {
        const wanted = values.interval.end + values.cents.end / 100;
        if (wanted !== interval) {
          interval = wanted;
          settings.ratio = exp((wanted / 12) * OCTAVE);
        }
        if (values.colour.end !== colour) {
          colour = values.colour.end;
          settings.formants = formants === 'set apart' ? exp((colour / 12) * OCTAVE) : 1;
        }
        for (let c = 0; c < output.length; c++) {
          const from = input[c];
          const out = output[c];
          for (let i = 0; i < frames; i++) scratch[i] = from[i];
          shifters[c].process(scratch, frames, settings);
          for (let i = 0; i < frames; i++) out[i] = scratch[i];
        }
      },
    };
  },
});
