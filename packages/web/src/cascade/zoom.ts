/** Which part of the ruler is shown. All in seconds from the source's first frame. */
import type { Region } from '../chain/playbackSlice.ts';

/** Seconds: a few dozen samples fill the width then. */
const LEAST = 0.0005;

const lengthOf = ({ start, end }: Region) => end - start;

/** A part kept inside of all there is; all of it as null. */
export function inside(part: Region, all: Region): Region | null {
  const length = Math.max(LEAST, lengthOf(part));
  if (length >= lengthOf(all)) return null;
  const start = Math.max(all.start, Math.min(all.end - length, part.start));
  return { start, end: start + length };
}

/** The part `factor` times as long around a place that stays where it is seen. */
export function zoomed(part: Region, all: Region, factor: number, at: number): Region | null {
  const length = Math.max(LEAST, lengthOf(part) * factor);
  const share = (at - part.start) / lengthOf(part);
  const start = at - share * length;
  return inside({ start, end: start + length }, all);
}

/** The part moved on by so many of its own lengths. */
export function panned(part: Region, all: Region, by: number): Region | null {
  const seconds = by * lengthOf(part);
  return inside({ start: part.start + seconds, end: part.end + seconds }, all);
}

/** A region with a little room on both sides. */
export function around(region: Region, all: Region): Region | null {
  const room = 0.05 * lengthOf(region);
  return inside({ start: region.start - room, end: region.end + room }, all);
}
