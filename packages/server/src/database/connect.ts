import { existsSync } from 'node:fs';
import { rename, rm } from 'node:fs/promises';
import Database from 'better-sqlite3';
import knex, { type Knex } from 'knex';
import { StartFault, startFault } from '../store/startFault.ts';
import { MIGRATIONS } from './migrations/migrations.ts';

/** Opens the database file, creating and migrating it as needed. StartFault when it is damaged or cannot be written. */
export async function connectDatabase(file: string): Promise<Knex> {
  checkDatabase(file);
  const database = knex({
    client: 'better-sqlite3',
    connection: { filename: file },
    useNullAsDefault: true,
    pool: {
      min: 1,
      max: 1,
      afterCreate: (connection: Database.Database, done: (error: Error | null) => void) => {
        connection.pragma('journal_mode = WAL');
        connection.pragma('foreign_keys = ON');
        // What was answered survives a cut of the power; the driver’s own setting does not promise that.
        connection.pragma('synchronous = FULL');
        // The database knows only the letters of ASCII as large and small.
        connection.function('fold', { deterministic: true }, (text) => String(text).toLowerCase());
        done(null);
      },
    },
  });
  try {
    await migrate(database, file);
    return database;
  } catch (error) {
    await database.destroy();
    throw startFault(file, inWords(file, error));
  }
}

/** Brings the schema up to date. A store of an earlier version is copied first, beside itself, and stays so. */
async function migrate(database: Knex, file: string): Promise<void> {
  const migrationSource = {
    getMigrations: async () => Object.keys(MIGRATIONS),
    getMigrationName: (name: string) => name,
    getMigration: async (name: string) => MIGRATIONS[name],
  };
  const [done, pending] = (await database.migrate.list({ migrationSource })) as [unknown[], string[]];
  if (done.length > 0 && pending.length > 0) {
    const copy = copyBefore(file, pending[0]);
    // One that was begun and broken off is no copy.
    await rm(`${copy}.unfinished`, { force: true });
    if (!existsSync(copy)) {
      await database.raw('VACUUM INTO ?', [`${copy}.unfinished`]);
      await rename(`${copy}.unfinished`, copy);
    }
  }
  // Whoever held it is gone: the folder is held by one process. Each migration is done whole or not at all.
  await database.migrate.forceFreeMigrationsLock({ migrationSource });
  await database.migrate.latest({ migrationSource });
}

/** Where the copy is laid that is made before a migration. */
const copyBefore = (file: string, migration: string) => file.replace(/\.sqlite$/, `-before-${migration}.sqlite`);

/**
 * Looks at the file by itself first: the pool would ask for a connection to a damaged one again and again for a minute.
 */
function checkDatabase(file: string): void {
  try {
    const database = new Database(file);
    try {
      database.pragma('journal_mode = WAL');
      const found = database.pragma('quick_check(1)', { simple: true });
      if (found !== 'ok') throw Object.assign(new Error(String(found)), { code: 'SQLITE_CORRUPT' });
    } finally {
      database.close();
    }
  } catch (error) {
    throw startFault(file, inWords(file, error));
  }
}

/** An error of the database as a reason not to start; any other as it is. */
function inWords(file: string, error: unknown): unknown {
  const { code = '', message } = error as { code?: string; message: string };
  if (/^SQLITE_(NOTADB|CORRUPT)/.test(code))
    return new StartFault(
      `The database ${file} is damaged (${message}). Put a copy of it back in its place, or move it away to begin with an ` +
        `empty store; the sounds beside it, in the folders audio and orphaned, are kept.`,
    );
  if (/migration directory is corrupt/i.test(message))
    return new StartFault(
      `The database ${file} was written by a newer Hexenkessel than this one. Start that one, or set HEXENKESSEL_DATA to another folder.`,
    );
  if (code === 'SQLITE_FULL') return Object.assign(new Error(message), { code: 'ENOSPC', path: file });
  if (/^SQLITE_(READONLY|CANTOPEN|PERM)/.test(code))
    return Object.assign(new Error(message), { code: 'EACCES', path: file });
  if (code.startsWith('SQLITE_IOERR')) return Object.assign(new Error(message), { code: 'EIO', path: file });
  return error;
}
