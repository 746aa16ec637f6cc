import type { Knex } from 'knex';

/** How far the demo has come into the store; undefined: nobody has decided on it. */
export type DemoState = 'begun' | 'done';

/** What the store knows of itself. */
export class StoreState {
  private readonly database: Knex;

  constructor(database: Knex) {
    this.database = database;
  }

  async demo(): Promise<DemoState | undefined> {
    const row = await this.database<{ key: string; value: DemoState }>('store_state').where({ key: 'demo' }).first();
    return row?.value;
  }

  /** Within `transaction` if given. */
  async setDemo(value: DemoState, transaction: Knex = this.database): Promise<void> {
    await transaction('store_state').insert({ key: 'demo', value }).onConflict('key').merge();
  }

  /** Which version of this program read all documents for lists and questions; undefined: none did. */
  async indexedBy(): Promise<string | undefined> {
    const row = await this.database<{ key: string; value: string }>('store_state').where({ key: 'indexed' }).first();
    return row?.value;
  }

  async setIndexedBy(value: string): Promise<void> {
    await this.database('store_state').insert({ key: 'indexed', value }).onConflict('key').merge();
  }
}
