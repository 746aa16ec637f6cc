import type { Knex } from 'knex';

/** Which stages of a render passed the sound on from somewhere, in words. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.alterTable('renders', (table) => void table.text('gave_up'));
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.alterTable('renders', (table) => void table.dropColumn('gave_up'));
}
