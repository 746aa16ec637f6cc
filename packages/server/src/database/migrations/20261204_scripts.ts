import type { Knex } from 'knex';

/** Stages of one’s own, as text. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.createTable('scripts', (table) => {
    table.string('id').primary();
    table.string('title').notNullable();
    table.text('text').notNullable();
    table.integer('revision').notNullable();
    table.string('changed_at').notNullable();
  });
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.dropTable('scripts');
}
