/** What a sound says of itself besides its samples: its root note, loops and markers. */
import * as z from 'zod';
import { LIMITS } from '../../model/limits.ts';
import { once } from '../../model/once.ts';

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
