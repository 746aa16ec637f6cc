import knex, { type Knex } from 'knex';
import * as first from './migrations/20261124_first.ts';
import * as sounds from './migrations/20261126_sounds.ts';
import * as tempo from './migrations/20261127_tempo.ts';
import * as desks from './migrations/20261125_desks.ts';

const MIGRATIONS: Readonly<Record<string, Knex.Migration>> = {
  '20261124_first': first,
  '20261125_desks': desks,
  '20261126_sounds': sounds,
  '20261127_tempo': tempo,
};

/** Opens the database file, creating and migrating it as needed. */
export async function connectDatabase(file: string): Promise<Knex> {
  const database = knex({
    client: 'better-sqlite3',
    connection: { filename: file },
    useNullAsDefault: true,
    pool: {
      min: 1,
      max: 1,
      afterCreate: (connection: { pragma(text: string): void }, done: (error: Error | null) => void) => {
        connection.pragma('journal_mode = WAL');
        connection.pragma('foreign_keys = ON');
        done(null);
      },
    },
  });
  await database.migrate.latest({
    migrationSource: {
      getMigrations: async () => Object.keys(MIGRATIONS),
      getMigrationName: (name: string) => name,
      getMigration: async (name: string) => MIGRATIONS[name],
    },
  });
  return database;
}
