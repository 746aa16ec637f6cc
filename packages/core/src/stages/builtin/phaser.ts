import { movingPicture } from '../drawing/responsePictures.ts';
import { Lfo } from '../../dsp/lfo.ts';
import { PI, exp, log, log10, tan } from '../../dsp/portableMath.ts';
import { constant } from '../../model/ramp.ts';
import { defineLiveStage } from '../contract.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import { choice, degrees, frequency, number, rate, ratio } from '../../params/params.ts';
import { loopInStep } from '../rise.ts';
import { settled } from '../../dsp/settled.ts';
import { words } from '../../model/words.ts';

const COUNTS = ['2', '4', '6', '8', '10', '12'] as const;
const LOWEST = 16; // Hz
const OCTAVES = 10.5;
const POINTS = 2048;
const STILL = constant(0);
/** Octaves a second that the centre moves at the most, or it would chirp. */
const FASTEST = 30;

export const phaser = defineLiveStage({
  kind: 'phaser',
  family: 'motion',
  title: 'Phaser',
  summary: 'Mixes the sound with a phase-shifted copy, so that a few soft notches sweep through the spectrum.',
  keywords: words(
    'swirl, whoosh, sweep, seventies, notches, liquid, rotating, phasing, phase shift, all-pass, allpass, notch sweep',
  ),
  mixLaw: 'linear',
  widens: true,
  params: {
    stages: choice(COUNTS, {
      label: 'all-pass stages',
      default: '6',
      doc: 'How many all-pass filters shift the phase. Every two make one notch: few sound broad, many vocal.',
    }),
    centre: frequency({
      label: 'centre frequency',
      default: 700,
      min: 40,
      max: 8000,
      doc: 'Around which the notches sweep. Higher is thinner and more nasal.',
    }),
    depth: number({ unit: 'oct', default: 1.6, min: 0, max: 4, doc: 'How far the notches sweep to either side.' }),
    rate: rate({
      default: 0.35,
      min: 0.01,
      max: 20,
      doc: 'How fast the notches sweep. Fast becomes a bubbling vibrato.',
    }),
    shape: choice(['sine', 'triangle', 'random'], {
      label: 'LFO shape',
      shown: { random: 'smooth random' },
      default: 'sine',
      doc: 'How the notches sweep: rounded, straight, or at random.',
    }),
    phase: degrees({
      label: 'stereo phase',
      default: 90,
      min: 0,
      max: 180,
      doc: 'How far the right side lags the left. More is wider.',
    }),
    feedback: ratio({
      default: 0.4,
      min: -0.95,
      max: 0.95,
      doc: 'Feeds the phase-shifted sound back, which sharpens the peaks between the notches. Below zero the feedback is polarity-inverted: hollower.',
    }),
  },
  pictureMoves: true,
  picture: ({ stage, values, seconds }) => movingPicture(stage, values, seconds),
  heldTo: [{ what: 'Makes half as many notches as it has stages', how: 'by the response to an impulse' }],
  mayRise: {
    by: 'its feedback',
    most: ({ feedback }) => loopInStep(feedback),
  },
  // What goes round is late by count / (π f) at the lowest place of the notches, and loses by the feedback.
  tailSeconds: ({ stages, feedback, centre, depth }) => {
    const passes = Math.abs(feedback) < 0.01 ? 1 : 1 + 3 / -log10(Math.abs(feedback));
    return 0.02 + (1.5 * Number(stages) * passes) / (PI * Math.max(LOWEST, centre * exp(-depth * LN2)));
  },
  create({ sampleRate, random }, { stages }) {
    const count = Number(stages);
    const lfo = new Lfo(sampleRate, random);
    const moves = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)];
    const lag = constant(0);
    // First-order sections by their corner, over octaves from LOWEST.
    const table = Float64Array.from({ length: POINTS + 2 }, (_, i) => {
      const corner = Math.min(0.49 * sampleRate, LOWEST * exp(((i * OCTAVES) / POINTS) * LN2));
      const t = tan((PI * corner) / sampleRate);
      return (t - 1) / (t + 1);
    });
    /** Where the centre is on its way, in places of the table. */
    let middleNow = NaN;
    const states = [new Float64Array(count + 1), new Float64Array(count + 1)];
    return {
      memoryFrames: sampleRate,
      reset() {
        lfo.reset();
        middleNow = NaN;
        states[0].fill(0);
        states[1].fill(0);
      },
      process(input, output, frames, { centre, depth, rate: speed, shape, phase, feedback }, position) {
        lfo.begin(position, speed.start);
        lag.start = -phase.start / 360;
        lag.end = -phase.end / 360;
        lfo.read(moves[0], frames, shape, speed, STILL);
        lfo.read(moves[1], frames, shape, speed, lag);
        lfo.advance(frames, speed);
        const perOctave = POINTS / OCTAVES;
        const goal = (log(centre.end / LOWEST) / LN2) * perOctave;
        const most = (FASTEST * perOctave * frames) / sampleRate;
        const middleStart = Number.isNaN(middleNow) ? goal : middleNow;
        middleNow = middleStart + Math.max(-most, Math.min(most, goal - middleStart));
        const middleStep = (middleNow - middleStart) / frames;
        const depthStep = ((depth.end - depth.start) * perOctave) / frames;
        const fedStep = (feedback.end - feedback.start) / frames;
        for (let side = 0; side < 2; side++) {
          const from = input[side < input.length ? side : 0];
          const out = output[side];
          const move = moves[side];
          const state = states[side];
          let middle = middleStart;
          let deep = depth.start * perOctave;
          let fed = feedback.start;
          let last = state[count];
          for (let i = 0; i < frames; i++) {
            let place = middle + deep * (2 * move[i] - 1);
            if (place < 0) place = 0;
            if (place > POINTS) place = POINTS;
            const at = place | 0;
            const a = table[at] + (place - at) * (table[at + 1] - table[at]);
            const dry = from[i];
            let x = dry + fed * last;
            for (let s = 0; s < count; s++) {
              const y = a * x + state[s];
              state[s] = x - a * y;
              x = y;
            }
            last = x;
            out[i] = 0.5 * (dry + x);
            middle += middleStep;
            deep += depthStep;
            fed += fedStep;
          }
          state[count] = last;
          for (let s = 0; s <= count; s++) state[s] = settled(state[s]);
        }
      },
    };
  },
});

const LN2 = log(2);
