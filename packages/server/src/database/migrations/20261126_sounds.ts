import type { Knex } from 'knex';

/** What a user says of a sound – loops, tags, whether it is final –, what it came as, and which stretch was rendered. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.alterTable('sounds', (table) => {
    table.text('marks');
    table.text('tags').notNullable().defaultTo('[]');
    table.boolean('sealed').notNullable().defaultTo(false);
    table.string('source_format').notNullable().defaultTo('wav');
  });
  await knex.schema.alterTable('renders', (table) => void table.text('region'));
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.alterTable('renders', (table) => void table.dropColumn('region'));
  await knex.schema.alterTable('sounds', (table) => {
    for (const column of ['marks', 'tags', 'sealed', 'source_format']) table.dropColumn(column);
  });
}
