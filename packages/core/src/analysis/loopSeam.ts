import type { Clip } from '../model/clip.ts';
import { peakOf } from './level.ts';

/** All channels together at a frame; 0 outside the clip. */
function sumAt({ channels }: Clip, frame: number): number {
  let sum = 0;
  for (const samples of channels) sum += samples[frame] ?? 0;
  return sum / channels.length;
}

/**
 * The frame next to `frame`, at most `reach` away, at which the sound rises through zero; `frame` itself when there is
 * none. Loops whose ends both lie there fit together without a step.
 */
export function nearestZero(clip: Clip, frame: number, reach: number): number {
  const rises = (at: number) => sumAt(clip, at - 1) < 0 && sumAt(clip, at) >= 0;
  for (let away = 0; away <= reach; away++) {
    if (rises(frame - away)) return frame - away;
    if (rises(frame + away)) return frame + away;
  }
  return frame;
}

/** −60 dB. */
const QUIET = 0.001;

/**
 * How well the end of a loop leads into its beginning: the difference of what comes before both, over some milliseconds,
 * against how loud it is there; 0 for the same sound. What is heard as a click lies above about 0.3.
 */
export function seamDifference(clip: Clip, start: number, end: number): number {
  const around = Math.max(4, Math.round(0.002 * clip.sampleRate));
  let sum = 0;
  let weights = 0;
  // What is far below the rest of the sound makes no click.
  let level = peakOf(clip) * QUIET;
  if (level === 0) return 0;
  for (let i = -around; i < around; i++) {
    // What lies next to the seam counts most.
    const weight = 1 - Math.abs(i + 0.5) / around;
    const [a, b] = [sumAt(clip, start + i), sumAt(clip, end + i)];
    level = Math.max(level, Math.abs(a), Math.abs(b));
    const difference = a - b;
    sum += weight * difference * difference;
    weights += weight;
  }
  return Math.sqrt(sum / weights) / level;
}

/** Ends that are tried at most; more of them would take long and find little. */
const MOST_TRIED = 400;

/** The end, at most `reach` from `end`, that leads best into `start`; `end` itself when the sound never rises there. */
export function bestLoopEnd(clip: Clip, start: number, end: number, reach: number): number {
  const frames = clip.channels[0].length;
  const [from, to] = [Math.max(start + 2, end - reach), Math.min(frames, end + reach)];
  const rises: number[] = [];
  for (let at = from; at <= to; at++) if (sumAt(clip, at - 1) < 0 && sumAt(clip, at) >= 0) rises.push(at);
  const step = Math.max(1, Math.ceil(rises.length / MOST_TRIED));
  let best = end;
  let least = Infinity;
  for (let n = 0; n < rises.length; n += step) {
    const difference = seamDifference(clip, start, rises[n]);
    if (difference < least) {
      least = difference;
      best = rises[n];
    }
  }
  return best;
}
