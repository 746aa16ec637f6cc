import { PICTURE_RATE } from '../drawing/axis.ts';
import { transferPicture } from '../drawing/levelPictures.ts';
import { exp, log } from '../../dsp/portableMath.ts';
import { defineLiveStage } from '../contract.ts';
import { frequency, number, ratio } from '../../params/params.ts';
import { words } from '../../model/words.ts';

const FINE = 192000; // Hz
/** Drawn before, because a function called for every sample would have its result put in a box. */
const CHANCES = 8192;

export const crush = defineLiveStage({
  kind: 'crush',
  family: 'drive',
  title: 'Bitcrusher',
  summary: 'Lowers bit depth and sample rate, as early samplers did.',
  keywords: words(
    'bit, lo-fi, sample rate, digital, retro, game, grain, downsample, telephone, crush, bitcrusher, bit depth, bit reduction, sample rate reduction, decimate, decimator, quantise, quantize, aliasing, low resolution, lofi, cheap',
  ),
  sidesApart: true,
  mixLaw: 'linear',
  params: {
    bits: number({
      label: 'bit depth',
      unit: 'bit',
      default: 8,
      min: 1,
      max: 16,
      doc: 'Bits of each sample; fractions of a bit are allowed. More is finer, fewer hiss and rasp.',
    }),
    rate: frequency({
      label: 'sample rate',
      default: 12000,
      min: 100,
      max: FINE,
      doc: 'Sample rate after reduction; lower aliases more, duller with tones that were not there.',
    }),
    jitter: ratio({
      label: 'clock jitter',
      default: 0,
      doc: 'Randomises the moments of sampling, which roughens the aliasing.',
    }),
  },
  picture: ({ stage, values }) => transferPicture(stage, { ...values, rate: 4 * PICTURE_RATE }),
  exempt: [
    {
      trial: 'jump',
      param: 'rate',
      because: 'on the way it passes settings at which it makes highs itself, more than at either end',
    },
    {
      trial: 'jump',
      param: 'bits',
      because: 'on the way it passes settings at which it makes highs itself, more than at either end',
    },
    { trial: 'direct current', because: 'samples of a wave taken too seldom are one' },
  ],
  heldTo: [{ what: 'b bits are 2 to the power of b levels', how: 'by counting the levels of a ramp' }],
  mayRise: {
    by: '18 LU at one bit and 6 less with each further one, as silence between steps becomes a step',
    most: ({ bits }) => Math.max(0, 18 - 6 * (bits - 1)),
  },
  tailSeconds: () => 0.01,
  create({ sampleRate, outputChannels, random }) {
    const held = new Float64Array(outputChannels);
    const chance = Float64Array.from({ length: CHANCES }, () => random());
    let drawn = 0;
    /** Samples of the new rate that are due; one is taken when it passes 1. */
    const due = Float64Array.of(1);
    let bits = NaN;
    let steps = 0;
    return {
      memoryFrames: 0.02 * sampleRate,
      reset() {
        held.fill(0);
        due[0] = 1;
        drawn = 0;
      },
      process(input, output, frames, values) {
        if (values.bits.end !== bits) {
          bits = values.bits.end;
          // Levels at odd places: 2^bits of them, none at zero, so that 1 bit is a square.
          steps = exp((bits - 1) * LN2);
        }
        const levels = steps;
        const top = levels - 0.5;
        const stray = values.jitter.end;
        let step = values.rate.start / sampleRate;
        const stepGrowth = (values.rate.end / sampleRate - step) / frames;
        let now = due[0];
        let next = drawn;
        for (let i = 0; i < frames; i++) {
          if (now >= 1) {
            now -= Math.floor(now) + stray * chance[next];
            next = (next + 1) & (CHANCES - 1);
            for (let c = 0; c < held.length; c++) {
              // The nearest of the levels (n + ½) / levels between −1 and 1; silence stays silence.
              const sample = input[c][i];
              const level = Math.floor(sample * levels) + 0.5;
              if (sample === 0) held[c] = 0;
              else held[c] = (level > top ? top : level < -top ? -top : level) / levels;
            }
          }
          now += step;
          step += stepGrowth;
          for (let c = 0; c < held.length; c++) output[c][i] = held[c];
        }
        due[0] = now;
        drawn = next;
      },
    };
  },
});

const LN2 = log(2);
