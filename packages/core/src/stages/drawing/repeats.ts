/** Repeats over the beat. */
import { exp, log } from '../../dsp/portableMath.ts';
import type { Repeat, RepeatsPicture } from '../../model/picture.ts';
import { resolveTime, type Timing } from '../../timing/tempo.ts';
import { PICTURE_RATE } from './axis.ts';

export const MOST_REPEATS = 48;
/** Repeats quieter than this are not drawn. */
const QUIETEST_REPEAT = 0.004;

/** Level of the nth repeat, 1 the first, as a factor of it; undefined where it is too quiet to be drawn. */
export function repeatLevel(feedback: number, n: number): number | undefined {
  const level = n === 1 ? 1 : exp(log(Math.max(1e-6, feedback)) * (n - 1));
  return level < QUIETEST_REPEAT ? undefined : level;
}

export const beatOf = (timing: Timing): number => resolveTime({ beats: 1 }, timing, PICTURE_RATE);

export function repeatsPicture(
  title: string,
  repeats: readonly Repeat[],
  beat: number,
  ducking = 0,
  recovery = 0,
): RepeatsPicture {
  const last = Math.max(beat, ...repeats.filter(({ level }) => level > 0.02).map(({ at }) => at));
  const seconds = Math.ceil(Math.min(last * 1.05, 16 * beat) / beat) * beat;
  return {
    type: 'repeats',
    sides: ['left', 'right'],
    title,
    repeats: repeats.filter(({ at }) => at <= seconds),
    seconds,
    beat,
    ducking,
    recovery,
  };
}
