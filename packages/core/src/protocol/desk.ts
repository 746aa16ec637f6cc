/** What the bench keeps beside a chain and its versions: the sounds it is tried on and settings put aside to compare. */
import { once } from '../model/once.ts';
import * as z from 'zod';
import { describedChain } from '../chain/jsonSchema.ts';
import type { ChainDocument } from '../chain/schema.ts';

export const SLOTS = ['A', 'B', 'C', 'D'] as const;
export type SlotLetter = (typeof SLOTS)[number];

const SHELF_LIMIT = 40;

/** A full set of settings put aside. */
export interface Slot {
  /** The designer's own name for it; empty: its letter. */
  readonly name: string;
  readonly document: ChainDocument;
}

export interface Desk {
  /** Ids of sounds in the order in which they stand. */
  readonly shelf: readonly string[];
  /** The slot that is worked on; what stands in it is the chain itself. */
  readonly slot: SlotLetter;
  readonly slots: Readonly<Partial<Record<SlotLetter, Slot>>>;
}

export const EMPTY_DESK: Desk = { shelf: [], slot: 'A', slots: {} };

export const slotNameSchema = once(() => z.string().max(40));
export const shelfSchema = once(() => z.array(z.string().min(1).max(80)).max(SHELF_LIMIT));

const slotSchema = once(() => z.object({ name: slotNameSchema(), document: describedChain() }));

export const deskSchema = once(() =>
  z.object({
    shelf: shelfSchema().describe('Ids of sounds in order.'),
    slot: z.enum(SLOTS).describe('The slot being worked on.'),
    slots: z.partialRecord(z.enum(SLOTS), slotSchema()),
  }),
);
