import type { Knex } from 'knex';
import { EMPTY_DESK, parseChain, SLOTS, type Desk, type Slot } from '@hexenkessel/core';
import { now } from '../database/identity.ts';

interface DeskRow {
  readonly chain_id: string;
  readonly content: string;
  readonly updated_at: string;
}

/** What the bench keeps beside a chain. It belongs to nobody's lineage: the last one to write is right. */
export class Desks {
  private readonly database: Knex;

  constructor(database: Knex) {
    this.database = database;
  }

  async get(chainId: string): Promise<Desk> {
    const row = await this.database<DeskRow>('desks').where({ chain_id: chainId }).first();
    if (!row) return EMPTY_DESK;
    const kept = JSON.parse(row.content) as Desk;
    const known = new Set((await this.database<{ id: string }>('sounds').select('id')).map(({ id }) => id));
    const slots = SLOTS.flatMap((letter) => {
      const slot = kept.slots[letter];
      return slot ? [[letter, { ...slot, document: parseChain(slot.document) }] as const] : [];
    });
    return {
      ...kept,
      shelf: kept.shelf.filter((id) => known.has(id)),
      slots: Object.fromEntries(slots) as Partial<Record<(typeof SLOTS)[number], Slot>>,
    };
  }

  /** Keeps a desk; the parts that are not given stay as they were. */
  async keep(chainId: string, part: Partial<Desk>): Promise<Desk> {
    const content = JSON.stringify({ ...(await this.get(chainId)), ...part });
    await this.database<DeskRow>('desks')
      .insert({ chain_id: chainId, content, updated_at: now() })
      .onConflict('chain_id')
      .merge();
    return this.get(chainId);
  }
}
