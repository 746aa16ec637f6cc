import { exp, log } from '../../../dsp/portableMath.ts';
import { Tape } from '../../../dsp/tape.ts';
import { readCubic } from '../../../dsp/lagrange.ts';
import { SINE, SINE_POINTS } from '../../../dsp/sineTable.ts';
import { defineLiveStage } from '../../contract.ts';
import { BLOCK_FRAMES } from '../../../model/block.ts';
import { number, ratio, semitones, time, toggle } from '../../../params/params.ts';
import { loopOutOfStep } from '../../rise.ts';
import { settled } from '../../../dsp/settled.ts';
import { words } from '../../../model/words.ts';

const MOST_GRAINS = 96;
const LONGEST_PAST = 4;
const LONGEST_GRAIN = 0.5;
const CHANCES = 8192;
/** Frames at least between what is fed back and what is written. */
const ROUND_SECONDS = 0.02;
const OCTAVE = log(2);
/** Seconds over which the power of the cloud is kept to that of its grains, and how far it may be changed for it. */
const LEVEL_SECONDS = 0.12;
const LEAST_GAIN = 0.05;
const MOST_GAIN = 2;
const NOTHING = 1e-12;
/** Mean square of the window of a grain. */
const WINDOW_POWER = 0.375;

export const grains = defineLiveStage({
  kind: 'grains',
  family: 'grain',
  title: 'Granular',
  summary: 'A cloud of short grains from the recent past, each with a position, a pitch and a pan of its own.',
  keywords: words(
    'granular, cloud, freeze, texture, scatter, shimmer, ambient, dust, smear, hail, grains, granulate, granular synthesis, density, jitter, particles, fragments, sparkle, reverse grains, sustain',
  ),
  mixLaw: 'equal-power',
  widens: true,
  firstMix: 0.6,
  params: {
    size: time({
      label: 'grain size',
      default: 0.12,
      min: 0.01,
      max: LONGEST_GRAIN,
      doc: 'How long a grain is. Short crackles, long is a choir of fragments.',
    }),
    density: number({
      unit: '/s',
      default: 28,
      min: 1,
      max: 200,
      curve: 'log',
      doc: 'How many grains begin in a second. More is denser, not louder.',
    }),
    regularity: ratio({
      default: 0.5,
      doc: 'How evenly they come. At 100 % they tick, at 0 % they fall like rain.',
    }),
    past: time({
      label: 'delayed grains',
      default: 0.25,
      min: 0.01,
      max: LONGEST_PAST,
      doc: 'How far back the grains are taken from.',
    }),
    scatter: time({
      label: 'position jitter',
      default: 0.3,
      min: 0,
      max: LONGEST_PAST,
      curve: 'linear',
      doc: 'How far the positions of the grains are randomised. More blurs the order of things.',
    }),
    pitch: semitones({ default: 0, min: -24, max: 24, doc: 'How much higher or lower the grains are.' }),
    pitchScatter: semitones({
      label: 'pitch jitter',
      default: 0.1,
      min: 0,
      max: 24,
      doc: 'How far the pitches of the grains are randomised.',
    }),
    backwards: ratio({ label: 'reverse probability', default: 0.2, doc: 'How likely a grain is to play reversed.' }),
    spread: ratio({ label: 'stereo spread', default: 0.8, doc: 'How far apart the grains are panned.' }),
    feedback: ratio({
      default: 0.2,
      max: 0.9,
      doc: 'How much of the cloud is fed back into the past: it feeds on itself.',
    }),
    hold: toggle({
      label: 'freeze',
      act: { on: 'freeze', off: 'let go' },
      default: false,
      doc: 'Stops recording: the cloud goes on with what it has.',
    }),
  },
  groups: {
    grains: ['size', 'density', 'regularity'],
    position: ['past', 'scatter', 'feedback', 'hold'],
    pitch: ['pitch', 'pitchScatter'],
    'direction and place': ['backwards', 'spread'],
  },
  exempt: [
    {
      trial: 'jump',
      param: 'pitch',
      because: 'on the way it passes settings at which it makes highs itself, more than at either end',
    },
  ],
  heldTo: [
    { what: 'As many grains a second as are set', limit: ['within', 2, '%'], how: 'by counting them' },
    {
      what: 'The level stays, from 10 to 100 grains a second, on noise and on tones,',
      limit: ['within', 1.5, 'dB'],
      how: 'by level',
    },
  ],
  mayRise: {
    by: '3 LU and its feedback',
    most: ({ feedback }) => 3 + loopOutOfStep(feedback),
  },
  tailSeconds: ({ size, past, scatter, feedback, hold }) =>
    hold ? Infinity : (past + scatter + size + 0.1) * (1 + 3 * (feedback < 0.01 ? 0 : 1 / -log10of(feedback))),
  create({ sampleRate, inputChannels, random }) {
    const tape = new Tape((2 * LONGEST_PAST + 4 * LONGEST_GRAIN + 1) * sampleRate);
    const chances = Float64Array.from({ length: CHANCES }, () => random());
    let drawn = 0;
    /** The grain that was begun last. */
    let slot = 0;
    // Of each grain: place, speed, age, length, left and right gain; a length of 0 is a free place.
    const places = new Float64Array(MOST_GRAINS);
    const speeds = new Float64Array(MOST_GRAINS);
    const ages = new Float64Array(MOST_GRAINS);
    const lengths = new Float64Array(MOST_GRAINS);
    const lefts = new Float64Array(MOST_GRAINS);
    const rights = new Float64Array(MOST_GRAINS);
    /** Frames until the next grain; the moment it would come without chance; how far the past is open. */
    const state = Float64Array.of(0, 0, 1);
    const round = Math.ceil(ROUND_SECONDS * sampleRate);
    const fedLeft = new Float64Array(round);
    const fedRight = new Float64Array(round);
    let fedAt = 0;
    /** Of each frame, the power of all grains one by one; the means of that and of what they are together. */
    const powers = new Float64Array(BLOCK_FRAMES);
    const means = new Float64Array(2);
    const keep = exp(-1 / (LEVEL_SECONDS * sampleRate));
    const chance = () => {
      drawn = (drawn + 1) & (CHANCES - 1);
      return chances[drawn];
    };
    return {
      memoryFrames: (2 * LONGEST_PAST + LONGEST_GRAIN + 1) * sampleRate,
      reset() {
        tape.reset();
        lengths.fill(0);
        state[0] = 0;
        state[1] = 0;
        state[2] = 1;
        fedLeft.fill(0);
        fedRight.fill(0);
        drawn = 0;
        fedAt = 0;
        means.fill(0);
      },
      process(input, output, frames, values) {
        const left = output[0];
        const right = output[1];
        const a = input[0];
        const b = input[inputChannels - 1];
        const open = values.hold ? 0 : 1;
        const reach = 1 / (0.02 * sampleRate);
        const backStep = (values.feedback.end - values.feedback.start) / frames;
        // In pieces that end where a grain begins, and are shorter than the way of what is fed back.
        for (let done = 0; done < frames;) {
          const count = Math.min(frames - done, round, Math.max(1, Math.ceil(state[0])));
          let back = values.feedback.start + backStep * done;
          if (!(values.hold && state[2] === 0)) {
            for (let i = 0; i < count; i++) {
              let share = state[2];
              share += share < open ? reach : share > open ? -reach : 0;
              state[2] = share < 0 ? 0 : share > 1 ? 1 : share;
              const at = (fedAt + i) % round;
              left[done + i] = settled(state[2] * (a[done + i] + back * soft(fedLeft[at])));
              right[done + i] = settled(state[2] * (b[done + i] + back * soft(fedRight[at])));
              back += backStep;
            }
            const { mask, written } = tape;
            for (let i = 0; i < count; i++) {
              tape.left[(written + i) & mask] = left[done + i];
              tape.right[(written + i) & mask] = right[done + i];
            }
            tape.written = written + count;
          }
          for (let i = 0; i < count; i++) {
            left[done + i] = 0;
            right[done + i] = 0;
            powers[i] = 0;
          }
          state[0] -= count;
          for (let g = 0; g < MOST_GRAINS; g++) if (lengths[g] > 0) play(g, left, right, done, count);
          level(left, right, done, count);
          for (let i = 0; i < count; i++) {
            const at = (fedAt + i) % round;
            fedLeft[at] = left[done + i];
            fedRight[at] = right[done + i];
          }
          fedAt = (fedAt + count) % round;
          done += count;
          while (state[0] <= 0) {
            begin(
              values.size.end,
              values.density.end,
              values.past.end,
              values.scatter.end,
              values.backwards.end,
              values.spread.end,
            );
            tune(values.pitch.end + values.pitchScatter.end * (2 * chance() - 1));
            const gap = sampleRate / values.density.end;
            // Each comes somewhere in its own stretch of time, so that as many come as are asked for.
            const stray = (1 - values.regularity.end) * gap * chance();
            state[0] += gap + stray - state[1];
            state[1] = stray;
          }
        }
      },
    };

    /** Writes a new grain into a free place; the oldest makes room when there is none. */
    function begin(
      size: number,
      density: number,
      past: number,
      scatter: number,
      backwards: number,
      spread: number,
    ): void {
      let free = 0;
      let oldest = -1;
      for (let g = 0; g < MOST_GRAINS; g++) {
        if (lengths[g] === 0) {
          free = g;
          oldest = Infinity;
          break;
        }
        if (ages[g] / lengths[g] > oldest) {
          oldest = ages[g] / lengths[g];
          free = g;
        }
      }
      slot = free;
      const length = Math.max(8, Math.round(size * sampleRate));
      const overlap = Math.min(MOST_GRAINS, density * size);
      const gain = 1 / Math.sqrt(Math.max(0.4, WINDOW_POWER * overlap));
      const across = spread * (2 * chance() - 1);
      places[free] = tape.written - (past + scatter * chance()) * sampleRate;
      speeds[free] = chance() < backwards ? -1 : 1;
      ages[free] = 0;
      lengths[free] = length;
      lefts[free] = gain * Math.sqrt(1 - Math.max(0, across));
      rights[free] = gain * Math.sqrt(1 + Math.min(0, across));
    }

    function tune(pitch: number): void {
      const speed = exp((pitch / 12) * OCTAVE);
      const length = lengths[slot];
      if (speeds[slot] < 0) {
        speeds[slot] = -speed;
      } else {
        speeds[slot] = speed;
      }
      // What is faster than the present must begin far enough back not to overtake it.
      const ahead = places[slot] + (speed > 1 && speeds[slot] > 0 ? length * (speed - 1) : 0) + 4;
      if (ahead > tape.written) places[slot] -= ahead - tape.written;
    }

    /**
     * Grains that play the same part of a tone add up to more than chance would have it, or cancel: the cloud is kept to
     * the power that they have one by one.
     */
    function level(left: Float32Array, right: Float32Array, offset: number, count: number): void {
      let apart = means[0];
      let together = means[1];
      for (let i = 0; i < count; i++) {
        const a = left[offset + i];
        const b = right[offset + i];
        apart = keep * apart + (1 - keep) * powers[i];
        together = keep * together + (1 - keep) * (a * a + b * b);
        let gain = Math.sqrt((apart + NOTHING) / (together + NOTHING));
        gain = gain < LEAST_GAIN ? LEAST_GAIN : gain > MOST_GAIN ? MOST_GAIN : gain;
        left[offset + i] = gain * a;
        right[offset + i] = gain * b;
      }
      means[0] = apart < NOTHING * NOTHING ? 0 : apart;
      means[1] = together < NOTHING * NOTHING ? 0 : together;
    }

    function play(g: number, left: Float32Array, right: Float32Array, offset: number, count: number): void {
      const length = lengths[g];
      const speed = speeds[g];
      const { mask } = tape;
      const frames = Math.min(count, length - ages[g]);
      let at = (places[g] % (mask + 1)) + mask + 1;
      const step = SINE_POINTS / 2 / length;
      let turn = ages[g] * step;
      const l = lefts[g];
      const r = rights[g];
      for (let i = 0; i < frames; i++) {
        // A raised cosine is the square of half a turn of a sine.
        const whole = turn | 0;
        const half = SINE[whole] + (turn - whole) * (SINE[whole + 1] - SINE[whole]);
        const window = half * half;
        const a = l * window * readCubic(tape.left, 0, mask, at);
        const b = r * window * readCubic(tape.right, 0, mask, at);
        left[offset + i] += a;
        right[offset + i] += b;
        powers[i] += a * a + b * b;
        at += speed;
        if (at >= 2 * (mask + 1)) at -= mask + 1;
        if (at < mask + 1) at += mask + 1;
        turn += step;
      }
      places[g] += speed * frames;
      ages[g] += frames;
      if (ages[g] >= length) lengths[g] = 0;
    }
  },
});

const log10of = (x: number) => log(x) / log(10);

/** Keeps what is fed back within ±1, without a corner. */
function soft(x: number): number {
  return x > 1.5 ? 1 : x < -1.5 ? -1 : x * (1 - (x * x) / 6.75);
}
