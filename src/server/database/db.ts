import Database from 'better-sqlite3';
import knex, { type Knex } from 'knex';
import { dataFolder, databaseFile, lockFile } from '../base/data-folder';
import { AppError } from '../base/errors';
import { migrations } from './migrations/migrations';

/** How long a write waits for another program that holds the database. */
const BUSY_MS = 5000;

/** Opens a database file and brings its tables up to date. Every acknowledged change is on the disk, also when the power goes. */
export async function openDb(filename: string): Promise<Knex> {
  const db = knex({
    client: 'better-sqlite3',
    connection: { filename },
    useNullAsDefault: true,
    pool: { min: 1, max: 1 },
  });
  try {
    await db.raw('PRAGMA journal_mode = WAL');
    await db.raw('PRAGMA synchronous = FULL');
    await db.raw('PRAGMA foreign_keys = ON');
    await db.raw(`PRAGMA busy_timeout = ${BUSY_MS}`);
    await db.migrate.latest({
      migrationSource: {
        getMigrations: () => Promise.resolve([...migrations]),
        getMigrationName: (m: (typeof migrations)[number]) => m.name,
        getMigration: (m: (typeof migrations)[number]) => Promise.resolve(m),
      },
    });
    return db;
  } catch (error) {
    await db.destroy();
    throw error;
  }
}

/** The data folder's database. Each call opens it anew. */
export const openDataDb = (): Promise<Knex> => openDb(databaseFile());

const LOCK_WAIT_MS = 2000;

/**
 * Makes this process the one that works on the data folder, until the returned function is called or the process ends, however
 * that may be: the lock is the system's own, on a file that holds nothing else.
 * @throws AppError 'unavailable' while another process has it
 */
export function lockDataFolder(): () => void {
  const lock = new Database(lockFile(), { timeout: LOCK_WAIT_MS });
  try {
    lock.exec('BEGIN EXCLUSIVE');
  } catch (error) {
    lock.close();
    if ((error as { code?: string }).code !== 'SQLITE_BUSY') throw error;
    throw new AppError(
      'unavailable',
      `Another Irimi is at work on ${dataFolder()}. Close that one, or choose another folder with IRIMI_DATA.`,
    );
  }
  return () => lock.close();
}
