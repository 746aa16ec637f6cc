import { log10 } from '../dsp/portableMath.ts';
import { frameCount, type Clip } from '../model/clip.ts';

/** Seconds between two values of the level. */
const STEP = 0.002;
/** Seconds over which it is taken to find rises, so that two low tones that beat make none, and to place quick ones. */
const WIDE = 0.06;
const NARROW = 0.016;
/** Seconds from which on a rise is slow: the wide level tells best where it begins. */
const SLOW = 0.2;
/** dB below the loudest moment at which all counts as silence. */
const SILENCE = 60;
/** dB by which it has to rise from the lowest it came to, and to fall from the highest before that rise is over. */
const LEAST_RISE = 9;
const OVER = 6;
/** Or, while it is neither, so many seconds in which it has not risen by half a decibel. */
const REST = 0.15;
const RESTS = 0.5;
/** dB under its height at which a note is there, and over what rang before at which it is heard. */
const THERE = 20;
const CLEAR = 6;

/** A rise of the level, as a note that begins. In frames. */
export interface LevelRise {
  /** Where it comes within 20 dB of its height, or clears what rang before by 6 dB, whichever is later. */
  readonly begins: number;
  /** The last frame at which a cut still takes all of it: there, or 10 ms after it clears what rang before. */
  readonly latest: number;
  /** Where it stops rising. */
  readonly top: number;
  /** dB from the lowest before it to its height. */
  readonly height: number;
}

/** Level in dB around every `STEP` of a clip, at least `SILENCE` below the loudest; frames between two of them. */
function levels(clip: Clip, window: number): { readonly values: Float64Array; readonly step: number } {
  const frames = frameCount(clip);
  const step = Math.max(1, Math.round(STEP * clip.sampleRate));
  const half = Math.max(1, Math.round((window * clip.sampleRate) / 2));
  const sums = new Float64Array(frames + 1);
  for (let i = 0; i < frames; i++) {
    let power = 0;
    for (const samples of clip.channels) power += samples[i] * samples[i];
    sums[i + 1] = sums[i] + power;
  }
  const values = Float64Array.from({ length: Math.ceil(frames / step) }, (_, n) => {
    const from = Math.max(0, n * step - half);
    const to = Math.min(frames, n * step + half);
    return (sums[to] - sums[from]) / (2 * half);
  });
  const loudest = values.reduce((most, value) => Math.max(most, value), 0);
  const floor = loudest * 10 ** (-SILENCE / 10);
  return { values: values.map((value) => 10 * log10(Math.max(value, floor, 1e-30))), step };
}

/** Every rise of a clip's level by 9 dB or more, however slow, in order. */
export function levelRises(clip: Clip): LevelRise[] {
  const { values, step } = levels(clip, WIDE);
  const { values: narrow } = levels(clip, NARROW);
  const found: LevelRise[] = [];
  // Before it begins there is silence.
  const loudest = values.reduce((most, value) => Math.max(most, value), -Infinity);
  let low = -1;
  let lowLevel = loudest - SILENCE;
  let high = -1;
  let highLevel = -Infinity;
  const rest = Math.round(REST / STEP);
  let since = 0;
  /** Ends a rise; the next is counted from frame `from` on. */
  const end = (from: number) => {
    const bounds = { low, lowLevel, high, highLevel };
    const wide = riseBetween(values, step, clip.sampleRate, bounds);
    const slow = wide.top - wide.begins > SLOW * clip.sampleRate;
    found.push(slow ? wide : riseBetween(narrow, step, clip.sampleRate, bounds));
    low = from;
    lowLevel = values[from];
    high = -1;
    highLevel = -Infinity;
  };
  for (let n = 0; n < values.length; n++) {
    const level = values[n];
    if (highLevel > -Infinity) {
      if (level > highLevel) {
        high = n;
        highLevel = level;
      } else if (level < highLevel - OVER) end(n);
      if (highLevel > -Infinity && n - since >= rest && level < values[n - rest] + RESTS) end(n);
    }
    if (highLevel === -Infinity) {
      if (level < lowLevel) {
        low = n;
        lowLevel = level;
      } else if (level >= lowLevel + LEAST_RISE) {
        high = n;
        highLevel = level;
        since = n;
      }
    }
  }
  if (highLevel > -Infinity) end(values.length - 1);
  return found;
}

function riseBetween(
  values: Float64Array,
  step: number,
  sampleRate: number,
  {
    low,
    lowLevel,
    high,
    highLevel,
  }: { readonly low: number; readonly lowLevel: number; readonly high: number; readonly highLevel: number },
): LevelRise {
  const passes = (level: number) => {
    let n = Math.max(0, low);
    while (n < high && values[n] < level) n++;
    return n * step;
  };
  const there = passes(highLevel - THERE);
  const clear = passes(lowLevel + CLEAR);
  return {
    begins: Math.max(there, clear),
    latest: Math.max(there, clear + Math.round(0.01 * sampleRate)),
    top: high * step,
    height: highLevel - lowLevel,
  };
}
