import { lanesToCsv } from '@hexenkessel/core/formats';
import type { LaneDocument } from '@hexenkessel/core/chain';
import { saveFile } from '../files/saveFile.ts';

/** Hands a lane out as CSV. */
export function saveLane(lane: LaneDocument): void {
  saveFile(`${lane.target}.csv`, lanesToCsv([lane]), 'text/csv');
}
