import { Tape, TapeHead } from '../../dsp/tape.ts';
import { defineLiveStage } from '../contract.ts';
import { choice, time } from '../params.ts';

const SPEEDS = { half: 1 / 2, third: 1 / 3, double: 2 } as const;
type Speed = keyof typeof SPEEDS;
const LONGEST = 16;
const GRAIN_SECONDS = 0.06;

export const halfTime = defineLiveStage({
  kind: 'halfTime',
  family: 'grain',
  title: 'Half time',
  summary: 'Plays each window of the sound at half the speed, or a third, or double, and begins again at the next bar.',
  keywords: ['slow down', 'half speed', 'double time', 'drop', 'screwed', 'slow motion', 'bar', 'tempo'],
  mixLaw: 'linear',
  widens: true,
  params: {
    speed: choice(Object.keys(SPEEDS) as Speed[], {
      default: 'half',
      doc: 'How fast it plays. Double plays the window before and catches up with the present.',
    }),
    window: time({
      default: { bars: 1 },
      min: 0.05,
      max: LONGEST,
      doc: 'How long it goes on before it jumps back to the present, counted from the beginning.',
    }),
    pitch: choice(['falls along', 'kept'], {
      default: 'falls along',
      doc: 'Whether pitch goes with the speed, as on a tape, or stays.',
    }),
    crossfade: time({
      default: 0.012,
      min: 0.003,
      max: 0.5,
      doc: 'How softly one window passes into the next.',
    }),
  },
  tailSeconds: ({ window }) => 2 * window + 0.1,
  create({ sampleRate, inputChannels }, { speed, pitch }) {
    const tape = new Tape((2 * LONGEST + 1) * sampleRate);
    const factor = SPEEDS[speed];
    const kept = pitch === 'kept';
    // Whole: two heads that take turns. Pitch kept: four, for the grains of two windows.
    const heads = Array.from({ length: 4 }, () => new TapeHead());
    const grain = Math.round(GRAIN_SECONDS * sampleRate);
    let current = 0;
    /** Frame of the tape at which the window began, and where it reads from. */
    let began = 0;
    let origin = 0;
    let begun = false;
    let nextGrain = 0;
    return {
      memoryFrames: (2 * LONGEST + 1) * sampleRate,
      reset() {
        tape.reset();
        for (let h = 0; h < 4; h++) heads[h].open(0, true);
        begun = false;
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
        const window = values.window.end * sampleRate;
        const fade = Math.round(Math.min(values.crossfade.end * sampleRate, window / 3));
        for (let done = 0; done < frames;) {
          const here = position + done;
          const now = from + done;
          const n = Math.floor((here + 0.5) / window);
          const start = Math.round(n * window);
          if (!begun || here === start) {
            // In the midst of a window it begins as if it had been there all along.
            const into = here - start;
            began = now - into;
            origin = factor > 1 ? began - window : began;
            nextGrain = now;
            if (!kept) {
              const first = !begun;
              heads[current].open(0);
              current = 1 - current;
              heads[current].set(origin + factor * into, factor, 1, Infinity);
              heads[current].open(1, first);
            }
            begun = true;
          }
          if (kept && now >= nextGrain) {
            current = (current + 1) & 3;
            const head = heads[current];
            head.set(Math.round(origin + factor * (now - began)), 1, 1, grain);
            head.endFade = grain / 2;
            head.share = 0;
            head.open(1);
            nextGrain = now + grain / 2;
          }
          let until = frames - done;
          const next = Math.round((n + 1) * window) - here;
          if (next >= 1 && next < until) until = next;
          if (kept && nextGrain - now < until) until = Math.max(1, Math.ceil(nextGrain - now));
          for (let h = 0; h < 4; h++) heads[h].run(tape, left, right, done, until, now, kept ? grain / 2 : fade);
          done += until;
        }
      },
    };
  },
});
