import { InputError } from '../model/errors.ts';

/** Where the tempo or the meter changes. Between two places it stands. */
export interface TempoChange {
  /** Quarter notes from the beginning. */
  readonly quarter: number;
  /** Quarter notes a minute. */
  readonly tempo: number;
  readonly meter: readonly [number, number];
}

/** Tempo and meter over a piece, in order; the first stands at its beginning. */
export class TempoMap {
  readonly changes: readonly TempoChange[];
  /** Seconds at each change, and bars passed. */
  private readonly seconds: number[] = [];
  private readonly bars: number[] = [];

  /** InputError when there is no change at the beginning. */
  constructor(changes: readonly TempoChange[]) {
    if (changes[0]?.quarter !== 0) throw new InputError('A tempo map has to say the tempo at its beginning.');
    this.changes = changes;
    let [seconds, bars] = [0, 0];
    changes.forEach((change, n) => {
      const before = changes[n - 1] as TempoChange | undefined;
      if (before) {
        const quarters = change.quarter - before.quarter;
        seconds += (quarters * 60) / before.tempo;
        bars += quarters / quartersOf(before.meter);
      }
      this.seconds.push(seconds);
      this.bars.push(bars);
    });
  }

  /** Seconds from the beginning at which a quarter note stands. */
  secondsAt(quarter: number): number {
    const n = this.changes.findLastIndex((change) => change.quarter <= quarter);
    const at = Math.max(0, n);
    return this.seconds[at] + ((quarter - this.changes[at].quarter) * 60) / this.changes[at].tempo;
  }

  /** The quarter note at a time in seconds. */
  quarterAt(seconds: number): number {
    const at = Math.max(
      0,
      this.seconds.findLastIndex((change) => change <= seconds),
    );
    return this.changes[at].quarter + ((seconds - this.seconds[at]) * this.changes[at].tempo) / 60;
  }

  /** Seconds at which a bar begins; the first is bar 0, and parts of bars are counted in its meter. */
  secondsAtBar(bar: number): number {
    const at = Math.max(
      0,
      this.bars.findLastIndex((change) => change <= bar + 1e-9),
    );
    const change = this.changes[at];
    return this.secondsAt(change.quarter + (bar - this.bars[at]) * quartersOf(change.meter));
  }

  /** Every change with the seconds at which it stands. */
  steps(): readonly (TempoChange & { readonly seconds: number })[] {
    return this.changes.map((change, n) => ({ ...change, seconds: this.seconds[n] }));
  }

  /** The same from a time in seconds on, which becomes its beginning. */
  from(seconds: number): TempoMap {
    const begin = this.quarterAt(seconds);
    const { tempo, meter } = this.at(seconds);
    const later = this.changes.filter(({ quarter }) => quarter > begin + 1e-9);
    return new TempoMap([
      { quarter: 0, tempo, meter },
      ...later.map((change) => ({ ...change, quarter: change.quarter - begin })),
    ]);
  }

  /** The tempo and meter at a time in seconds. */
  at(seconds: number): TempoChange {
    return this.changes[
      Math.max(
        0,
        this.seconds.findLastIndex((change) => change <= seconds + 1e-9),
      )
    ];
  }
}

function quartersOf([beats, value]: readonly [number, number]): number {
  return (beats * 4) / value;
}
