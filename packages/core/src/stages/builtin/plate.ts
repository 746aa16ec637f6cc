import { decayPicture } from '../drawing/timePictures.ts';
import { ringSize } from '../../dsp/lagrange.ts';
import { Lfo } from '../../dsp/lfo.ts';
import { TAU, exp, log } from '../../dsp/portableMath.ts';
import { constant, type Ramp } from '../../model/ramp.ts';
import { SHARP_REACH, readSharp, sharpTable } from '../../dsp/sharpRead.ts';
import { SteppedDelay } from '../../dsp/steppedDelay.ts';
import { defineLiveStage } from '../contract.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import { frequency, ratio, time } from '../../params/params.ts';
import { NOTHING, settled } from '../../dsp/settled.ts';
import { words } from '../../model/words.ts';

/** The rate that the lengths are given for. */
const PAPER_RATE = 29761;
const INPUT_DIFFUSERS = [142, 107, 379, 277];
/** Of each half: the moving all-pass, the first line, the second all-pass, the second line. */
const HALVES = [
  [672, 4453, 1800, 3720],
  [908, 4217, 2656, 3163],
];
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
/** Square seconds. */
const FILLING = 0.007;
const MOST_EXCURSION = 32;
const MOST_PRE_DELAY = 0.5;
const TAP_GAIN = 1.05;
const FIRST_SECONDS = 0.0185;
/** Hz from which the low passes are open. */
const HIGHEST = 20000;
const AHEAD = constant(0);
const QUARTER = constant(0.25);

/** A ring with the place it is written at shared by all. */
interface Line {
  readonly memory: Float32Array;
  readonly mask: number;
  readonly length: number;
}

/** What is left of a sound after a way of so many frames, at the start and at the end of a block. */
class Kept {
  private readonly frames: number;
  start = NaN;
  end = NaN;

  constructor(frames: number) {
    this.frames = frames;
  }

  /** `loss` is the natural logarithm of what a frame leaves; `fresh` when it shall not glide there. */
  follow(loss: number, fresh: boolean): void {
    const goal = exp(loss * this.frames);
    this.start = fresh ? goal : this.end;
    this.end = goal;
  }
}

/** The part of highs that a one-pole low pass lets into its state every frame; at the end of the scale all of it. */
function openness(hertz: number, sampleRate: number): number {
  const step = 1 - exp((-TAU * Math.min(hertz, 0.45 * sampleRate)) / sampleRate);
  const opened = (hertz - HIGHEST / 2) / (HIGHEST / 2);
  return opened <= 0 ? step : step + opened * opened * (1 - step);
}

/**
 * Gain by which a sound that lasts comes out as loud, whatever the decay: the energy of the response grows with it, from
 * the mean time on at which the first of it comes.
 */
function levelOf(decay: number): number {
  return Math.sqrt(exp((2 * log(1000) * FIRST_SECONDS) / decay) / decay);
}

/**
 * A plate: two rows of all-pass sections and delays, each feeding the other (J. Dattorro, "Effect design, part 1:
 * reverberator and other filters", 1997). Here nothing is lost at the joints, but in every delay, the all-pass sections'
 * too, as much as its length asks for: all poles move inwards by the same factor, so the decay is exact however short.
 */
export const plate = defineLiveStage({
  kind: 'plate',
  family: 'space',
  title: 'Plate reverb',
  summary: 'The reverb of a suspended steel plate: dense at once, bright, without a place.',
  keywords: words(
    'reverb, reverberation, metal, bright, vocal, dense, shimmer, tail, sixties, plate, steel, studio, smooth, rt60, damping, snare',
  ),
  mixLaw: 'equal-power',
  widens: true,
  firstMix: 0.3,
  params: {
    decay: time({
      label: 'decay time',
      default: 2.2,
      min: 0.2,
      max: 30,
      doc: 'RT60: time until the reverb has fallen by 60 dB. Longer washes sounds together.',
    }),
    preDelay: time({
      label: 'pre-delay',
      default: 0.012,
      min: 0,
      max: MOST_PRE_DELAY,
      curve: 'linear',
      doc: 'Silence before the plate answers. Longer keeps the sound in front.',
    }),
    bandwidth: frequency({
      label: 'input high cut',
      off: 'max',
      default: 12000,
      min: 200,
      max: HIGHEST,
      doc: 'Low-pass before the plate. Lower is softer from the start.',
    }),
    damping: frequency({
      label: 'damping frequency',
      off: 'max',
      default: 7000,
      min: 200,
      max: HIGHEST,
      doc: 'Above it the tail decays faster. Lower darkens it as it fades.',
    }),
    diffusion: ratio({
      default: 1,
      doc: 'How much transients are smeared on the way in. Less lets them through as echoes.',
    }),
    excursion: ratio({
      label: 'modulation depth',
      default: 0.5,
      doc: 'How far the delays inside are modulated. A little hides ringing, a lot detunes it.',
    }),
    width: ratio({ label: 'stereo width', default: 1, doc: 'From mono in the centre (0 %) to all around (100 %).' }),
  },
  picture: ({ stage, values }) => decayPicture(stage, values),
  heldTo: [
    {
      what: 'Falls by 60 dB in the set decay over the whole scale, with damping at 20 kHz in every octave from 500 Hz to 4 kHz',
      limit: ['within', 15, '%'],
      how: 'after ISO 3382, on an impulse',
    },
    {
      what: 'A sound that lasts is as loud with a short decay as with a long one',
      limit: ['within', 1.5, 'dB'],
      how: 'on noise',
    },
    { what: 'Left and right of its tail correlate by', limit: ['less than', 0.3, ''], how: 'on an impulse' },
  ],
  mayRise: {
    by: '4 LU, for a tone that meets one of its modes',
    most: () => 4,
  },
  tailSeconds: ({ decay, preDelay }) => 1.1 * decay + preDelay + 0.5,
  create({ sampleRate, random, inputChannels }) {
    const scale = sampleRate / PAPER_RATE;
    const lineOf = (frames: number): Line => {
      const length = Math.round(frames * scale);
      const size = ringSize(length + Math.ceil(MOST_EXCURSION * scale) + SHARP_REACH);
      return { memory: new Float32Array(size), mask: size - 1, length };
    };
    const diffusers = INPUT_DIFFUSERS.map(lineOf);
    const halves = HALVES.map((lengths) => lengths.map(lineOf));
    const taps = TAPS.map((side) =>
      side.map(([half, line, place, sign]) => ({
        line: halves[half][line],
        place: Math.round(place * scale),
        gain: sign * TAP_GAIN,
        kept: new Kept(place * scale),
      })),
    );
    const diffusersKeep = diffusers.map(({ length }) => new Kept(length));
    const halvesKeep = halves.map((lines) => lines.map(({ length }) => new Kept(length)));
    const everyKept = [...diffusersKeep, ...halvesKeep.flat(), ...taps.flatMap((side) => side.map(({ kept }) => kept))];
    const weights = sharpTable();
    /** What was read between the frames of a moving line. */
    const read = new Float64Array(BLOCK_FRAMES);
    const preDelay = new SteppedDelay(MOST_PRE_DELAY * sampleRate, BLOCK_FRAMES, sampleRate);
    const sway = new Lfo(sampleRate, random);
    const swayRate = constant(1.03);
    const moves = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)];
    const fed = new Float64Array(BLOCK_FRAMES);
    const wet = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)];
    /** Bandwidth, damping of the two halves, what each half gives the other. */
    const states = new Float64Array(5);
    let position = 0;
    const level = constant(1);
    let decay = NaN;
    let gliding = true;
    const onePole = (hertz: number) => openness(hertz, sampleRate);

    const keep = (seconds: number) => {
      if (seconds === decay && !gliding) return;
      const fresh = Number.isNaN(decay);
      gliding = !fresh && seconds !== decay;
      decay = seconds;
      // While the plate fills it hardly falls, which makes short decays longer as measured from −5 to −35 dB.
      const falling = seconds - FILLING / seconds;
      const loss = -log(1000) / (falling * sampleRate);
      for (let k = 0; k < everyKept.length; k++) everyKept[k].follow(loss, fresh);
      const goal = levelOf(falling);
      level.start = fresh ? goal : level.end;
      level.end = goal;
    };

    const diffuse = (frames: number, { start, end }: Ramp) => {
      for (let d = 0; d < 4; d++) {
        const { memory, mask, length } = diffusers[d];
        let g = start * (d < 2 ? 0.75 : 0.625);
        const step = (end * (d < 2 ? 0.75 : 0.625) - g) / frames;
        let kept = diffusersKeep[d].start;
        const keptStep = (diffusersKeep[d].end - kept) / frames;
        for (let i = 0; i < frames; i++) {
          const at = position + i;
          const old = kept * memory[(at - length) & mask];
          let into = fed[i] - g * old;
          if (into < NOTHING && into > -NOTHING) into = 0;
          memory[at & mask] = into;
          fed[i] = old + g * into;
          g += step;
          kept += keptStep;
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
        decay = NaN;
      },
      process(input, output, frames, values, place) {
        sway.begin(place, swayRate.start);
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
        keep(values.decay.end);
        diffuse(frames, values.diffusion);
        sway.read(moves[0], frames, 'sine', swayRate, AHEAD);
        sway.read(moves[1], frames, 'sine', swayRate, QUARTER);
        sway.advance(frames, swayRate);
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
          const givenKept = halvesKeep[1 - h][3];
          const swayingKept = halvesKeep[h][0];
          const firstKept = halvesKeep[h][1];
          const secondKept = halvesKeep[h][2];
          let far = farStart;
          for (let i = 0; i < frames; i++) {
            const place = ((position + i) & swaying.mask) + swaying.mask + 1 - swaying.length - far * move[i];
            readSharp(read, i, weights, swaying.memory, swaying.mask, place);
            far += farStep;
          }
          let damped = states[1 + h];
          let dampStep = dampStart;
          let fromGiven = givenKept.start;
          let fromSwaying = swayingKept.start;
          let fromFirst = firstKept.start;
          let fromSecond = secondKept.start;
          const givenStep = (givenKept.end - fromGiven) / frames;
          const swayingStep = (swayingKept.end - fromSwaying) / frames;
          const firstStep = (firstKept.end - fromFirst) / frames;
          const secondStep = (secondKept.end - fromSecond) / frames;
          for (let i = 0; i < frames; i++) {
            const at = position + i;
            let x = fed[i] + fromGiven * given.memory[(at - given.length) & given.mask];
            if (x < NOTHING && x > -NOTHING) x = 0;
            const old = fromSwaying * read[i];
            let into = x + 0.7 * old;
            if (into < NOTHING && into > -NOTHING) into = 0;
            swaying.memory[at & swaying.mask] = into;
            first.memory[at & first.mask] = old - 0.7 * into;
            damped += dampStep * (fromFirst * first.memory[(at - first.length) & first.mask] - damped);
            const later = fromSecond * second.memory[(at - second.length) & second.mask];
            let again = damped - 0.5 * later;
            if (again < NOTHING && again > -NOTHING) again = 0;
            second.memory[at & second.mask] = again;
            last.memory[at & last.mask] = later + 0.5 * again;
            dampStep += dampGrowth;
            fromGiven += givenStep;
            fromSwaying += swayingStep;
            fromFirst += firstStep;
            fromSecond += secondStep;
          }
          states[1 + h] = settled(damped);
        }
        for (let side = 0; side < 2; side++) {
          const sum = wet[side];
          for (let i = 0; i < frames; i++) sum[i] = 0;
          const own = taps[side];
          for (let n = 0; n < own.length; n++) {
            const { line, place, gain, kept } = own[n];
            let heard = gain * level.start * kept.start;
            const heardStep = (gain * level.end * kept.end - heard) / frames;
            for (let i = 0; i < frames; i++) {
              sum[i] += heard * line.memory[(position + i - place) & line.mask];
              heard += heardStep;
            }
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
