import { noteInWholes, type Timing } from './tempo.ts';

export interface TempoRow {
  /** `1/8d`, or `1 bar`. */
  readonly note: string;
  readonly milliseconds: number;
  /** Once in that time. */
  readonly hertz: number;
  readonly samples: number;
  /** In beats of the meter. */
  readonly beats: number;
}

const PARTS = [64, 32, 16, 8, 4, 2, 1];
const BARS = [1, 2, 4, 8];

/** The length of every note value, straight, dotted and triplet, and of some bars. */
export function tempoTable({ tempo, meter }: Timing, sampleRate: number): TempoRow[] {
  const quarter = 60 / tempo;
  const row = (note: string, wholes: number): TempoRow => {
    const seconds = wholes * 4 * quarter;
    return {
      note,
      milliseconds: seconds * 1000,
      hertz: 1 / seconds,
      samples: seconds * sampleRate,
      beats: wholes * meter[1],
    };
  };
  const notes = PARTS.flatMap((part) => [`1/${part}t`, `1/${part}`, `1/${part}d`]);
  return [
    ...notes.map((note) => row(note, noteInWholes(note))),
    ...BARS.map((count) => row(`${count} ${count === 1 ? 'bar' : 'bars'}`, (count * meter[0]) / meter[1])),
  ];
}
