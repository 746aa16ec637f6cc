import { dynamicsPicture } from '../../drawing/levelPictures.ts';
import { prepareHeld } from '../../heldSound.ts';
import { LevelFollower } from '../../../dsp/levelFollower.ts';
import { constant, valueAt, type Ramp } from '../../../model/ramp.ts';
import { smoothStep } from '../../../dsp/smoothStep.ts';
import { defineLiveStage } from '../../contract.ts';
import { BLOCK_FRAMES } from '../../../model/block.ts';
import { level, time } from '../../../params/params.ts';
import { GainTrack, applyGain, type GainCurve } from './gainTrack.ts';
import { SIDE_PARAMS, SideInput } from './sideInput.ts';
import { words } from '../../../model/words.ts';

/** dB around the threshold in which it goes from nothing to all. */
const SOFTNESS = 6;

/** Gain of a ducker in dB when what it listens to has this level. */
export function duckerGain(at: number, threshold: number, amount: number): number {
  return -amount * smoothStep((at - threshold) / SOFTNESS + 0.5);
}

export class DuckerCurve implements GainCurve {
  values: { readonly threshold: Ramp; readonly amount: Ramp } = { threshold: constant(0), amount: constant(0) };
  private threshold = 0;
  private amount = 0;

  moveTo(share: number): void {
    this.threshold = valueAt(this.values.threshold, share);
    this.amount = valueAt(this.values.amount, share);
  }

  gainAt(level: number): number {
    return duckerGain(level, this.threshold, this.amount);
  }
}

export const ducker = defineLiveStage({
  kind: 'ducker',
  family: 'dynamics',
  title: 'Ducker',
  summary: 'Makes room: turns the sound down as long as the sidechain is loud.',
  keywords: words(
    'make room, side chain, pump, voice over, under the voice, radio, breathing, duck, ducking, sidechain, side-chain, pumping, dialogue, speech, lower the music',
  ),
  mixLaw: 'linear',
  params: {
    threshold: level({
      unit: 'dBFS',
      default: -30,
      min: -70,
      max: 0,
      doc: 'How loud the sidechain has to be. Lower ducks earlier.',
    }),
    amount: level({ label: 'ducking depth', default: 12, min: 0, max: 60, doc: 'How far the sound is turned down.' }),
    attack: time({ default: 0.02, min: 0.001, max: 1, doc: 'How fast the sound is ducked. Longer is gentler.' }),
    release: time({
      default: 0.4,
      min: 0.02,
      max: 5,
      doc: 'How slowly it comes back. Tempo-synced it pumps with the beat.',
    }),
    ...SIDE_PARAMS,
  },
  picture: ({ values: { threshold, amount } }) =>
    dynamicsPicture({ param: 'threshold', at: threshold }, (at) => at + duckerGain(at, threshold, amount)),
  heldTo: [{ what: 'Static transfer curve', limit: ['within', 0.2, 'dB'], how: 'by steady tones of known level' }],
  tailSeconds: () => 0,
  prepare: prepareHeld,
  create(context) {
    const side = new SideInput(context);
    const follower = new LevelFollower(context.sampleRate);
    const track = new GainTrack();
    const levels = new Float64Array(BLOCK_FRAMES);
    const curve = new DuckerCurve();
    return {
      memoryFrames: 6 * context.sampleRate,
      reset() {
        side.reset();
        follower.reset();
        track.reset();
      },
      process(input, output, frames, values, position) {
        const heard = side.read(input, frames, position, values.sideLowCut);
        follower.process(heard, levels, frames, values.attack.end, values.release.end);
        curve.values = values;
        track.process(levels, frames, curve);
        applyGain(input, output, levels, frames);
      },
    };
  },
});
