import type { Knex } from 'knex';

/** What the bench keeps beside a chain; which test signal a sound is. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.createTable('desks', (table) => {
    table.string('chain_id').primary().references('chains.id');
    table.text('content').notNullable();
    table.string('updated_at').notNullable();
  });
  await knex.schema.alterTable('sounds', (table) => void table.string('signal').unique());
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.dropTable('desks');
  await knex.schema.alterTable('sounds', (table) => void table.dropColumn('signal'));
}
