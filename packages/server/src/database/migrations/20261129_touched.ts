import type { Knex } from 'knex';

/** Which frames of a copy may differ from the sound it was made from. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.alterTable('sounds', (table) => void table.text('touched'));
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.alterTable('sounds', (table) => void table.dropColumn('touched'));
}
