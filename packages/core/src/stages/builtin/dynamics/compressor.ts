import { dynamicsPicture } from '../../drawing/levelPictures.ts';
import { prepareHeld } from '../../heldSound.ts';
import { GainRamp } from '../../../dsp/gainRamp.ts';
import { LevelFollower } from '../../../dsp/levelFollower.ts';
import { constant, valueAt, type Ramp } from '../../../model/ramp.ts';
import { defineLiveStage } from '../../contract.ts';
import { BLOCK_FRAMES } from '../../../model/block.ts';
import { choice, level, number, time } from '../../../params/params.ts';
import { GainTrack, applyGain, type GainCurve } from './gainTrack.ts';
import { SIDE_PARAMS, SideInput } from './sideInput.ts';
import { words } from '../../../model/words.ts';

/**
 * Gain of a compressor in dB at a level: one to one below the knee, 1/ratio above it, a parabola between (Giannoulis et
 * al. 2012, equation 4).
 */
export function compressorGain(at: number, threshold: number, ratio: number, knee: number): number {
  const over = at - threshold;
  if (2 * over <= -knee) return 0;
  if (2 * over >= knee) return over / ratio - over;
  const into = over + knee / 2;
  return ((1 / ratio - 1) * into * into) / (2 * knee);
}

interface CurveValues {
  readonly threshold: Ramp;
  readonly ratio: Ramp;
  readonly knee: Ramp;
}

class CompressorCurve implements GainCurve {
  values: CurveValues = { threshold: constant(0), ratio: constant(1), knee: constant(0) };
  private threshold = 0;
  private ratio = 1;
  private knee = 0;

  moveTo(share: number): void {
    const { threshold, ratio, knee } = this.values;
    this.threshold = valueAt(threshold, share);
    this.ratio = valueAt(ratio, share);
    this.knee = valueAt(knee, share);
  }

  gainAt(level: number): number {
    return compressorGain(level, this.threshold, this.ratio, this.knee);
  }
}

export const compressor = defineLiveStage({
  kind: 'compressor',
  family: 'dynamics',
  title: 'Compressor',
  summary: 'Turns down what is louder than a threshold, so that loud and quiet come closer together.',
  keywords: words(
    'even, squash, punch, glue, level out, pump, radio voice, side chain, compress, compression, dynamic range, threshold, ratio, knee, rms, make-up, sidechain, control, smooth out',
  ),
  mixLaw: 'linear',
  params: {
    threshold: level({
      unit: 'dBFS',
      default: -22,
      min: -60,
      max: 0,
      doc: 'Level above which it turns down. Lower compresses more of the sound.',
    }),
    ratio: number({
      unit: ':1',
      default: 3,
      min: 1,
      max: 40,
      curve: 'log',
      doc: 'How many dB above the threshold become one. Higher is flatter; at 40:1 nearly nothing gets past.',
    }),
    knee: level({
      default: 6,
      min: 0,
      max: 24,
      doc: 'How gently it sets in around the threshold. Wider is less noticed.',
    }),
    attack: time({
      default: 0.008,
      min: 0.0002,
      max: 0.25,
      doc: 'How long it takes to take hold. Longer lets the beginnings of sounds through, which adds punch.',
    }),
    release: time({
      default: 0.12,
      min: 0.01,
      max: 3,
      doc: 'How long it takes to let go. Short pumps and breathes, long stays unnoticed.',
    }),
    detector: choice(['peak', 'power'], {
      label: 'detection',
      shown: { power: 'RMS' },
      default: 'peak',
      doc: 'What counts as loud: the highest peaks, or the mean power.',
    }),
    makeUp: level({
      label: 'make-up gain',
      default: 6,
      min: -12,
      max: 24,
      doc: 'Gain after compression, to make up for what was turned down.',
    }),
    ...SIDE_PARAMS,
  },
  groups: {
    curve: ['threshold', 'ratio', 'knee'],
    time: ['attack', 'release', 'detector'],
    output: ['makeUp'],
    sidechain: ['side', 'sideLowCut'],
  },
  picture: ({ values: { threshold, ratio: slope, knee, makeUp } }) =>
    dynamicsPicture(
      { param: 'threshold', at: threshold },
      (at) => at + compressorGain(at, threshold, slope, knee) + makeUp,
    ),
  heldTo: [{ what: 'Static transfer curve', limit: ['within', 0.2, 'dB'], how: 'by steady tones of known level' }],
  mayRise: {
    by: 'its make-up',
    most: ({ makeUp }) => Math.max(0, makeUp),
  },
  tailSeconds: () => 0,
  prepare: prepareHeld,
  create(context, { detector }) {
    const side = new SideInput(context);
    const follower = new LevelFollower(context.sampleRate);
    const track = new GainTrack();
    const levels = new Float64Array(BLOCK_FRAMES);
    const curve = new CompressorCurve();
    const makeUp = new GainRamp();
    return {
      memoryFrames: 4 * context.sampleRate,
      reset() {
        side.reset();
        follower.reset();
        track.reset();
        makeUp.reset();
      },
      process(input, output, frames, values, position) {
        const heard = side.read(input, frames, position, values.sideLowCut);
        follower.process(heard, levels, frames, values.attack.end, values.release.end, detector === 'power');
        curve.values = values;
        track.process(levels, frames, curve);
        makeUp.advance(values.makeUp.end);
        makeUp.apply(levels, frames);
        applyGain(input, output, levels, frames);
      },
    };
  },
});
