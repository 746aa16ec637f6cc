import { axis } from '../drawing/axis.ts';
import type { StagePicture } from '../../model/picture.ts';
import { GlidingDelay } from '../../dsp/glidingDelay.ts';
import { Lfo } from '../../dsp/lfo.ts';
import { readCubic, ringSize } from '../../dsp/lagrange.ts';
import { TAU, log, sin } from '../../dsp/portableMath.ts';
import { constant } from '../../model/ramp.ts';
import { defineLiveStage } from '../contract.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import { degrees, number, rate } from '../../params/params.ts';
import { words } from '../../model/words.ts';

/** Frames that the delay has at least, for the cubic. */
const LEAST = 4;
const SLOWEST = 0.5; // Hz
const DEEPEST = 200; // cents
const CENT = log(2) / 1200;
const AHEAD = constant(1);
/** Least that makes the delay positive, in shares of its reach: its wave comes down to a little below −1. */
const ROOM = 1.003;

/**
 * The delay moves so that the speed is Re exp(k·e^{iθ}), k = cents · ln 2 / 1200: its peaks are exactly k and −k in pitch,
 * and its mean over a turn exactly 1, so the delay comes back to where it was. It is the integral of the series of that,
 * Σ kⁿ cos(nθ)/n!, up to the fourth term: the rest is below a thousandth of a cent. To the second it is
 * cents · (sin φ − k/2 · cos² φ).
 */
export const vibrato = defineLiveStage({
  kind: 'vibrato',
  family: 'motion',
  title: 'Vibrato',
  summary: 'Modulates the pitch up and down.',
  keywords: words(
    'pitch wobble, warble, wow, flutter, singing, detune, seasick, gramophone, pitch modulation, tremble, shaky, unsteady, wobble',
  ),
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
      unit: 'ct',
      default: 30,
      min: 0,
      max: DEEPEST,
      doc: 'How far the pitch moves to either side. 100 cents are a semitone.',
    }),
    phase: degrees({
      label: 'stereo phase',
      default: 0,
      min: 0,
      max: 180,
      doc: 'How far the right side lags the left. More makes the sound wide and unsteady.',
    }),
  },
  picture: ({ values }) => pitchPicture(values),
  heldTo: [
    {
      what: 'The pitch deviates by the set cents at its most, up and down alike, and does not drift',
      limit: ['within', 2, '%'],
      how: 'by the frequency of a sine',
    },
  ],
  tailSeconds: ({ rate: speed, depth }) => (ROOM * 2 * depth * CENT) / (TAU * speed) + 0.002,
  create({ sampleRate, random }) {
    const lfo = new Lfo(sampleRate, random);
    const cosines = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)];
    const sines = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)];
    const lag = constant(1);
    const quarter = constant(1);
    const longest = (ROOM * 2 * DEEPEST * CENT) / (TAU * SLOWEST);
    const size = ringSize(Math.ceil(longest * sampleRate) + BLOCK_FRAMES + 8);
    const memories = [new Float32Array(size), new Float32Array(size)];
    const mask = size - 1;
    let position = 0;
    /** Of the terms of the delay, one to four, in frames: where they go, and how far they have come. */
    const goals = new Float64Array(4);
    const reaches = Array.from({ length: 4 }, () => new GlidingDelay(sampleRate, BLOCK_FRAMES));
    let deep = NaN;
    let fast = NaN;
    return {
      memoryFrames: longest * sampleRate,
      reset() {
        memories[0].fill(0);
        memories[1].fill(0);
        lfo.reset();
        position = 0;
        for (let n = 0; n < 4; n++) reaches[n].reset();
      },
      process(input, output, frames, { rate: speed, depth, phase }, place) {
        lfo.begin(place, speed.start);
        lag.start = 1 - phase.start / 360;
        lag.end = 1 - phase.end / 360;
        for (let side = 0; side < 2; side++) {
          const turned = side === 0 ? AHEAD : lag;
          quarter.start = turned.start - 0.25;
          quarter.end = turned.end - 0.25;
          lfo.read(cosines[side], frames, 'sine', speed, turned);
          lfo.read(sines[side], frames, 'sine', speed, quarter);
        }
        lfo.advance(frames, speed);
        if (depth.end !== deep || speed.end !== fast) {
          deep = depth.end;
          fast = speed.end;
          const k = deep * CENT;
          goals[0] = (sampleRate * k) / (TAU * fast);
          goals[1] = (goals[0] * k) / 2;
          goals[2] = (goals[0] * k * k) / 18;
          goals[3] = (goals[0] * k * k * k) / 24;
        }
        for (let n = 0; n < 4; n++) reaches[n].advance(goals[n], frames);
        const one = reaches[0];
        const two = reaches[1];
        const three = reaches[2];
        const four = reaches[3];
        const oneStep = (one.end - one.start) / frames;
        const twoStep = (two.end - two.start) / frames;
        const threeStep = (three.end - three.start) / frames;
        const fourStep = (four.end - four.start) / frames;
        for (let side = 0; side < 2; side++) {
          const memory = memories[side];
          const from = input[side < input.length ? side : 0];
          const out = output[side];
          const cosine = cosines[side];
          const sine = sines[side];
          let first = one.start;
          let second = two.start;
          let third = three.start;
          let fourth = four.start;
          for (let i = 0; i < frames; i++) {
            const at = position + i;
            memory[at & mask] = from[i];
            const c = 2 * cosine[i] - 1;
            const s = 2 * sine[i] - 1;
            const square = c * c;
            const way = first * (ROOM + c) + c * (s * (second - fourth * (2 * square - 1)) - third * (4 * square - 3));
            out[i] = readCubic(memory, 0, mask, at + mask + 1 - LEAST - way);
            first += oneStep;
            second += twoStep;
            third += threeStep;
            fourth += fourStep;
          }
        }
        position = (position + frames) & mask;
      },
    };
  },
});

/** How far the pitch is bent over two cycles. */
function pitchPicture({ rate: hertz, depth }: { readonly rate: number; readonly depth: number }): StagePicture {
  const points: number[] = [];
  const seconds = 2 / hertz;
  for (let n = 0; n <= 160; n++) points.push((seconds * n) / 160, depth * sin((TAU * 2 * n) / 160));
  return {
    type: 'curves',
    title: 'Pitch over two cycles',
    x: axis(
      'time',
      's',
      0,
      seconds,
      [0, 0.25, 0.5, 0.75, 1].map((share) => Number((share * seconds).toPrecision(2))),
    ),
    y: axis('pitch', 'cents', -200, 200, [-200, -100, 0, 100, 200]),
    curves: [{ label: 'left', points }],
    handles: [],
  };
}
