import { beatOf, repeatsPicture } from '../../drawing/repeats.ts';
import type { Repeat, StagePicture } from '../../../model/picture.ts';
import type { Timing } from '../../../timing/tempo.ts';
import { chanceAt } from '../../../dsp/chances.ts';
import { decibelsToGain, exp, log } from '../../../dsp/portableMath.ts';
import { Tape, TapeHead } from '../../../dsp/tape.ts';
import { defineLiveStage } from '../../contract.ts';
import { choice, level, number, ratio, semitones, time, toggle } from '../../../params/params.ts';
import { HIGHER_COUNTS } from '../../rise.ts';
import { words } from '../../../model/words.ts';

const LONGEST_SLICE = 2;
const LONGEST_GRID = 16;
/** Every joint is a crossfade this long, or a quarter of the slice. */
const FADE_SECONDS = 0.008;
const OCTAVE = log(2);

const FIRES = {
  always: () => true,
  'every 2nd': (n: number) => n % 2 === 1,
  'every 4th': (n: number) => n % 4 === 3,
  'every 8th': (n: number) => n % 8 === 7,
  '3-3-2': (n: number) => n % 8 === 0 || n % 8 === 3 || n % 8 === 6,
  'last two of 8': (n: number) => n % 8 > 5,
} as const;
type Fires = keyof typeof FIRES;

export const stutter = defineLiveStage({
  kind: 'stutter',
  family: 'grain',
  title: 'Stutter',
  summary: 'Catches a slice of the sound on the beat and repeats it, louder or quieter, higher or lower each time.',
  keywords: words(
    'repeat, glitch, slice, roll, machine gun, stammer, beat, retrigger, loop, freeze, buffer, repeater, stuttering, fill, gated',
  ),
  mixLaw: 'linear',
  widens: true,
  grid: 'grid',
  params: {
    grid: time({
      label: 'trigger grid',
      default: { beats: 1 },
      min: 0.02,
      max: LONGEST_GRID,
      doc: 'Where on the timeline it may catch a slice. Longer catches less often.',
    }),
    slice: time({
      label: 'slice length',
      default: { note: '1/16' },
      min: 0.005,
      max: LONGEST_SLICE,
      doc: 'How long the slice is. Shorter becomes a buzz with a pitch of its own.',
    }),
    repeats: number({
      default: 3,
      min: 1,
      max: 64,
      doc: 'How often it is repeated, unless the grid catches the next one before.',
    }),
    fires: choice(Object.keys(FIRES) as Fires[], {
      label: 'trigger on',
      shown: { always: 'every step', 'last two of 8': '7th and 8th of 8' },
      default: 'every 4th',
      doc: 'At which steps of the grid it catches a slice.',
    }),
    on: toggle({
      label: 'capture',
      act: { on: 'capture', off: 'let through' },
      default: true,
      doc: 'Off lets everything through; it catches nothing new.',
    }),
    chance: ratio({
      label: 'probability',
      default: 1,
      doc: 'How likely it is to catch a slice at each of those steps.',
    }),
    levelStep: level({
      label: 'level per repeat',
      default: -2,
      min: -12,
      max: 6,
      doc: 'How much louder or quieter each repeat is.',
    }),
    pitchStep: semitones({
      label: 'pitch per repeat',
      default: 0,
      min: -12,
      max: 12,
      doc: 'How much higher or lower each repeat is.',
    }),
    backwards: ratio({ label: 'reverse probability', default: 0, doc: 'How likely each repeat is to play reversed.' }),
    gate: ratio({
      label: 'gate length',
      default: 1,
      min: 0.05,
      doc: 'How much of each repeat is heard before it is cut. Less is choppier.',
    }),
    softness: ratio({
      label: 'fade-out',
      default: 0.1,
      doc: 'How softly a repeat that is cut ends, as a share of the slice.',
    }),
  },
  groups: {
    trigger: ['grid', 'fires', 'on', 'chance'],
    slice: ['slice', 'repeats'],
    'each repeat': ['levelStep', 'pitchStep', 'backwards', 'gate', 'softness'],
  },
  picture: ({ values, timing }) => picture(values, timing),
  exempt: [
    { trial: 'block length', within: 0.0001, because: 'some of its values move in straight lines from block to block' },
  ],
  heldTo: [
    { what: 'Repeats begin on the grid', limit: ['within', 1, 'sample'], how: 'by what is heard of a ramp' },
    { what: 'At no joint is the step larger than the sound’s own largest', how: 'by the steps of tones and vowels' },
  ],
  mayRise: {
    by: 'the step in level of all its repeats, and 4 LU more upwards in pitch, as high tones count for more',
    most: ({ levelStep, pitchStep, repeats }) =>
      Math.max(0, levelStep * Math.round(repeats)) + (pitchStep > 0 ? HIGHER_COUNTS : 0),
  },
  tailSeconds: ({ slice, repeats }) => slice * (Math.round(repeats) + 1) + 0.02,
  create({ sampleRate, inputChannels, random }, { fires }) {
    const tape = new Tape((LONGEST_GRID + 2 * LONGEST_SLICE) * sampleRate);
    const seed = Math.floor(random() * 4294967296);
    const live = new TapeHead();
    const heads = [new TapeHead(), new TapeHead()];
    const longestFade = Math.round(FADE_SECONDS * sampleRate);
    let fade = longestFade;
    const isPlace = FIRES[fires];
    let current = 0;
    /** Frame of the tape at which the slice begins; its length; how many repeats have begun, −1 for none. */
    let first = 0;
    let length = 0;
    let begun = -1;
    live.open(1, true);

    /** Where the n-th place of the grid lies. */
    const placeOf = (n: number, grid: number) => Math.round(n * grid);
    const swap = () => {
      heads[current].open(0);
      current = 1 - current;
    };
    const begin = (
      head: TapeHead,
      n: number,
      pitchStep: number,
      levelStep: number,
      backwards: number,
      gate: number,
      softness: number,
    ) => {
      const speed = exp(((begun * pitchStep) / 12) * OCTAVE);
      const turned = chanceAt(seed + begun, n) < backwards;
      const heard = Math.min(length * gate, length / speed);
      // A repeat that fills its slice is faded over into the next one; a shorter one ends by itself.
      const life = heard >= length - 1 ? length + 4 * fade : Math.max(2 * fade, Math.round(heard));
      head.set(turned ? first + length - 1 : first, turned ? -speed : speed, decibelsToGain(begun * levelStep), life);
      head.endFade = Math.max(fade, Math.min(life, Math.round(softness * length)));
      head.share = 0;
      head.open(1);
    };
    return {
      memoryFrames: (LONGEST_GRID + LONGEST_SLICE) * sampleRate,
      reset() {
        tape.reset();
        heads[0].open(0, true);
        heads[1].open(0, true);
        live.open(1, true);
        begun = -1;
      },
      process(input, output, frames, values, position) {
        const from = tape.written;
        tape.write(input[0], input[inputChannels - 1], frames);
        const left = output[0];
        const right = output[1];
        for (let i = 0; i < frames; i++) {
          left[i] = 0;
          right[i] = 0;
        }
        const grid = values.grid.end * sampleRate;
        const repeats = Math.round(values.repeats.end);
        for (let done = 0; done < frames;) {
          const here = position + done;
          const now = from + done;
          const n = Math.ceil((here - 0.5) / grid);
          const next = placeOf(n, grid);
          if (next === here && values.on && isPlace(((n % 8) + 8) % 8) && chanceAt(seed, n) < values.chance.end) {
            // The slice itself is heard as it comes in; the repeats follow.
            first = now;
            length = Math.max(8, Math.round(values.slice.end * sampleRate));
            fade = Math.max(2, Math.min(longestFade, length >> 2));
            begun = 0;
            live.open(1);
            heads[current].open(0);
          }
          if (begun >= 0 && now === first + (begun + 1) * length) {
            if (begun === repeats) {
              begun = -1;
              heads[current].open(0);
              live.open(1);
            } else {
              begun++;
              live.open(0);
              swap();
              begin(
                heads[current],
                n,
                values.pitchStep.end,
                values.levelStep.end,
                values.backwards.end,
                values.gate.end,
                values.softness.end,
              );
            }
          }
          let until = frames - done;
          const place = next > here ? next : placeOf(n + 1, grid);
          if (place - here < until) until = place - here;
          if (begun >= 0 && first + (begun + 1) * length - now < until) until = first + (begun + 1) * length - now;
          if (until < 1) until = 1;
          live.set(now, 1, 1, Infinity);
          live.run(tape, left, right, done, until, now, fade);
          heads[0].run(tape, left, right, done, until, now, fade);
          heads[1].run(tape, left, right, done, until, now, fade);
          done += until;
        }
      },
    };
  },
});

function picture(
  values: Readonly<Record<'repeats' | 'slice' | 'levelStep' | 'pitchStep', number>>,
  timing: Timing,
): StagePicture {
  const repeats = Array.from({ length: Math.round(values.repeats) }, (_, n): Repeat => ({
    at: (n + 1) * values.slice,
    level: decibelsToGain((n + 1) * values.levelStep),
    pan: 0,
    pitch: (n + 1) * values.pitchStep,
  }));
  return repeatsPicture('A slice and its repeats over the beat', repeats, beatOf(timing));
}
