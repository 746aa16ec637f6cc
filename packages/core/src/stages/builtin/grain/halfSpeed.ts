import { axis } from '../../drawing/axis.ts';
import { beatOf } from '../../drawing/repeats.ts';
import type { StagePicture } from '../../../model/picture.ts';
import type { Timing } from '../../../timing/tempo.ts';
import { Tape, TapeHead } from '../../../dsp/tape.ts';
import { defineLiveStage } from '../../contract.ts';
import { BLOCK_FRAMES } from '../../../model/block.ts';
import { choice, time } from '../../../params/params.ts';
import { words } from '../../../model/words.ts';

const SPEEDS = { half: 1 / 2, third: 1 / 3, double: 2 } as const;
type Speed = keyof typeof SPEEDS;
const LONGEST = 16;
const GRAIN_SECONDS = 0.06;

export const halfSpeed = defineLiveStage({
  kind: 'halfSpeed',
  family: 'grain',
  title: 'Half speed',
  summary:
    'Plays each window of the sound at half the speed, or a third, or double, and jumps back to the present at the next one.',
  keywords: words(
    'slow down, half speed, double time, drop, screwed, slow motion, bar, tempo, half time, double speed, slow, slowed, half tempo, stretch, octave down',
  ),
  mixLaw: 'linear',
  grid: 'window',
  params: {
    speed: choice(Object.keys(SPEEDS) as Speed[], {
      shown: { half: '1/2', third: '1/3', double: '2×' },
      default: 'half',
      doc: 'How fast it plays. 2× plays the window before and catches up with the present.',
    }),
    window: time({
      label: 'window length',
      default: { bars: 1 },
      min: 0.05,
      max: LONGEST,
      doc: 'How long it goes on before it jumps back to the present, counted from the beginning.',
    }),
    pitch: choice(['falls along', 'kept'], {
      label: 'pitch mode',
      shown: { 'falls along': 'follows speed', kept: 'preserved' },
      default: 'falls along',
      doc: 'Whether the pitch follows the speed, as on a tape, or is preserved.',
    }),
    crossfade: time({
      default: 0.012,
      min: 0.003,
      max: 0.5,
      doc: 'How softly one window passes into the next, just before the next begins.',
    }),
  },
  picture: ({ values, timing }) => windowPicture(values, timing),
  hearsBeyond: true,
  exempt: [
    { trial: 'direct current', because: 'a slice of a wave is one' },
    { trial: 'block length', within: 0.01, because: 'some of its values move in straight lines from block to block' },
  ],
  heldTo: [
    { what: 'Windows begin on the bar', limit: ['within', 1, 'sample'], how: 'by what is heard of a ramp' },
    { what: 'A loop of whole windows stays as long as it is; mono stays mono', how: 'by the length and the channels' },
  ],
  tailSeconds: ({ window }) => 2 * window + 0.1,
  create({ sampleRate, inputChannels, outputChannels }, { speed, pitch }) {
    const tape = new Tape((2 * LONGEST + 1) * sampleRate);
    const factor = SPEEDS[speed];
    const kept = pitch === 'kept';
    // They take turns, from window to window or from grain to grain.
    const heads = Array.from({ length: 4 }, () => new TapeHead());
    const grain = Math.round(GRAIN_SECONDS * sampleRate);
    /** Where the right side goes when there is none. */
    const unheard = new Float32Array(BLOCK_FRAMES);
    const half = grain / 2;
    let current = 0;
    /** Frame of the tape at which the window began, and where it reads from. */
    let began = 0;
    let origin = 0;
    let begun = false;
    /** A head is on its way to the next window. */
    let prepared = false;
    let nextGrain = 0;

    const beginGrain = (place: number) => {
      current = (current + 1) & 3;
      const head = heads[current];
      head.set(place, 1, 1, grain);
      head.endFade = half;
      head.share = 0;
      head.open(1);
    };

    return {
      memoryFrames: (2 * LONGEST + 1) * sampleRate,
      reset() {
        tape.reset();
        for (let h = 0; h < 4; h++) heads[h].open(0, true);
        begun = false;
        prepared = false;
      },
      process(input, output, frames, values, position) {
        const from = tape.written;
        tape.write(input[0], input[inputChannels - 1], frames);
        const left = output[0];
        const right = outputChannels > 1 ? output[1] : unheard;
        for (let i = 0; i < frames; i++) {
          left[i] = 0;
          right[i] = 0;
        }
        const window = values.window.end * sampleRate;
        const fade = kept ? half : Math.round(Math.min(values.crossfade.end * sampleRate, window / 3));
        for (let done = 0; done < frames;) {
          const here = position + done;
          const now = from + done;
          const n = Math.floor((here + 0.5) / window);
          const start = Math.round(n * window);
          const next = Math.round((n + 1) * window);
          // While its length is moved a window may seem to begin again and again: none begins before the last has faded in.
          if (!begun || (here === start && now - began > 2 * fade)) {
            // In the midst of a window it begins as if it had been there all along.
            const into = here - start;
            began = now - into;
            origin = factor > 1 ? began - window : began;
            nextGrain = now;
            if (!kept) {
              // A window that was moved meanwhile begins elsewhere than was prepared.
              prepared &&= Math.abs(heads[current].place - origin) < 0.5;
              if (!prepared) {
                for (let h = 0; h < 4; h++) heads[h].open(0);
                current = (current + 1) & 3;
                heads[current].open(1, !begun);
              }
              heads[current].set(origin + factor * into, factor, 1, Infinity);
              // What the sound was before this window is not heard in it, unless the last one still is.
              tape.earliest = prepared ? Math.floor(origin) : -Infinity;
            }
            begun = true;
            prepared = false;
          }
          if (!prepared && here === next - fade) {
            // The next window fades in before it begins, with what leads up to it at the speed that is there already; so
            // it begins whole, on the bar, and the last one ends there.
            prepared = true;
            tape.earliest = -Infinity;
            const ahead = now + fade - (factor > 1 ? window : 0);
            for (let h = 0; h < 4; h++) heads[h].open(0);
            if (kept) {
              beginGrain(Math.round(ahead - fade));
            } else {
              current = (current + 1) & 3;
              const speed = factor > 1 ? factor : 1;
              heads[current].set(ahead - speed * fade, speed, 1, Infinity);
              heads[current].open(1);
            }
          } else if (kept && !prepared && now >= nextGrain) {
            beginGrain(Math.round(origin + factor * (now - began)));
            nextGrain = now + half;
          }
          let until = frames - done;
          for (let k = 0; k < 2; k++) {
            const way = (k === 0 ? next : next - fade) - here;
            if (way >= 1 && way < until) until = way;
          }
          if (kept && !prepared && nextGrain - now < until) until = Math.max(1, Math.ceil(nextGrain - now));
          for (let h = 0; h < 4; h++) heads[h].run(tape, left, right, done, until, now, fade);
          done += until;
        }
      },
    };
  },
});

/** Which moment of the sound is heard when, over two windows. */
function windowPicture(
  { window, speed }: { readonly window: number; readonly speed: string },
  timing: Timing,
): StagePicture {
  const factor = { half: 1 / 2, third: 1 / 3, double: 2 }[speed] ?? 1;
  const points: number[] = [];
  for (const n of [0, 1]) {
    const from = factor > 1 ? (n - 1) * window : n * window;
    points.push(n * window, Math.max(0, from), (n + 1) * window * 0.9999, Math.max(0, from + factor * window));
  }
  const beat = beatOf(timing);
  const ticks = Array.from({ length: Math.min(17, Math.round((2 * window) / beat) + 1) }, (_, n) => n * beat);
  return {
    type: 'curves',
    title: 'Playback position; lines are beats',
    x: axis('heard at', 's', 0, 2 * window, ticks),
    y: axis('moment', 's', 0, 2 * window, [0, window, 2 * window]),
    curves: [
      { label: 'heard', points },
      { label: '1:1', points: [0, 0, 2 * window, 2 * window], faint: true },
    ],
    handles: [],
  };
}
