import { GlidingDelay } from '../dsp/glidingDelay.ts';
import { Lfo } from '../dsp/lfo.ts';
import { readCubic, ringSize } from '../dsp/lagrange.ts';
import { TAU, exp, log } from '../dsp/portableMath.ts';
import { constant } from '../dsp/ramp.ts';
import { BLOCK_FRAMES, defineLiveStage } from './contract.ts';
import { degrees, number, rate } from './params.ts';

/** Frames that the delay has at least, for the cubic. */
const LEAST = 4;
const SLOWEST = 0.5; // Hz
const DEEPEST = 200; // cents
const CENT = log(2) / 1200;
const AHEAD = constant(1);

export const vibrato = defineLiveStage({
  kind: 'vibrato',
  family: 'motion',
  title: 'Vibrato',
  summary: 'Moves the pitch up and down around where it was.',
  keywords: ['pitch wobble', 'warble', 'wow', 'flutter', 'singing', 'detune', 'seasick', 'gramophone'],
  mixLaw: 'linear',
  widens: true,
  params: {
    rate: rate({
      default: 5.5,
      min: SLOWEST,
      max: 14,
      doc: 'How fast the pitch moves. Slow it leans, fast it shivers.',
    }),
    depth: number({
      default: 30,
      min: 0,
      max: DEEPEST,
      doc: 'How far the pitch moves to either side, in cents. 100 cents are a semitone.',
    }),
    phase: degrees({
      default: 0,
      min: 0,
      max: 180,
      doc: 'How far the right side lags the left. More makes the sound wide and unsteady.',
    }),
  },
  tailSeconds: ({ rate: speed, depth }) => (2 * (exp(depth * CENT) - 1)) / (TAU * speed) + 0.002,
  create({ sampleRate, random }) {
    const lfo = new Lfo(sampleRate, random);
    const moves = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)];
    const lag = constant(1);
    const longest = (2 * (exp(DEEPEST * CENT) - 1)) / (TAU * SLOWEST);
    const size = ringSize(Math.ceil(longest * sampleRate) + BLOCK_FRAMES + 8);
    const memories = [new Float32Array(size), new Float32Array(size)];
    const mask = size - 1;
    let position = 0;
    const reachNow = new GlidingDelay(sampleRate, BLOCK_FRAMES);
    let deep = NaN;
    let fast = NaN;
    let goal = 0;
    return {
      memoryFrames: longest * sampleRate,
      reset() {
        memories[0].fill(0);
        memories[1].fill(0);
        lfo.reset();
        position = 0;
        reachNow.reset();
      },
      process(input, output, frames, { rate: speed, depth, phase }) {
        lag.start = 1 - phase.start / 360;
        lag.end = 1 - phase.end / 360;
        lfo.read(moves[0], frames, 'sine', speed, AHEAD);
        lfo.read(moves[1], frames, 'sine', speed, lag);
        lfo.advance(frames, speed);
        // A delay that moves by A sin(2πft) bends the pitch by 2πfA at the most.
        if (depth.end !== deep || speed.end !== fast) {
          deep = depth.end;
          fast = speed.end;
          goal = (sampleRate * (exp(deep * CENT) - 1)) / (TAU * fast);
        }
        reachNow.advance(goal, frames);
        const step = (reachNow.end - reachNow.start) / frames;
        for (let side = 0; side < 2; side++) {
          const memory = memories[side];
          const from = input[side < input.length ? side : 0];
          const out = output[side];
          const move = moves[side];
          let reach = reachNow.start;
          for (let i = 0; i < frames; i++) {
            const at = position + i;
            memory[at & mask] = from[i];
            out[i] = readCubic(memory, 0, mask, at + mask + 1 - LEAST - 2 * reach * move[i]);
            reach += step;
          }
        }
        position = (position + frames) & mask;
      },
    };
  },
});
