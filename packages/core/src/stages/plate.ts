import { ringSize } from '../dsp/lagrange.ts';
import { Lfo } from '../dsp/lfo.ts';
import { TAU, exp, log } from '../dsp/portableMath.ts';
import { constant, type Ramp } from '../dsp/ramp.ts';
import { SteppedDelay } from '../dsp/steppedDelay.ts';
import { BLOCK_FRAMES, defineLiveStage } from './contract.ts';
import { frequency, ratio, time } from './params.ts';
import { NOTHING, settled } from '../dsp/settled.ts';

/** The rate that the lengths are given for. */
const PAPER_RATE = 29761;
const INPUT_DIFFUSERS = [142, 107, 379, 277];
/** Of each half: the moving all-pass, the first line, the second all-pass, the second line. */
const HALVES = [
  [672, 4453, 1800, 3720],
  [908, 4217, 2656, 3163],
];
const ROUND_SECONDS = (672 + 4453 + 1800 + 3720 + 908 + 4217 + 2656 + 3163) / PAPER_RATE;
/** Where each side listens: half, which of its lines (1, 2 or 3), place, sign. */
const TAPS = [
  [
    [1, 1, 266, 1],
    [1, 1, 2974, 1],
    [1, 2, 1913, -1],
    [1, 3, 1996, 1],
    [0, 1, 1990, -1],
    [0, 2, 187, -1],
    [0, 3, 1066, -1],
  ],
  [
    [0, 1, 353, 1],
    [0, 1, 3627, 1],
    [0, 2, 1228, -1],
    [0, 3, 2673, 1],
    [1, 1, 2111, -1],
    [1, 2, 335, -1],
    [1, 3, 121, -1],
  ],
];
const RING_SECONDS = 0.09;
const MOST_EXCURSION = 32;
const MOST_PRE_DELAY = 0.5;
const TAP_GAIN = 0.6;
const AHEAD = constant(0);
const QUARTER = constant(0.25);

/** A ring with the place it is written at shared by all. */
interface Line {
  readonly memory: Float64Array;
  readonly mask: number;
  readonly length: number;
}

/**
 * A plate: two rows of all-pass sections and delays, each feeding the other (J. Dattorro, "Effect design, part 1:
 * reverberator and other filters", 1997).
 */
export const plate = defineLiveStage({
  kind: 'plate',
  family: 'space',
  title: 'Plate',
  summary:
    'A reverberation as of a large hanging sheet of metal: dense from the first moment, bright, without a place.',
  keywords: ['reverb', 'reverberation', 'metal', 'bright', 'vocal', 'dense', 'shimmer', 'tail', 'sixties'],
  mixLaw: 'equal-power',
  widens: true,
  firstMix: 0.3,
  params: {
    decay: time({
      default: 2.2,
      min: 0.2,
      max: 30,
      doc: 'Time until it has fallen by 60 dB. Longer washes sounds together.',
    }),
    preDelay: time({
      default: 0.012,
      min: 0,
      max: MOST_PRE_DELAY,
      curve: 'linear',
      doc: 'Silence before the plate answers. Longer keeps the sound in front.',
    }),
    bandwidth: frequency({
      default: 12000,
      min: 200,
      max: 20000,
      doc: 'What of the highs gets into the plate. Lower is softer from the start.',
    }),
    damping: frequency({
      default: 7000,
      min: 200,
      max: 20000,
      doc: 'Above it the tail dies sooner. Lower darkens it as it fades.',
    }),
    diffusion: ratio({
      default: 1,
      doc: 'How much attacks are smeared on the way in. Less lets them through as echoes.',
    }),
    excursion: ratio({ default: 0.5, doc: 'How far the plate sways. A little hides ringing, a lot detunes it.' }),
    width: ratio({ default: 1, doc: 'From the middle (0 %) to all around (100 %).' }),
  },
  tailSeconds: ({ decay, preDelay }) => 1.1 * decay + preDelay + 0.5,
  create({ sampleRate, random, inputChannels }) {
    const scale = sampleRate / PAPER_RATE;
    const lineOf = (frames: number): Line => {
      const length = Math.round(frames * scale);
      const size = ringSize(length + Math.ceil(MOST_EXCURSION * scale) + 8);
      return { memory: new Float64Array(size), mask: size - 1, length };
    };
    const diffusers = INPUT_DIFFUSERS.map(lineOf);
    const halves = HALVES.map((lengths) => lengths.map(lineOf));
    const taps = TAPS.map((side) =>
      side.map(([half, line, place, sign]) => ({
        line: halves[half][line],
        place: Math.round(place * scale),
        gain: sign * TAP_GAIN,
      })),
    );
    const preDelay = new SteppedDelay(MOST_PRE_DELAY * sampleRate, BLOCK_FRAMES, sampleRate);
    const sway = new Lfo(sampleRate, random);
    const swayRate = constant(1.03);
    const moves = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)];
    const fed = new Float64Array(BLOCK_FRAMES);
    const wet = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)];
    /** Bandwidth, damping of the two halves, what each half gives the other. */
    const states = new Float64Array(5);
    let position = 0;
    let kept = NaN;
    const onePole = (hertz: number) => 1 - exp((-TAU * Math.min(hertz, 0.45 * sampleRate)) / sampleRate);
    // The all-pass sections ring on by themselves for a little.
    const decayOf = (seconds: number) => exp((-log(1000) * ROUND_SECONDS) / (4 * (seconds - RING_SECONDS)));

    const diffuse = (frames: number, { start, end }: Ramp) => {
      for (let d = 0; d < 4; d++) {
        const { memory, mask, length } = diffusers[d];
        let g = start * (d < 2 ? 0.75 : 0.625);
        const step = (end * (d < 2 ? 0.75 : 0.625) - g) / frames;
        for (let i = 0; i < frames; i++) {
          const at = position + i;
          const old = memory[(at - length) & mask];
          let into = fed[i] - g * old;
          if (into < NOTHING && into > -NOTHING) into = 0;
          memory[at & mask] = into;
          fed[i] = old + g * into;
          g += step;
        }
      }
    };
    return {
      memoryFrames: (MOST_PRE_DELAY + 1) * sampleRate,
      reset() {
        for (let d = 0; d < 4; d++) diffusers[d].memory.fill(0);
        for (let h = 0; h < 2; h++) for (let l = 0; l < 4; l++) halves[h][l].memory.fill(0);
        preDelay.reset();
        sway.reset();
        states.fill(0);
        position = 0;
        kept = NaN;
      },
      process(input, output, frames, values) {
        const left = input[0];
        const right = input[inputChannels - 1];
        for (let i = 0; i < frames; i++) fed[i] = 0.5 * (left[i] + right[i]);
        preDelay.pass(fed, frames, Math.round(values.preDelay.end * sampleRate));
        let bandStep = onePole(values.bandwidth.start);
        const bandGrowth = (onePole(values.bandwidth.end) - bandStep) / frames;
        let band = states[0];
        for (let i = 0; i < frames; i++) {
          band += bandStep * (fed[i] - band);
          fed[i] = band;
          bandStep += bandGrowth;
        }
        states[0] = settled(band);
        diffuse(frames, values.diffusion);
        sway.read(moves[0], frames, 'sine', swayRate, AHEAD);
        sway.read(moves[1], frames, 'sine', swayRate, QUARTER);
        sway.advance(frames, swayRate);
        const keptGoal = decayOf(values.decay.end);
        const keptStart = Number.isNaN(kept) ? keptGoal : kept;
        kept = keptGoal;
        const keptStep = (keptGoal - keptStart) / frames;
        const dampStart = onePole(values.damping.start);
        const dampGrowth = (onePole(values.damping.end) - dampStart) / frames;
        const farStart = values.excursion.start * MOST_EXCURSION * scale;
        const farStep = (values.excursion.end * MOST_EXCURSION * scale - farStart) / frames;
        // Shorter than any line, so each half may run a block by itself: what the other gave is read from its end.
        for (let h = 0; h < 2; h++) {
          const half = halves[h];
          const swaying = half[0];
          const first = half[1];
          const second = half[2];
          const last = half[3];
          const given = halves[1 - h][3];
          const move = moves[h];
          let damped = states[1 + h];
          let dampStep = dampStart;
          let g = keptStart;
          let far = farStart;
          for (let i = 0; i < frames; i++) {
            const at = position + i;
            let x = fed[i] + g * given.memory[(at - given.length) & given.mask];
            if (x < NOTHING && x > -NOTHING) x = 0;
            const place = at + swaying.mask + 1 - swaying.length - far * move[i];
            const whole = Math.floor(place);
            const t = place - whole;
            const near = swaying.memory[whole & swaying.mask];
            const old = near + t * (swaying.memory[(whole + 1) & swaying.mask] - near);
            let into = x + 0.7 * old;
            if (into < NOTHING && into > -NOTHING) into = 0;
            swaying.memory[at & swaying.mask] = into;
            first.memory[at & first.mask] = old - 0.7 * into;
            damped += dampStep * (first.memory[(at - first.length) & first.mask] - damped);
            const through = g * damped;
            const later = second.memory[(at - second.length) & second.mask];
            let again = through - 0.5 * later;
            if (again < NOTHING && again > -NOTHING) again = 0;
            second.memory[at & second.mask] = again;
            last.memory[at & last.mask] = later + 0.5 * again;
            g += keptStep;
            dampStep += dampGrowth;
            far += farStep;
          }
          states[1 + h] = settled(damped);
        }
        for (let side = 0; side < 2; side++) {
          const sum = wet[side];
          for (let i = 0; i < frames; i++) sum[i] = 0;
          const own = taps[side];
          for (let n = 0; n < own.length; n++) {
            const { line, place, gain } = own[n];
            for (let i = 0; i < frames; i++) sum[i] += gain * line.memory[(position + i - place) & line.mask];
          }
        }
        const widthStep = (values.width.end - values.width.start) / frames;
        let width = values.width.start;
        for (let i = 0; i < frames; i++) {
          const middle = 0.5 * (wet[0][i] + wet[1][i]);
          const side = 0.5 * width * (wet[0][i] - wet[1][i]);
          output[0][i] = middle + side;
          output[1][i] = middle - side;
          width += widthStep;
        }
        position = (position + frames) & 0x3fffffff;
      },
    };
  },
});
