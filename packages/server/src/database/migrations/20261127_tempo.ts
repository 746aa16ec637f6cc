import type { Knex } from 'knex';

/** The tempo of a sound, as it was found or put right. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.alterTable('sounds', (table) => void table.float('tempo'));
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.alterTable('sounds', (table) => void table.dropColumn('tempo'));
}
