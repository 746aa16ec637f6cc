import { integratedLoudness } from '../../analysis/loudness.ts';
import { HeldSound, prepareHeld } from '../heldSound.ts';
import { GainRamp } from '../../dsp/gainRamp.ts';
import { LevelFollower } from '../../dsp/levelFollower.ts';
import { log } from '../../dsp/portableMath.ts';
import { smoothStep } from '../../dsp/smoothStep.ts';
import { constant } from '../../model/ramp.ts';
import { defineLiveStage } from '../contract.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import { PassOn } from '../passOn.ts';
import { DuckerCurve } from './dynamics/ducker.ts';
import { GainTrack } from './dynamics/gainTrack.ts';
import { choice, level, sound, time, toggle } from '../../params/params.ts';
import { together } from '../rise.ts';
import { words } from '../../model/words.ts';

/** Level above which the signal counts as there, and how long it may be gone. */
const PRESENT = 0.001;
const PATIENCE_SECONDS = 0.4;
/** How fast it is noticed that the signal has gone; from 12 dB over full scale it takes `GOING_SECONDS`. */
const RELEASE_SECONDS = 0.05;
const GOING_SECONDS = RELEASE_SECONDS * log(4 / PRESENT);
/** Seconds in which the end of a loop passes into its beginning. */
const JOINT_SECONDS = 0.05;

export const bed = defineLiveStage({
  kind: 'bed',
  family: 'plumbing',
  title: 'Background bed',
  summary: 'Lays another sound, the bed, under the signal.',
  keywords: words(
    'background, ambience, atmosphere, under, layer, noise, room tone, music under, layering, background sound, music bed, rain, crowd, backing',
  ),
  mixLaw: 'linear',
  widens: true,
  params: {
    sound: sound({ doc: 'The sound that is laid under.' }),
    amount: level({
      label: 'bed level',
      default: -12,
      min: -80,
      max: 12,
      doc: 'How loud the bed lies under the signal.',
    }),
    start: time({
      label: 'start offset',
      default: 0,
      min: 0,
      max: 600,
      curve: 'linear',
      fixed: true,
      doc: 'Where in its sound the bed begins.',
    }),
    loop: toggle({ default: true, fixed: true, doc: 'Whether the bed loops or ends with its sound.' }),
    fadeIn: time({
      label: 'fade-in',
      default: 0.5,
      min: 0.005,
      max: 30,
      doc: 'How slowly the bed comes. Longer creeps in unnoticed.',
    }),
    fadeOut: time({
      label: 'fade-out',
      default: 0.8,
      min: 0.005,
      max: 30,
      doc: 'How slowly the bed goes. Longer lingers after the signal.',
    }),
    goes: choice(['with the signal', 'by itself'], {
      label: 'plays',
      shown: { 'with the signal': 'follows the signal', 'by itself': 'continuous' },
      default: 'with the signal',
      doc: 'Whether the bed comes and goes with the signal, or runs from the start to the end.',
    }),
    ducking: level({
      label: 'ducking depth',
      default: 6,
      min: 0,
      max: 40,
      doc: 'How far the bed is ducked while the signal is loud.',
    }),
    duckingThreshold: level({
      label: 'ducking threshold',
      default: -32,
      min: -70,
      max: 0,
      doc: 'How loud the signal has to be for the bed to be ducked.',
    }),
    recovery: time({
      label: 'ducking release',
      default: 0.5,
      min: 0.02,
      max: 5,
      doc: 'How slowly the bed comes back.',
    }),
  },
  groups: {
    sound: ['sound', 'amount', 'start', 'loop'],
    fades: ['fadeIn', 'fadeOut', 'goes'],
    ducking: ['ducking', 'duckingThreshold', 'recovery'],
  },
  mayRise: {
    by: 'how loud the bed is above the sound',
    most: ({ amount }, { sound: bed }) => (bed ? together(0, amount + 18 + integratedLoudness(bed)) : 0),
  },
  tailSeconds: ({ sound: name, fadeOut }) => (name === '' ? 0 : GOING_SECONDS + PATIENCE_SECONDS + fadeOut + 0.05),
  prepare: prepareHeld,
  create(context, { start, loop, goes }) {
    const { sampleRate, inputChannels, sounds } = context;
    const { sound: clip } = sounds;
    if (!clip) return new PassOn();
    const held = loopable(
      HeldSound.from(clip, 'sound', context),
      start * sampleRate,
      loop ? JOINT_SECONDS * sampleRate : 0,
    );
    const own = [new Float32Array(BLOCK_FRAMES), new Float32Array(BLOCK_FRAMES)];
    const gain = new GainRamp();
    const follower = new LevelFollower(sampleRate);
    const presence = new LevelFollower(sampleRate);
    const levels = new Float64Array(BLOCK_FRAMES);
    const track = new GainTrack();
    const curve = new DuckerCurve();
    const duck = { threshold: constant(0), amount: constant(0) };
    curve.values = duck;
    const byItself = goes === 'by itself';
    /** How far it has come, 0…1; frames of patience left. */
    const state = new Float64Array(2);
    return {
      // It may sound when nothing comes in.
      memoryFrames: byItself ? Infinity : 60 * sampleRate,
      reset() {
        gain.reset();
        follower.reset();
        presence.reset();
        track.reset();
        state.fill(0);
      },
      process(input, output, frames, values, position) {
        held.read(own, frames, position, loop);
        gain.advance(values.amount.end);
        const gainStep = (gain.end - gain.start) / frames;
        presence.process(input, levels, frames, 0.001, RELEASE_SECONDS);
        const up = 1 / (values.fadeIn.end * sampleRate);
        const down = 1 / (values.fadeOut.end * sampleRate);
        const patience = PATIENCE_SECONDS * sampleRate;
        let come = state[0];
        let left = state[1];
        let now = gain.start;
        for (let i = 0; i < frames; i++) {
          if (byItself || levels[i] > PRESENT) left = patience;
          else if (left > 0) left--;
          come += left > 0 ? up : -down;
          if (come > 1) come = 1;
          if (come < 0) come = 0;
          const share = now * smoothStep(come);
          own[0][i] *= share;
          own[1][i] *= share;
          now += gainStep;
        }
        state[0] = come;
        state[1] = left;
        if (values.ducking.start > 0 || values.ducking.end > 0) {
          follower.process(input, levels, frames, 0.01, values.recovery.end / 2);
          duck.threshold.start = values.duckingThreshold.start;
          duck.threshold.end = values.duckingThreshold.end;
          duck.amount.start = values.ducking.start;
          duck.amount.end = values.ducking.end;
          track.process(levels, frames, curve);
          for (let i = 0; i < frames; i++) {
            own[0][i] *= levels[i];
            own[1][i] *= levels[i];
          }
        }
        for (let side = 0; side < 2; side++) {
          const from = input[side < inputChannels ? side : 0];
          const out = output[side];
          for (let i = 0; i < frames; i++) out[i] = from[i] + own[side][i];
        }
      },
    };
  },
});

/** The sound from a frame on; if it is to be looped, its end passes into what lies before its beginning. */
function loopable(held: HeldSound, from: number, joint: number): HeldSound {
  const first = Math.min(held.frames - 1, Math.round(from));
  const overlap = Math.min(Math.floor(joint), Math.floor((held.frames - first) / 2));
  const channels = held.channels.map((samples) => {
    const out = samples.slice(first, held.frames - overlap);
    for (let i = 0; i < overlap; i++) {
      const share = smoothStep(i / overlap);
      out[i] = share * out[i] + (1 - share) * samples[held.frames - overlap + i];
    }
    return out;
  });
  return new HeldSound(channels);
}
