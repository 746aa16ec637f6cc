/** What a row draws of a sound: its waveform in columns and its peak, from a clip or while it comes. */
import { gainToDecibels } from '../dsp/portableMath.ts';
import { clipEnd, type Clip } from '../model/clip.ts';
import { peakOf } from './level.ts';
import { overviewOf, type Overview } from './overview.ts';

export interface Outline {
  /** Frames relative to the source's first. */
  readonly start: number;
  readonly end: number;
  readonly channels: number;
  /** dBFS. */
  readonly peak: number;
  readonly overview: Overview;
}

/** As many columns as it may have; a sound of fewer frames has one for each. */
export const OUTLINE_COLUMNS = 8192;

const columnsOf = (frames: number) => Math.max(1, Math.min(OUTLINE_COLUMNS, frames));

export function outlineOf(clip: Clip): Outline {
  const [start, end] = [clip.origin, clipEnd(clip)];
  const overview = overviewOf(clip, start, end, columnsOf(end - start));
  return { start, end, channels: clip.channels.length, peak: gainToDecibels(peakOf(clip)), overview };
}

/** The same of a sound that comes block by block, from its first frame on, and is not held. */
export class OutlineStream {
  private readonly start: number;
  private readonly frames: number;
  private readonly channels: number;
  private readonly framesPerColumn: number;
  private readonly min: Float32Array;
  private readonly max: Float32Array;
  private readonly rms: Float32Array;
  private column = 0;
  /** First frame of the column, and behind it. */
  private first = 0;
  private behind: number;
  private energy = 0;

  constructor(start: number, frames: number, channels: number) {
    const columns = columnsOf(frames);
    this.start = start;
    this.frames = frames;
    this.channels = channels;
    this.framesPerColumn = frames / columns;
    this.min = new Float32Array(columns);
    this.max = new Float32Array(columns);
    this.rms = new Float32Array(columns);
    this.behind = this.endOf(0);
  }

  /** Takes samples[from … to) of every channel; the first of them lies `at` frames from the sound's first. */
  take(samples: readonly Float32Array[], from: number, to: number, at: number): void {
    for (let done = from; done < to;) {
      const place = at + done - from;
      if (place >= this.behind) {
        this.close();
        continue;
      }
      const count = Math.min(to - done, this.behind - place);
      for (const side of samples) this.note(side, done, done + count);
      done += count;
    }
  }

  finish(): Outline {
    this.close();
    return this.soFar();
  }

  /** What has come up to now; the rest is silent. */
  soFar(): Outline {
    const { start, frames, channels, framesPerColumn, min, max, rms } = this;
    let peak = 0;
    for (let n = 0; n < max.length; n++) peak = Math.max(peak, max[n], -min[n]);
    const overview = { start, framesPerColumn, min, max, rms };
    return { start, end: start + frames, channels, peak: gainToDecibels(peak), overview };
  }

  private note(side: Float32Array, from: number, to: number): void {
    let least = this.min[this.column];
    let most = this.max[this.column];
    for (let i = from; i < to; i++) {
      const sample = side[i];
      if (sample < least) least = sample;
      if (sample > most) most = sample;
      this.energy += sample * sample;
    }
    this.min[this.column] = least;
    this.max[this.column] = most;
  }

  /** The columns are those of `overviewOf`. */
  private endOf(column: number): number {
    return Math.floor(this.start + (column + 1) * this.framesPerColumn) - this.start;
  }

  private close(): void {
    const { column, behind, first } = this;
    if (column >= this.rms.length) return;
    this.rms[column] = behind > first ? Math.sqrt(this.energy / ((behind - first) * this.channels)) : 0;
    this.energy = 0;
    this.column += 1;
    this.first = behind;
    this.behind = this.column < this.rms.length ? this.endOf(this.column) : Infinity;
  }
}
