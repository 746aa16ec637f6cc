import type { Clip } from '../model/clip.ts';

/** A waveform reduced to columns: for each, the least and greatest sample and the root mean square, over all channels. */
export interface Overview {
  /** Frame, relative to the source's first frame, at which the first column begins. */
  readonly start: number;
  readonly framesPerColumn: number;
  readonly min: Float32Array;
  readonly max: Float32Array;
  readonly rms: Float32Array;
}

/** Reduces [start, end) of the time ruler to `columns`; outside the clip there is silence. */
export function overviewOf(clip: Clip, start: number, end: number, columns: number): Overview {
  const framesPerColumn = (end - start) / columns;
  const min = new Float32Array(columns);
  const max = new Float32Array(columns);
  const rms = new Float32Array(columns);
  const total = clip.channels[0].length;
  for (let column = 0; column < columns; column++) {
    const first = Math.floor(start + column * framesPerColumn) - clip.origin;
    // When a column is narrower than a sample it shows the sample it lies in.
    const behind = Math.max(first + 1, Math.floor(start + (column + 1) * framesPerColumn) - clip.origin);
    const from = Math.max(0, first);
    const to = Math.min(total, behind);
    if (to <= from) continue;
    let least = 0;
    let most = 0;
    let energy = 0;
    for (const samples of clip.channels) {
      for (let i = from; i < to; i++) {
        const sample = samples[i];
        if (sample < least) least = sample;
        if (sample > most) most = sample;
        energy += sample * sample;
      }
    }
    min[column] = least;
    max[column] = most;
    rms[column] = Math.sqrt(energy / ((to - from) * clip.channels.length));
  }
  return { start, framesPerColumn, min, max, rms };
}

/** An overview redrawn over [start, end) of the ruler, with fewer columns; silence where it has none. */
export function widenOverview(overview: Overview, start: number, end: number, columns: number): Overview {
  const framesPerColumn = (end - start) / columns;
  const min = new Float32Array(columns);
  const max = new Float32Array(columns);
  const rms = new Float32Array(columns);
  for (let column = 0; column < columns; column++) {
    const first = Math.floor((start + column * framesPerColumn - overview.start) / overview.framesPerColumn);
    const behind = Math.ceil((start + (column + 1) * framesPerColumn - overview.start) / overview.framesPerColumn);
    const from = Math.max(0, first);
    const to = Math.min(overview.max.length, behind);
    for (let i = from; i < to; i++) {
      min[column] = Math.min(min[column], overview.min[i]);
      max[column] = Math.max(max[column], overview.max[i]);
      rms[column] = Math.max(rms[column], overview.rms[i]);
    }
  }
  return { start, framesPerColumn, min, max, rms };
}
