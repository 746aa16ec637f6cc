import type { Note } from './notes.ts';

/** Notes on whole frames, their times counted in units of `framesAUnit`, to be walked through in time: the latest that began counts, one voice. Allocates nothing once made. */
export class NoteRow {
  readonly count: number;
  readonly notes: readonly Note[];
  private readonly starts: Float64Array;
  private readonly ends: Float64Array;
  private cursor = -1;

  constructor(notes: readonly Note[], framesAUnit: number) {
    this.notes = notes;
    this.count = notes.length;
    this.starts = Float64Array.from(notes, ({ at }) => Math.round(at * framesAUnit));
    this.ends = Float64Array.from(notes, ({ at, length }) => Math.round((at + length) * framesAUnit));
  }

  /** Index of the note that began last at or before a frame; −1 before the first. */
  lastAt(frame: number): number {
    while (this.cursor >= 0 && this.starts[this.cursor] > frame) this.cursor--;
    while (this.cursor + 1 < this.count && this.starts[this.cursor + 1] <= frame) this.cursor++;
    return this.cursor;
  }

  startOf(index: number): number {
    return this.starts[index];
  }

  endOf(index: number): number {
    return this.ends[index];
  }
}
