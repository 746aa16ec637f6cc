import type { Knex } from 'knex';

/** How often a job was begun; and names are found by an index. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.alterTable('jobs', (table) => void table.integer('attempts').notNullable().defaultTo(0));
  for (const name of ['sounds', 'renders']) await knex.schema.alterTable(name, (table) => void table.index('name'));
}

export async function down(knex: Knex): Promise<void> {
  for (const name of ['sounds', 'renders']) await knex.schema.alterTable(name, (table) => void table.dropIndex('name'));
  await knex.schema.alterTable('jobs', (table) => void table.dropColumn('attempts'));
}
