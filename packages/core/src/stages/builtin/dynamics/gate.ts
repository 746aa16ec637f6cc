import { dynamicsPicture } from '../../drawing/levelPictures.ts';
import { prepareHeld } from '../../heldSound.ts';
import { LevelFollower } from '../../../dsp/levelFollower.ts';
import { decibelsToGain, exp } from '../../../dsp/portableMath.ts';
import { defineLiveStage } from '../../contract.ts';
import { BLOCK_FRAMES } from '../../../model/block.ts';
import { level, time } from '../../../params/params.ts';
import { applyGain } from './gainTrack.ts';
import { SIDE_PARAMS, SideInput } from './sideInput.ts';
import { words } from '../../../model/words.ts';

/** Times of the level it looks at: fast enough for a drum, slow enough not to see the single waves of a bass. */
const LOOK_ATTACK = 0.0005;
const LOOK_RELEASE = 0.02;

export const gate = defineLiveStage({
  kind: 'gate',
  family: 'dynamics',
  title: 'Gate',
  summary: 'Closes when the sound falls below a threshold and opens when it rises above it.',
  keywords: words(
    'silence, breaths, noise, tighten, shorter, cut off, dry up, chop, noise gate, hiss, bleed, spill, hysteresis, hold, denoise, sidechain, shut, close',
  ),
  mixLaw: 'linear',
  params: {
    threshold: level({
      unit: 'dBFS',
      default: -40,
      min: -90,
      max: 0,
      doc: 'How loud it has to be to open. Higher lets only the loud parts through.',
    }),
    hysteresis: level({
      default: 4,
      min: 0,
      max: 24,
      doc: 'How far below the threshold it has to fall to close. More keeps it from fluttering.',
    }),
    floor: level({
      label: 'range',
      default: -80,
      min: -96,
      max: 0,
      doc: 'Gain when closed. Higher only lowers the pauses instead of silencing them.',
    }),
    attack: time({ default: 0.002, min: 0.0005, max: 0.5, doc: 'How fast it opens. Longer softens the beginnings.' }),
    hold: time({ default: 0.05, min: 0, max: 2, doc: 'How long it stays open after the sound has fallen.' }),
    release: time({ default: 0.12, min: 0.003, max: 5, doc: 'How slowly it closes. Longer keeps the ends of sounds.' }),
    ...SIDE_PARAMS,
  },
  picture: ({ values: { threshold, floor } }) =>
    dynamicsPicture({ param: 'threshold', at: threshold }, (at) => at + (at < threshold ? floor : 0)),
  heldTo: [{ what: 'Opens and closes as set', limit: ['within', 0.2, 'dB'], how: 'by steady tones of known level' }],
  tailSeconds: () => 0,
  prepare: prepareHeld,
  create(context) {
    const { sampleRate } = context;
    const side = new SideInput(context);
    const follower = new LevelFollower(sampleRate);
    const levels = new Float64Array(BLOCK_FRAMES);
    /** Gain, the same softened once more, frames of hold left. */
    const state = new Float64Array(3);
    return {
      memoryFrames: 8 * sampleRate,
      reset() {
        side.reset();
        follower.reset();
        state.fill(0);
      },
      process(input, output, frames, values, position) {
        const heard = side.read(input, frames, position, values.sideLowCut);
        follower.process(heard, levels, frames, LOOK_ATTACK, LOOK_RELEASE);
        const opens = decibelsToGain(values.threshold.end);
        const shuts = decibelsToGain(values.threshold.end - values.hysteresis.end);
        const floor = decibelsToGain(values.floor.end);
        const holdFrames = values.hold.end * sampleRate + 1;
        const up = 1 - exp(-2 / (values.attack.end * sampleRate));
        const down = 1 - exp(-2 / (values.release.end * sampleRate));
        let gain = state[0];
        let soft = state[1];
        let left = state[2];
        for (let i = 0; i < frames; i++) {
          if (levels[i] >= opens || (left > 0 && levels[i] >= shuts)) left = holdFrames;
          else if (left > 0) left = left > 1 ? left - 1 : 0;
          const goal = left > 0 ? 1 : floor;
          const step = goal > soft ? up : down;
          gain += step * (goal - gain);
          soft += step * (gain - soft);
          levels[i] = soft;
        }
        state[0] = gain;
        state[1] = soft;
        state[2] = left;
        applyGain(input, output, levels, frames);
      },
    };
  },
});
