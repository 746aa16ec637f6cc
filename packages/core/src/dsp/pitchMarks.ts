import { pitchAt, vertex, type PitchTrack } from './pitchTrack.ts';

/** Seconds between marks where there is no pitch. */
const UNVOICED_SECONDS = 0.005;
/** Share of a period within which the next mark is looked for. */
const SEARCH = 0.12;

export interface PitchMarks {
  /** Frames, with fractions, in order. */
  readonly at: Float64Array;
  /** Frames of the period at each mark; where there is no pitch, what lies between marks. */
  readonly periods: Float64Array;
  /** 1 where there is a pitch. */
  readonly voiced: Uint8Array;
}

/**
 * Marks one place in every period of a voice, always the same one: each next mark lies a period on, moved to where the
 * wave is most like that around the mark before.
 */
export function pitchMarks(samples: Float32Array, track: PitchTrack): PitchMarks {
  const at: number[] = [];
  const periods: number[] = [];
  const voiced: number[] = [];
  const step = UNVOICED_SECONDS * track.sampleRate;
  let place = 0;
  let before = false;
  while (place < samples.length) {
    const pitch = pitchAt(track, place);
    const period = pitch > 0 ? track.sampleRate / pitch : step;
    if (pitch > 0) {
      if (before) place = alikePlace(samples, at[at.length - 1], place, period);
      else place = loudestPlace(samples, place, period);
    }
    const last = at.length > 0 ? at[at.length - 1] : -Infinity;
    if (place <= last + 0.25 * period) place = last + period;
    at.push(place);
    periods.push(period);
    voiced.push(pitch > 0 ? 1 : 0);
    before = pitch > 0;
    place += period;
  }
  return { at: Float64Array.from(at), periods: Float64Array.from(periods), voiced: Uint8Array.from(voiced) };
}

/** A voice's first mark: the highest point of its first period. */
function loudestPlace(samples: Float32Array, from: number, period: number): number {
  let best = Math.round(from);
  for (let i = best; i < Math.min(samples.length, from + period); i++)
    if (Math.abs(samples[i]) > Math.abs(samples[best])) best = i;
  return best;
}

/** The place near `guess` around which the wave is most like that around `before`, between frames by a parabola. */
function alikePlace(samples: Float32Array, before: number, guess: number, period: number): number {
  const reach = Math.max(2, Math.ceil(SEARCH * period));
  const half = Math.round(0.75 * period);
  const first = Math.round(before);
  const middle = Math.round(guess - before);
  const difference = (lag: number) => {
    let sum = 0;
    for (let i = -half; i <= half; i++) {
      const a = samples[first + i] ?? 0;
      const b = samples[first + lag + i] ?? 0;
      sum += (a - b) * (a - b);
    }
    return sum;
  };
  const sums = Array.from({ length: 2 * reach + 1 }, (_, n) => difference(middle - reach + n));
  let best = reach;
  for (let n = 0; n < sums.length; n++) if (sums[n] < sums[best]) best = n;
  // At the rim nothing alike was found: the pitch is believed.
  if (best === 0 || best === sums.length - 1) return guess;
  return before + middle - reach + best + vertex(sums[best - 1], sums[best], sums[best + 1]);
}
