import type { Overview } from '@hexenkessel/core/analysis';

const COLUMNS = 640;

/** An overview redrawn over [start, end) of the ruler, with fewer columns; silence where it has none. */
export function widenOverview(overview: Overview, start: number, end: number): Overview {
  const framesPerColumn = (end - start) / COLUMNS;
  const min = new Float32Array(COLUMNS);
  const max = new Float32Array(COLUMNS);
  const rms = new Float32Array(COLUMNS);
  for (let column = 0; column < COLUMNS; column++) {
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
