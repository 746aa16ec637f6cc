import { movementPicture } from '../drawing/timePictures.ts';
import { LFO_SHAPES, Lfo } from '../../dsp/lfo.ts';
import { constant } from '../../model/ramp.ts';
import { defineLiveStage } from '../contract.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import { choice, degrees, rate, ratio } from '../../params/params.ts';
import { words } from '../../model/words.ts';

/** One turn ahead, so that a lag never leads before the beginning. */
const AHEAD = constant(1);

export const tremolo = defineLiveStage({
  kind: 'tremolo',
  family: 'motion',
  title: 'Tremolo / auto-pan',
  summary: 'Modulates the level, of both channels alike or from one to the other.',
  keywords: words(
    'wobble, pulsing, trembling, throb, auto pan, left and right, chop, flutter, amplitude modulation, am, autopan, auto-pan, panner, panning, pulse, shake, volume',
  ),
  mixLaw: 'linear',
  widens: true,
  params: {
    rate: rate({
      default: { note: '1/8' },
      min: 0.02,
      max: 40,
      doc: 'How fast the level moves. Slow it breathes, fast it roughens the sound.',
    }),
    depth: ratio({ default: 0.6, doc: 'How far the level falls. At 100 % it reaches silence.' }),
    shape: choice(LFO_SHAPES, {
      label: 'LFO shape',
      shown: { random: 'smooth random' },
      default: 'sine',
      doc: 'How it moves: sine is round, triangle straight, square jumps, smooth random wanders.',
    }),
    phase: degrees({
      label: 'stereo phase',
      default: 0,
      min: 0,
      max: 180,
      doc: 'How far the right side lags the left. At 180° the sound pans from one side to the other.',
    }),
  },
  picture: ({ stage, values }) => movementPicture(stage, values),
  heldTo: [
    { what: 'Its cycle keeps to the tempo, and its level falls by its depth', how: 'by the level of a steady tone' },
  ],
  tailSeconds: () => 0,
  create({ sampleRate, random }) {
    const lfo = new Lfo(sampleRate, random);
    const moves = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)];
    const lag = constant(1);
    return {
      memoryFrames: 0,
      reset: () => lfo.reset(),
      process(input, output, frames, { rate: speed, depth, shape, phase }, position) {
        lfo.begin(position, speed.start);
        // The right side is where the left was.
        lag.start = 1 - phase.start / 360;
        lag.end = 1 - phase.end / 360;
        lfo.read(moves[0], frames, shape, speed, AHEAD);
        lfo.read(moves[1], frames, shape, speed, lag);
        lfo.advance(frames, speed);
        const depthStep = (depth.end - depth.start) / frames;
        for (let side = 0; side < 2; side++) {
          const from = input[side < input.length ? side : 0];
          const out = output[side];
          const move = moves[side];
          let deep = depth.start;
          for (let i = 0; i < frames; i++) {
            out[i] = from[i] * (1 - deep * (1 - move[i]));
            deep += depthStep;
          }
        }
      },
    };
  },
});
