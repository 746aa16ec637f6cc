import { transferPicture } from '../drawing/levelPictures.ts';
import { BypassableFilter } from '../../dsp/bypassableFilter.ts';
import type { Kernels } from '../../dsp/kernels/contract.ts';
import { TYPESCRIPT_KERNELS } from '../../dsp/kernels/typescript.ts';
import { exp, decibelsToGain } from '../../dsp/portableMath.ts';
import { SHAPES, Waveshaper, type Shape } from '../../dsp/waveshaper.ts';
import { LevelMatch } from '../../dsp/levelMatch.ts';
import { defineLiveStage } from '../contract.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import { choice, frequency, level, ratio, toggle } from '../../params/params.ts';
import { words } from '../../model/words.ts';

const FACTORS = { 'as it is': 1, '2×': 2, '4×': 4, '8×': 8 } as const;
const DC_CUT = 5; // Hz
const OPEN = 20000; // Hz

export const drive = defineLiveStage({
  kind: 'drive',
  family: 'drive',
  title: 'Distortion',
  summary: 'Distorts the waveform: from a little warmth to a torn, folded or clipped sound.',
  keywords: words(
    'distortion, overdrive, saturation, fuzz, clip, warm, dirty, megaphone, radio, drive, distort, saturate, soft clip, hard clip, clipper, wavefold, wavefolder, waveshaper, harmonics, overdriven, tube, amplifier, crunch, grit, gritty, break up, broken',
  ),
  sidesApart: true,
  mixLaw: 'linear',
  params: {
    shape: choice(SHAPES, {
      label: 'waveshape',
      shown: { soft: 'soft clip', hard: 'hard clip', fold: 'wavefold', fuzz: 'fuzz (asymmetric)' },
      default: 'soft',
      doc: 'Transfer curve: round, cut off flat, folded back, asymmetric, or as of two diodes.',
    }),
    amount: level({
      label: 'drive',
      default: 12,
      min: 0,
      max: 48,
      doc: 'Gain into the waveshape. More harmonics, less difference between loud and quiet.',
    }),
    threshold: level({
      label: 'clip level',
      default: -6,
      min: -36,
      max: 0,
      doc: 'Where hard clip cuts off and the others reach their ceiling. Lower is flatter.',
    }),
    bias: ratio({
      default: 0,
      min: -1,
      max: 1,
      doc: 'Offsets the waveform before it is shaped, which adds even harmonics (fuzz and diode have them already): fuller, later sputtering.',
    }),
    tone: frequency({
      label: 'high cut',
      off: 'max',
      default: OPEN,
      min: 200,
      max: OPEN,
      doc: 'Low-pass after the waveshape. Higher is brighter.',
    }),
    oversampling: choice(Object.keys(FACTORS) as (keyof typeof FACTORS)[], {
      shown: { 'as it is': 'off' },
      default: '4×',
      doc: 'Sample rate inside. More keeps aliasing out: 4× is clean for anything but hard wavefolding of high notes, 8× for those too, at about twice the cost.',
    }),
    matched: toggle({
      label: 'gain compensation',
      default: true,
      doc: 'Keeps the level near that of the input, so that louder is not mistaken for better: by a fixed gain that suits a sound of −18 dBFS.',
    }),
  },
  picture: ({ stage, values }) => transferPicture(stage, { ...values, oversampling: 'as it is', tone: 20000 }),
  exempt: [
    {
      trial: 'jump',
      param: 'bias',
      because: 'on the way it passes settings at which it makes highs itself, more than at either end',
    },
  ],
  latencyFrames: ({ shape, oversampling }) =>
    bending(TYPESCRIPT_KERNELS, shape, FACTORS[oversampling], 1).oversampler.latency,
  heldTo: [
    {
      what: 'Tones of 1–8 kHz at +24 dB, for folds of high notes at 8×: aliasing lies',
      limit: ['below', -70, 'dB'],
      how: 'in the spectrum, between the harmonics',
    },
    {
      what: 'Gain compensation: the level never moves by more than 1 dB for a dB of amount, and voice, drums and chord at −18 LUFS keep theirs at any setting',
      limit: ['within', 4, 'dB'],
      how: 'by loudness',
    },
    { what: 'The hard shape at −6 dB ends at 0.501', limit: ['within', 0.1, '%'], how: 'by the highest sample' },
  ],
  mayRise: {
    by: 'its amount; by 5 LU with gain compensation',
    most: ({ amount, matched }) => (matched ? 5 : amount),
  },
  // What was lopsided leaves a direct current that is taken away slowly.
  tailSeconds: () => 0.35,
  create: ({ sampleRate, outputChannels, kernels }, { shape, oversampling }) => {
    const factor = FACTORS[oversampling];
    const sides = Array.from({ length: outputChannels }, () => ({
      ...bending(kernels, shape, factor, BLOCK_FRAMES),
      tone: new BypassableFilter('low', OPEN, sampleRate),
      lastIn: 0,
      lastOut: 0,
    }));
    const scratch = new Float64Array(BLOCK_FRAMES);
    const keep = exp((-2 * 3.141592653589793 * DC_CUT) / sampleRate);
    const gain = { start: NaN, end: NaN };
    const makeUp = { start: NaN, end: NaN };
    const ceiling = { start: NaN, end: NaN };
    const goal = { gain: NaN, ceiling: NaN, makeUp: NaN };
    const match = new LevelMatch(shape);
    let amount = NaN;
    let threshold = NaN;
    let bias = NaN;
    let matched = false;
    return {
      memoryFrames: 0.3 * sampleRate,
      reset() {
        for (let c = 0; c < sides.length; c++) {
          const side = sides[c];
          side.oversampler.reset();
          side.waveshaper.reset();
          side.tone.reset();
          side.lastIn = 0;
          side.lastOut = 0;
        }
        gain.end = NaN;
      },
      process(input, output, frames, values) {
        const fresh = Number.isNaN(gain.end);
        gain.start = gain.end;
        ceiling.start = ceiling.end;
        makeUp.start = makeUp.end;
        if (
          values.amount.end !== amount ||
          values.threshold.end !== threshold ||
          values.bias.end !== bias ||
          values.matched !== matched
        ) {
          amount = values.amount.end;
          threshold = values.threshold.end;
          bias = values.bias.end;
          matched = values.matched;
          goal.gain = decibelsToGain(amount);
          goal.ceiling = decibelsToGain(threshold);
          goal.makeUp = matched ? match.gain(goal.gain, goal.ceiling, bias) : 1;
        }
        gain.end = goal.gain;
        ceiling.end = goal.ceiling;
        makeUp.end = goal.makeUp;
        if (fresh) {
          gain.start = gain.end;
          ceiling.start = ceiling.end;
          makeUp.start = makeUp.end;
        }
        const makeUpStep = (makeUp.end - makeUp.start) / frames;
        const symmetric = shape === 'soft' || shape === 'hard' || shape === 'fold';
        const lopsided = symmetric ? Math.min(1, 20 * Math.abs(values.bias.start)) : 1;
        const lopsidedStep = ((symmetric ? Math.min(1, 20 * Math.abs(values.bias.end)) : 1) - lopsided) / frames;
        for (let c = 0; c < sides.length; c++) {
          const { oversampler, waveshaper, tone } = sides[c];
          oversampler.up(input[c], frames);
          const { buffer } = oversampler;
          waveshaper.process(buffer, frames * factor, gain, ceiling, values.bias);
          oversampler.down(scratch, frames);
          tone.process(scratch, frames, values.tone);
          let { lastIn, lastOut } = sides[c];
          let up = makeUp.start;
          let share = lopsided;
          const out = output[c];
          for (let i = 0; i < frames; i++) {
            // What a lopsided bend leaves standing is taken away; a symmetric one leaves nothing.
            lastOut = scratch[i] - lastIn + keep * lastOut;
            lastIn = scratch[i];
            out[i] = up * (lastIn + share * (lastOut - lastIn));
            up += makeUpStep;
            share += lopsidedStep;
          }
          sides[c].lastIn = lastIn;
          sides[c].lastOut = lastOut;
        }
      },
    };
  },
});

/** A shape at a higher sample rate, and the way there and back. */
function bending(kernels: Kernels, shape: Shape, factor: number, frames: number) {
  const waveshaper = new Waveshaper(shape, factor > 1);
  return { waveshaper, oversampler: kernels.oversampler(factor, frames, waveshaper.latency) };
}
