import { MOST_REPEATS, beatOf, repeatLevel, repeatsPicture } from '../drawing/repeats.ts';
import type { Repeat, StagePicture } from '../../model/picture.ts';
import type { Timing } from '../../timing/tempo.ts';
import { DelayLine } from '../../dsp/delayLine.ts';
import { Diffuser } from '../../dsp/diffuser.ts';
import { exp, log, log10 } from '../../dsp/portableMath.ts';
import { SpectralShifter, windowFrames } from '../../dsp/spectralShifter.ts';
import { smoothStep } from '../../dsp/smoothStep.ts';
import { defineLiveStage } from '../contract.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import { EchoTime } from './echo/echoTime.ts';
import { choice, number, ratio, semitones, time } from '../../params/params.ts';
import { HIGHER_COUNTS, loopInStep, loopOutOfStep } from '../rise.ts';
import { words } from '../../model/words.ts';

const SHORTEST = 0.08;
const LONGEST = 4;
const WINDOW = 2048;
const JOINT_SECONDS = 0.006;
const OCTAVE = log(2);
/** Scatters drawn in advance, so that nothing is called for them later. */
const CHANCES = 1024;

const lateBy = (sampleRate: number) => windowFrames(WINDOW, sampleRate);

export const pitchEcho = defineLiveStage({
  kind: 'pitchEcho',
  family: 'time',
  title: 'Pitch-shifting delay',
  summary:
    'Repeats the sound, each repeat higher or lower than the one before: it climbs, falls, scatters, runs backwards.',
  keywords: words(
    'shimmer, rising, falling, climb, octave, backwards, delay, spiral, stairs, arpeggio, pitch echo, pitch delay, pitch shift, harmonise, harmonize, reverse delay, ascend, descend, detune',
  ),
  mixLaw: 'equal-power',
  widens: true,
  firstMix: 0.45,
  retunes: true,
  params: {
    time: time({
      label: 'delay time',
      default: { note: '1/4' },
      min: SHORTEST,
      max: LONGEST,
      doc: 'Time between two repeats; backwards it is also the length of the reversed slices.',
    }),
    interval: semitones({
      label: 'pitch per repeat',
      default: 7,
      min: -24,
      max: 24,
      doc: 'How far each repeat lies above or below the one before. 12 climbs in octaves.',
    }),
    cents: number({
      label: 'fine tune',
      unit: 'ct',
      default: 0,
      min: -100,
      max: 100,
      doc: 'Fine tuning of each step.',
    }),
    scatter: semitones({
      label: 'pitch jitter',
      default: 0,
      min: 0,
      max: 12,
      doc: 'How far the pitch of each repeat is randomised. More is a flock instead of a line.',
    }),
    direction: choice(['forwards', 'backwards'], {
      default: 'forwards',
      doc: 'Whether the repeats play forwards or reversed, slice by slice.',
    }),
    feedback: ratio({
      default: 0.55,
      max: 0.98,
      doc: 'How much of each repeat is fed back: how many steps are heard.',
    }),
    smear: ratio({ label: 'diffusion', default: 0.2, doc: 'Blurs the repeats. More makes a glow out of the steps.' }),
  },
  picture: ({ values, timing }) => picture(values, timing),
  // Backwards the end of a piece is heard first, so that the transposing cannot be made up for inside.
  latencyFrames: ({ direction }, sampleRate) => (direction === 'backwards' ? lateBy(sampleRate) : 0),
  heldTo: [
    {
      what: 'The k-th repeat lies k steps away',
      limit: ['within', 3, 'cents'],
      how: 'by the pitch of the repeats of a tone',
    },
    { what: 'Backwards, slices as long as the time are reversed', how: 'sample by sample' },
  ],
  mayRise: {
    by: 'its feedback, and 4 LU more upwards, as high tones count for more',
    most: ({ feedback, interval, cents, scatter }) =>
      (Math.abs(100 * interval + cents) < 5 ? loopInStep(feedback) : loopOutOfStep(feedback)) +
      (100 * interval + cents + 100 * scatter > 0 ? HIGHER_COUNTS : 0),
  },
  tailSeconds: ({ time: step, feedback, direction }) =>
    (feedback < 0.001 ? 1 : 1 + 3 / -log10(feedback)) * (step + 0.15) + (direction === 'backwards' ? step : 0) + 0.7,
  create({ sampleRate, inputChannels, random }, { direction }) {
    const late = lateBy(sampleRate);
    const backwards = direction === 'backwards';
    const sides = [0, 1].map(() => ({
      shifter: new SpectralShifter(late, sampleRate, false),
      /** What was transposed. */
      line: new DelayLine(2 * LONGEST * sampleRate + BLOCK_FRAMES, BLOCK_FRAMES),
      block: new Float64Array(BLOCK_FRAMES),
    }));
    const scratch = new Float64Array(BLOCK_FRAMES);
    const goal = new EchoTime('crossfade', sampleRate);
    const diffuser = new Diffuser(sampleRate, BLOCK_FRAMES);
    const chances = Float64Array.from({ length: CHANCES }, () => 2 * random() - 1);
    const settings = { ratio: 1, formants: 1, formantsApart: false };
    const joint = Math.round(JOINT_SECONDS * sampleRate);
    /** Length of the piece that is turned round now; frames since it began. */
    let piece = 0;
    let since = 0;
    let drawn = 0;
    let known = NaN;

    /** Frames of the current and the next pieces, read towards their beginnings. */
    const readBackwards = (line: DelayLine, out: Float32Array, frames: number, step: number) => {
      let at = since;
      let length = piece;
      for (let done = 0; done < frames;) {
        const count = Math.min(frames - done, length - at);
        line.readBackwards(scratch, count, frames - done + 2 * at);
        for (let i = 0; i < count; i++) {
          const edge = Math.min(at + i, length - 1 - at - i);
          out[done + i] = scratch[i] * (edge < joint ? smoothStep((edge + 1) / joint) : 1);
        }
        done += count;
        at += count;
        if (at < length) continue;
        at = 0;
        length = step;
      }
    };
    return {
      memoryFrames: 3 * LONGEST * sampleRate + 2 * late,
      reset() {
        for (let side = 0; side < 2; side++) {
          sides[side].shifter.reset();
          sides[side].line.reset();
        }
        goal.reset();
        diffuser.reset();
        piece = 0;
        drawn = 0;
        known = NaN;
      },
      process(input, output, frames, values) {
        const step = Math.round(values.time.end * sampleRate);
        if (piece === 0) {
          // Late by as much as the whole stage: pieces are counted from the first frame that comes in.
          piece = step;
          since = (step - (late % step)) % step;
        }
        const interval = values.interval.end + values.cents.end / 100 + values.scatter.end * chances[drawn];
        if (interval !== known) {
          known = interval;
          settings.ratio = exp((interval / 12) * OCTAVE);
        }
        goal.advance(step - late, values.time.start === values.time.end, 1, frames);
        const fedStep = (values.feedback.end - values.feedback.start) / frames;
        for (let side = 0; side < 2; side++) {
          const { shifter, line, block } = sides[side];
          const from = input[side < inputChannels ? side : 0];
          const out = output[side];
          // Read before it is written: the way round is longer than a block.
          line.read(block, frames, goal.now.end - frames, goal.now.end - frames);
          if (goal.fading) fadeFrom(line, block, frames);
          if (!backwards) for (let i = 0; i < frames; i++) out[i] = block[i];
          let share = values.feedback.start;
          for (let i = 0; i < frames; i++) {
            block[i] = from[i] + share * block[i];
            share += fedStep;
          }
          shifter.process(block, frames, settings);
        }
        diffuser.process(sides[0].block, sides[1].block, frames, values.smear);
        for (let side = 0; side < 2; side++) {
          const { line, block } = sides[side];
          line.write(block, frames);
          if (backwards) readBackwards(line, output[side], frames, step);
        }
        since += frames;
        while (since >= piece) {
          since -= piece;
          piece = step;
          drawn = (drawn + 1) & (CHANCES - 1);
        }
      },
    };

    function fadeFrom(line: DelayLine, block: Float64Array, frames: number): void {
      line.read(scratch, frames, goal.before - frames, goal.before - frames);
      const { start, end } = goal.share;
      for (let i = 0; i < frames; i++)
        block[i] = scratch[i] + smoothStep(start + ((end - start) * i) / frames) * (block[i] - scratch[i]);
    }
  },
});

function picture(
  values: Readonly<Record<'time' | 'feedback' | 'interval' | 'cents', number>>,
  timing: Timing,
): StagePicture {
  const repeats: Repeat[] = [];
  for (let n = 1; n <= MOST_REPEATS; n++) {
    const strength = repeatLevel(values.feedback, n);
    if (strength === undefined) break;
    const pitch = n * (values.interval + values.cents / 100);
    repeats.push({ at: n * values.time, level: strength, pan: 0, pitch });
  }
  return repeatsPicture('Repeats over the beat, by pitch', repeats, beatOf(timing));
}
