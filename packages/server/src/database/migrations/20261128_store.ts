import type { Knex } from 'knex';

/** What the store knows of itself; chains that are deleted and still named by renders. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.createTable('store_state', (table) => {
    table.string('key').primary();
    table.string('value').notNullable();
  });
  await knex.schema.alterTable('chains', (table) => void table.string('deleted_at'));
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.alterTable('chains', (table) => void table.dropColumn('deleted_at'));
  await knex.schema.dropTable('store_state');
}
