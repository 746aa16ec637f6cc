import { once } from '../../model/once.ts';
import * as z from 'zod';
import { LIMITS } from '../../model/limits.ts';
import { InputError } from '../../model/errors.ts';

/** What a sound says of itself besides its samples: its root note, loops and markers. */

const frame = once(() =>
  z
    .number()
    .int()
    .min(0)
    .max(LIMITS.soundSeconds * LIMITS.sampleRate.max),
);

export const loopSchema = once(() =>
  z.object({
    kind: z.enum(['sustain', 'release']).describe('sustain: loops while a note is held; release: once it is released.'),
    start: frame(),
    end: frame().describe('First frame after the loop.'),
    times: z.number().int().min(0).max(10_000).describe('How often it repeats; 0: infinitely.'),
  }),
);
export type SoundLoop = z.infer<ReturnType<typeof loopSchema>>;

export const markerSchema = once(() => z.object({ at: frame(), label: z.string().max(80) }));
export type SoundMarker = z.infer<ReturnType<typeof markerSchema>>;

export const soundMarksSchema = once(() =>
  z.object({
    rootKey: z.number().int().min(0).max(127).nullable().describe('MIDI key it sounds at, 60 for C4.'),
    fineTune: z.number().min(-50).max(50).describe('Cents that it is higher than its root.'),
    loops: z.array(loopSchema()).max(2).describe('One of each kind at the most.'),
    markers: z.array(markerSchema()).max(1000),
  }),
);
export type SoundMarks = z.infer<ReturnType<typeof soundMarksSchema>>;

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
