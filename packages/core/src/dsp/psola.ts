import { pitchAt, type PitchTrack } from './pitchTrack.ts';
import { pitchMarks } from './pitchMarks.ts';
import { TAU, cos } from './portableMath.ts';
import { BetweenReader, readBetween } from './resample.ts';

/** Periods of the voice that a grain reaches to either side at most, when the new period is longer. */
const WIDEST = 1.4;

export interface NewPitch {
  readonly from: PitchTrack;
  /** Where it shall go; a track with the same steps. */
  readonly to: PitchTrack;
  /** 0 keeps the formants, 1 moves them with the pitch. */
  readonly formants: number;
}

/**
 * Gives a single voice another pitch at the same speed: its periods are cut out and put down again as far apart as the new
 * pitch asks (E. Moulines & F. Charpentier, "Pitch-synchronous waveform processing techniques", 1990). A grain fades
 * over exactly to the next, so a voice that is not moved comes out as it was. Yields the share done.
 */
export function* withNewPitch(
  channels: readonly Float32Array[],
  { from, to, formants }: NewPitch,
): Generator<number, Float32Array[], void> {
  const frames = channels[0].length;
  const marks = pitchMarks(channels[0], from);
  const out = channels.map(() => new Float32Array(frames));
  const reader = new BetweenReader(1, 0);
  let window = new Float64Array(0);
  let grain = new Float64Array(0);
  const spots = newSpots(frames, marks, to);
  for (let n = 0; n < spots.at.length; n++) {
    const here = spots.at[n];
    const mark = spots.marks[n];
    const widest = marks.voiced[mark] ? WIDEST * marks.periods[mark] : Infinity;
    const left = n > 0 ? Math.min(widest, here - spots.at[n - 1]) : marks.periods[mark];
    const right = n + 1 < spots.at.length ? Math.min(widest, spots.at[n + 1] - here) : marks.periods[mark];
    const moved = marks.voiced[mark] ? pitchAt(to, here) / pitchAt(from, marks.at[mark]) : 1;
    const rate = Number.isFinite(moved) && moved > 0 ? 1 + formants * (moved - 1) : 1;
    const first = Math.max(0, Math.ceil(here - left));
    const last = Math.min(frames - 1, Math.floor(here + right));
    const count = last - first + 1;
    if (count > window.length) {
      window = new Float64Array(2 * count);
      grain = new Float64Array(2 * count);
    }
    for (let i = 0; i < count; i++) {
      const way = first + i - here;
      window[i] = 0.5 + 0.5 * cos((0.5 * TAU * way) / (way < 0 ? left : right));
    }
    const begin = marks.at[mark] + (first - here) * rate;
    for (let c = 0; c < channels.length; c++) {
      const samples = channels[c];
      const target = out[c];
      if (rate === 1) reader.readRun(samples, begin, count, grain);
      else for (let i = 0; i < count; i++) grain[i] = readBetween(samples, begin + i * rate, 1 / rate);
      for (let i = 0; i < count; i++) target[first + i] += window[i] * grain[i];
    }
    if (n % 32 === 0) yield here / frames;
  }
  return out;
}

/** Where the grains come to lie, and which mark each is taken from. */
function newSpots(
  frames: number,
  marks: { readonly at: Float64Array; readonly periods: Float64Array; readonly voiced: Uint8Array },
  to: PitchTrack,
): { readonly at: readonly number[]; readonly marks: readonly number[] } {
  const at: number[] = [];
  const taken: number[] = [];
  let place = marks.at[0] ?? 0;
  let mark = 0;
  while (place < frames && marks.at.length > 0) {
    while (mark + 1 < marks.at.length && Math.abs(marks.at[mark + 1] - place) <= Math.abs(marks.at[mark] - place))
      mark++;
    // Without a pitch the marks stand where they are.
    if (!marks.voiced[mark]) place = Math.max(marks.at[mark], at[at.length - 1] ?? -Infinity);
    at.push(place);
    taken.push(mark);
    const pitch = marks.voiced[mark] ? pitchAt(to, place) : 0;
    if (pitch > 0) place += to.sampleRate / pitch;
    else if (mark + 1 < marks.at.length) place = Math.max(place + 1, marks.at[mark + 1]);
    else break;
  }
  return { at, marks: taken };
}
