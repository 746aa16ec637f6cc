import type { Knex } from 'knex';

/** Sounds, chains with their versions and drafts, jobs and renders. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.createTable('sounds', (table) => {
    table.string('id').primary();
    table.string('name').notNullable();
    table.string('kind').notNullable().checkIn(['source', 'render']);
    table.string('sha256', 64).notNullable().index();
    table.integer('bytes').notNullable();
    table.integer('frames').notNullable();
    table.integer('sample_rate').notNullable();
    table.integer('channels').notNullable();
    table.string('format').notNullable();
    table.integer('time_reference');
    table.integer('origin_frames').notNullable().defaultTo(0);
    table.float('peak');
    table.float('true_peak');
    table.float('loudness');
    table.string('created_at').notNullable();
  });
  await knex.schema.createTable('chains', (table) => {
    table.string('id').primary();
    table.string('name').notNullable();
    table.integer('revision').notNullable();
    table.string('created_at').notNullable();
    table.string('updated_at').notNullable().index();
  });
  await knex.schema.createTable('versions', (table) => {
    table.string('id').primary();
    table.string('chain_id').notNullable().references('chains.id');
    table.integer('number').notNullable();
    table.text('document').notNullable();
    table.string('why').notNullable();
    table.string('created_at').notNullable();
    table.unique(['chain_id', 'number']);
  });
  await knex.schema.createTable('drafts', (table) => {
    table.string('chain_id').primary().references('chains.id');
    table.text('document').notNullable();
    table.string('updated_at').notNullable();
  });
  await knex.schema.createTable('jobs', (table) => {
    table.string('id').primary();
    table.string('kind').notNullable();
    table.string('status').notNullable().checkIn(['queued', 'running', 'done', 'failed', 'cancelled']).index();
    table.float('progress').notNullable().defaultTo(0);
    table.string('error');
    table.string('created_at').notNullable();
    table.string('started_at');
    table.string('finished_at');
  });
  await knex.schema.createTable('renders', (table) => {
    table.string('id').primary();
    table.string('job_id').notNullable().references('jobs.id');
    table.string('source_id').notNullable().references('sounds.id').index();
    table.string('sound_id').references('sounds.id').index();
    table.string('chain_id').notNullable().references('chains.id');
    table.string('version_id').references('versions.id');
    table.string('version_label').notNullable();
    table.text('document').notNullable();
    table.string('name').notNullable();
    table.string('created_at').notNullable();
  });
}

export async function down(knex: Knex): Promise<void> {
  for (const table of ['renders', 'jobs', 'drafts', 'versions', 'chains', 'sounds']) await knex.schema.dropTable(table);
}
