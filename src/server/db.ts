import knex, { type Knex } from 'knex';
import { databaseFile } from './data-folder';
import { migrations } from './migrations/migrations';

const shared = globalThis as { irimiDb?: Promise<Knex> };

/** Opens a database file and brings its tables up to date. */
export async function openDb(filename: string): Promise<Knex> {
  const db = knex({
    client: 'better-sqlite3',
    connection: { filename },
    useNullAsDefault: true,
    pool: { min: 1, max: 1 },
  });
  await db.raw('PRAGMA journal_mode = WAL');
  await db.raw('PRAGMA foreign_keys = ON');
  await db.raw('PRAGMA busy_timeout = 5000');
  await db.migrate.latest({
    migrationSource: {
      getMigrations: () => Promise.resolve([...migrations]),
      getMigrationName: (m: (typeof migrations)[number]) => m.name,
      getMigration: (m: (typeof migrations)[number]) => Promise.resolve(m),
    },
  });
  return db;
}

/** The data folder's database, opened once a process. */
export const getDb = (): Promise<Knex> => (shared.irimiDb ??= openDb(databaseFile()));
