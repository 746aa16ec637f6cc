import type { Knex } from 'knex';

const DOCUMENTS = [
  ['drafts', '0'],
  ['versions', 'number'],
] as const;
const EVENTS = [
  ['insert', 'NEW'],
  ['update', 'NEW'],
  ['delete', 'OLD'],
] as const;

const RENDERS_BY = ['job_id', 'chain_id'];

/**
 * What lists and questions need of documents, so that none is read for them: a summary of each chain, which sounds each
 * document names, which sounds lie on shelves. Triggers note which documents it is out of date for, whoever writes them.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.createTable('stale_documents', (table) => {
    table.string('chain_id').notNullable();
    table.integer('number').notNullable();
    table.primary(['chain_id', 'number']);
  });
  await knex.schema.createTable('chain_summaries', (table) => {
    table.string('chain_id').primary();
    table.string('summary').notNullable();
    table.string('kind').notNullable();
    for (const list of ['character', 'tags', 'stages', 'contains']) table.text(list).notNullable();
    table.integer('rating').notNullable();
    table.float('tempo').notNullable();
    table.integer('version');
    table.boolean('unsaved').notNullable();
    table.text('fault');
    table.text('words').notNullable();
  });
  await knex.schema.createTable('sound_uses', (table) => {
    table.string('chain_id').notNullable();
    table.integer('number').notNullable();
    table.string('name').index();
    table.string('sha256', 64).index();
    table.index(['chain_id', 'number']);
  });
  await knex.schema.createTable('shelf_sounds', (table) => {
    table.string('chain_id').notNullable().index();
    table.string('sound_id').index();
  });
  await knex.schema.alterTable('renders', (table) => {
    for (const column of RENDERS_BY) table.index(column);
  });
  for (const [name, number] of DOCUMENTS) {
    for (const [event, row] of EVENTS) {
      const value = number === 'number' ? `${row}.number` : number;
      await knex.raw(
        `CREATE TRIGGER ${name}_${event}_stale AFTER ${event.toUpperCase()} ON ${name} BEGIN ` +
          `INSERT OR IGNORE INTO stale_documents VALUES (${row}.chain_id, ${value}); END`,
      );
    }
    await knex.raw(`INSERT INTO stale_documents SELECT chain_id, ${number} FROM ${name}`);
  }
  for (const [event, row] of EVENTS)
    await knex.raw(
      `CREATE TRIGGER desks_${event}_shelf AFTER ${event.toUpperCase()} ON desks BEGIN ` +
        `DELETE FROM shelf_sounds WHERE chain_id = ${row}.chain_id;` +
        (event === 'delete' ? '' : shelved('NEW')) +
        ' END',
    );
  await knex.raw(shelved('desks', 'FROM desks'));
}

/** Of a desk that cannot be read it is noted that nobody knows. */
function shelved(row: string, from = ''): string {
  const content = `CASE WHEN json_valid(${row}.content) THEN ${row}.content ELSE '{"shelf":[null]}' END`;
  const shelf = `json_each(${content}, '$.shelf') AS one`;
  return `INSERT INTO shelf_sounds SELECT ${row}.chain_id, one.value ${from === '' ? 'FROM' : `${from},`} ${shelf};`;
}

export async function down(knex: Knex): Promise<void> {
  for (const [event] of EVENTS) {
    for (const [name] of DOCUMENTS) await knex.raw(`DROP TRIGGER ${name}_${event}_stale`);
    await knex.raw(`DROP TRIGGER desks_${event}_shelf`);
  }
  await knex.schema.alterTable('renders', (table) => {
    for (const column of RENDERS_BY) table.dropIndex(column);
  });
  for (const table of ['stale_documents', 'chain_summaries', 'sound_uses', 'shelf_sounds'])
    await knex.schema.dropTable(table);
}
