import type { Knex } from 'knex';

/** Which sounds a sound was mixed from, and how. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.alterTable('sounds', (table) => void table.string('mix_lay'));
  await knex.schema.createTable('mix_parts', (table) => {
    table.string('mix_id').notNullable().references('sounds.id').onDelete('CASCADE');
    table.integer('position').notNullable();
    table.string('part_id').notNullable().references('sounds.id').index();
    table.float('level').notNullable();
    table.boolean('muted').notNullable();
    table.float('offset').notNullable();
    table.primary(['mix_id', 'position']);
  });
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.dropTable('mix_parts');
  await knex.schema.alterTable('sounds', (table) => void table.dropColumn('mix_lay'));
}
