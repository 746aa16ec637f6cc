import type { Knex } from 'knex';

/** What of the marks of a sound did not come into its render. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.alterTable('renders', (table) => void table.text('left_out'));
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.alterTable('renders', (table) => void table.dropColumn('left_out'));
}
