import type { SoundMarks } from './soundMarksSchema.ts';
import { InputError } from '../../model/errors.ts';

export type { SoundLoop, SoundMarker, SoundMarks } from './soundMarksSchema.ts';

export const NO_MARKS: SoundMarks = { rootKey: null, fineTune: 0, loops: [], markers: [] };

/** True when there is anything to be written. */
export function hasMarks({ rootKey, fineTune, loops, markers }: SoundMarks): boolean {
  return rootKey !== null || fineTune !== 0 || loops.length > 0 || markers.length > 0;
}

/** InputError when loops or markers lie outside a sound of `frames` frames, or there are two of a kind. */
export function checkMarks(marks: SoundMarks, frames: number): SoundMarks {
  for (const { kind, start, end } of marks.loops) {
    if (end > frames || start >= end)
      throw new InputError(
        `The ${kind} loop goes from frame ${start} to ${end}; allowed is 0 to ${frames}, its end after its start.`,
      );
  }
  if (new Set(marks.loops.map(({ kind }) => kind)).size < marks.loops.length)
    throw new InputError('There are two loops of one kind; one sustain loop and one release loop are allowed.');
  const outside = marks.markers.find(({ at }) => at > frames);
  if (outside)
    throw new InputError(`The marker "${outside.label}" lies at frame ${outside.at}; allowed is 0 to ${frames}.`);
  return marks;
}

/** Marks of a sound that is `factor` times as many frames long, as after a change of rate; those that fall out are left out. */
export function scaledMarks(marks: SoundMarks, factor: number, frames: number): SoundMarks {
  const moved = (at: number) => Math.round(at * factor);
  return {
    ...marks,
    loops: marks.loops
      .map((loop) => ({ ...loop, start: moved(loop.start), end: moved(loop.end) }))
      .filter(({ start, end }) => end <= frames && end > start),
    markers: marks.markers.map((marker) => ({ ...marker, at: moved(marker.at) })).filter(({ at }) => at <= frames),
  };
}
