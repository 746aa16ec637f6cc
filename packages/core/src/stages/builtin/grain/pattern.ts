import type { StagePicture } from '../../../model/picture.ts';
import { defineLiveStage } from '../../contract.ts';
import { number, ratio, time, type RatioParam } from '../../../params/params.ts';
import { exp } from '../../../dsp/portableMath.ts';
import { smoothStep } from '../../../dsp/smoothStep.ts';
import { BLOCK_FRAMES } from '../../../model/block.ts';
import type { Ramp } from '../../../model/ramp.ts';
import { words } from '../../../model/words.ts';

export const MOST_STEPS = 32;
/** Seconds of the two lags that take the edge off when a setting makes the pattern jump. */
const JUMP_SECONDS = 0.004;
const FIRST = [1, 0.15, 0.7, 0.15, 1, 0.15, 0.15, 0.7, 0.15, 0.15, 1, 0.15, 0.7, 0.15, 0.9, 0.4];

function levels(): Record<`level${number}`, RatioParam> {
  return Object.fromEntries(
    Array.from({ length: MOST_STEPS }, (_, n) => [
      `level${n + 1}`,
      ratio({
        label: `step ${n + 1}`,
        default: FIRST[n % FIRST.length],
        doc: `How much is heard at step ${n + 1}. At 0 % it is silent.`,
      }),
    ]),
  );
}

export const pattern = defineLiveStage({
  kind: 'pattern',
  family: 'grain',
  title: 'Step gate',
  summary: 'A rhythmic gate: opens and closes the sound step by step, in a pattern that is drawn.',
  keywords: words(
    'gate, trance, rhythm, chop, steps, sequence, pulse, helicopter, swing, pattern, step gate, rhythmic gate, gater, sequencer, stepped, mute, sixteenths, choppy',
  ),
  sidesApart: true,
  mixLaw: 'linear',
  grid: 'step',
  params: {
    steps: number({
      label: 'number of steps',
      default: 16,
      min: 1,
      max: MOST_STEPS,
      doc: 'How many steps there are before the pattern repeats.',
    }),
    step: time({
      label: 'step length',
      default: { note: '1/16' },
      min: 0.01,
      max: 8,
      doc: 'How long a step is. Shorter becomes a tremble.',
    }),
    swing: ratio({
      default: 0,
      max: 0.75,
      doc: 'How late every second step comes, in % of a step. 0 % is straight, 33 % a triplet; more limps.',
    }),
    length: ratio({
      label: 'gate length',
      default: 1,
      min: 0.05,
      doc: 'How much of each step is open. Less is shorter and drier.',
    }),
    smoothing: time({
      label: 'edge smoothing',
      default: 0.004,
      min: 0.003,
      max: 0.5,
      doc: 'How softly one step passes into the next. Longer is rounder.',
    }),
    floor: ratio({ default: 0, doc: 'How much is heard when it is closed.' }),
    ...levels(),
  },
  groups: {
    time: ['steps', 'step', 'swing'],
    gate: ['length', 'smoothing', 'floor'],
    levels: Array.from({ length: MOST_STEPS }, (_, n): `level${number}` => `level${n + 1}`),
  },
  picture: ({ values }) => stepsPicture(values),
  exempt: [
    {
      trial: 'move',
      param: 'length',
      because: 'a step that is shut while its edge is under way is cut short: that is what it asks for',
    },
  ],
  heldTo: [{ what: 'Steps stand on the grid', limit: ['within', 1, 'sample'], how: 'by the edges on a steady signal' }],
  tailSeconds: () => 0,
  create({ sampleRate }) {
    const gains = new Float64Array(BLOCK_FRAMES);
    const keys = Array.from({ length: MOST_STEPS }, (_, n) => `level${n + 1}` as const);
    /** The last gain, and what is left of a jump that a setting made, twice smoothed. */
    const state = new Float64Array(3);
    let begun = false;
    const fall = 1 - exp(-1 / (JUMP_SECONDS * sampleRate));
    const turned = (values: PatternValues) => {
      if (values.steps.start !== values.steps.end || values.step.start !== values.step.end) return true;
      if (values.swing.start !== values.swing.end || values.length.start !== values.length.end) return true;
      if (values.floor.start !== values.floor.end || values.smoothing.start !== values.smoothing.end) return true;
      for (let n = 0; n < keys.length; n++) {
        const ramp = values[keys[n]] as Ramp;
        if (ramp.start !== ramp.end) return true;
      }
      return false;
    };
    return {
      memoryFrames: 0,
      reset() {
        begun = false;
        state.fill(0);
      },
      process(input, output, frames, values, position) {
        const count = Math.round(values.steps.end);
        const step = values.step.end * sampleRate;
        const late = values.swing.end * step;
        const open = values.length.end;
        const floor = values.floor.end;
        const smooth = Math.min(values.smoothing.end * sampleRate, 0.9 * step * Math.min(open, 1 - values.swing.end));
        for (let i = 0; i < frames;) {
          const here = position + i;
          // Steps come in pairs; the second of a pair is late.
          const pair = Math.floor((here + 0.5) / (2 * step));
          const second = Math.round((2 * pair + 1) * step + late);
          const isSecond = here >= second;
          const n = 2 * pair + (isSecond ? 1 : 0);
          const begin = isSecond ? second : Math.round(2 * pair * step);
          const next = isSecond ? Math.round((2 * pair + 2) * step) : second;
          const shut = begin + Math.round((next - begin) * open);
          const own = floor + (1 - floor) * level(values, keys[((n % count) + count) % count]);
          const last = floor + (1 - floor) * level(values, keys[(((n - 1) % count) + count) % count]);
          const before = open < 1 ? floor : last;
          const until = Math.min(frames, i + Math.max(1, next - here));
          for (; i < until; i++) {
            const at = position + i;
            let gain = before + smoothStep((at - begin) / smooth) * (own - before);
            if (open < 1 && at >= shut) gain = own + smoothStep((at - shut) / smooth) * (floor - own);
            gains[i] = gain;
          }
        }
        if (begun && turned(values as unknown as PatternValues)) {
          state[1] = state[0] - gains[0];
          state[2] = state[1];
        }
        begun = true;
        if (state[1] !== 0 || state[2] !== 0) {
          let first = state[1];
          let second = state[2];
          for (let i = 0; i < frames; i++) {
            gains[i] += second;
            first -= fall * first;
            second += fall * (first - second);
          }
          state[1] = Math.abs(first) < 1e-9 ? 0 : first;
          state[2] = Math.abs(second) < 1e-9 ? 0 : second;
        }
        state[0] = gains[frames - 1];
        for (let c = 0; c < output.length; c++) {
          const from = input[c];
          const out = output[c];
          for (let i = 0; i < frames; i++) out[i] = gains[i] * from[i];
        }
      },
    };
  },
});

interface PatternValues {
  readonly steps: Ramp;
  readonly step: Ramp;
  readonly swing: Ramp;
  readonly length: Ramp;
  readonly smoothing: Ramp;
  readonly floor: Ramp;
  readonly [key: `level${number}`]: Ramp;
}

function level(values: { readonly [key: `level${number}`]: Ramp | number }, key: `level${number}`): number {
  return (values[key] as Ramp).end;
}

function stepsPicture(values: Readonly<Record<string, number>>): StagePicture {
  const count = Math.round(values['steps']);
  const params = Array.from({ length: Math.min(MOST_STEPS, count) }, (_, n) => `level${n + 1}`);
  return {
    type: 'steps',
    title: 'Steps',
    levels: params.map((key) => values[key]),
    params,
    swing: values['swing'],
    gate: values['length'],
  };
}
