/** Several sounds mixed into one. */
import * as z from 'zod';
import { MIX_LAYS } from '../mix/layOut.ts';
import { once } from '../model/once.ts';

/** What may be said of a sound in a mix. */
export const MIX_LEVEL = { min: -60, max: 24 } as const;
export const MIX_OFFSET = { min: -3600, max: 3600 } as const;
const MOST_PARTS = 64;

export const mixPartSchema = once(() =>
  z.object({
    soundId: z.string(),
    level: z.number().min(MIX_LEVEL.min).max(MIX_LEVEL.max).default(0).describe('dB.'),
    muted: z.boolean().default(false).describe('True: it is not heard, but keeps its place.'),
    offset: z.number().min(MIX_OFFSET.min).max(MIX_OFFSET.max).default(0).describe('Seconds that it begins later.'),
  }),
);
export type MixPart = z.infer<ReturnType<typeof mixPartSchema>>;

const lay = once(() =>
  z.enum(MIX_LAYS).describe('place: each by the time reference of its file; start: all from the same frame.'),
);

export const mixOrderSchema = once(() =>
  z.object({ name: z.string(), lay: lay(), parts: z.array(mixPartSchema()).min(1).max(MOST_PARTS) }),
);
export type MixOrder = z.infer<ReturnType<typeof mixOrderSchema>>;

/** What a sound was mixed from. */
export const mixedSchema = once(() =>
  z.object({ lay: lay(), parts: z.array(mixPartSchema().extend({ name: z.string() })) }),
);
export type Mixed = z.infer<ReturnType<typeof mixedSchema>>;
