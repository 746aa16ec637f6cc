import type { Knex } from 'knex';
import { EMPTY_DESK, SLOTS, type Desk, type Slot } from '@hexenkessel/core/protocol';
import { now } from '../database/identity.ts';
import { tryStored } from './storedDocument.ts';

interface DeskRow {
  readonly chain_id: string;
  readonly content: string;
  readonly updated_at: string;
}

/** As it lies there: what is in a slot may not be readable any more. */
type StoredDesk = Omit<Desk, 'slots'> & {
  readonly slots: Partial<Record<string, { readonly name: string; readonly document: unknown }>>;
};

/** What the bench keeps beside a chain. It belongs to nobody's lineage: the last one to write is right. */
export class Desks {
  private readonly database: Knex;

  constructor(database: Knex) {
    this.database = database;
  }

  async get(chainId: string): Promise<Desk> {
    const kept = await this.stored(chainId);
    if (!kept) return EMPTY_DESK;
    const known = new Set((await this.database<{ id: string }>('sounds').select('id')).map(({ id }) => id));
    const slots = SLOTS.flatMap((letter) => {
      const slot = kept.slots[letter];
      const read = slot && tryStored(JSON.stringify(slot.document));
      return read && 'document' in read ? [[letter, { name: slot.name, document: read.document }] as const] : [];
    });
    return {
      ...kept,
      shelf: kept.shelf.filter((id) => known.has(id)),
      slots: Object.fromEntries(slots) as Partial<Record<(typeof SLOTS)[number], Slot>>,
    };
  }

  /** Keeps a desk; the parts that are not given stay as they were, and so does a slot that cannot be read. */
  async keep(chainId: string, part: Partial<Desk>): Promise<Desk> {
    const before = await this.stored(chainId);
    const unreadable = Object.entries(before?.slots ?? {}).filter(
      ([, slot]) => slot && 'fault' in tryStored(JSON.stringify(slot.document)),
    );
    const slots = { ...Object.fromEntries(unreadable), ...(part.slots ?? before?.slots) };
    const content = JSON.stringify({ ...EMPTY_DESK, ...before, ...part, slots });
    await this.database<DeskRow>('desks')
      .insert({ chain_id: chainId, content, updated_at: now() })
      .onConflict('chain_id')
      .merge();
    return this.get(chainId);
  }

  private async stored(chainId: string): Promise<StoredDesk | undefined> {
    const row = await this.database<DeskRow>('desks').where({ chain_id: chainId }).first();
    if (!row) return undefined;
    try {
      return JSON.parse(row.content) as StoredDesk;
    } catch {
      // Nothing of it can be told apart; the next change begins anew.
      return undefined;
    }
  }
}
