import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Knex } from 'knex';
import type { Medium } from '../../core/film/film';
import { rational } from '../../core/geometry/rational';
import { openDb } from './db';

/** A data folder and a database of its own for a test file. */
export interface TestWorkplace {
  readonly db: Knex;
  readonly folder: string;
  file(name: string): string;
  close(): Promise<void>;
}

export async function openTestWorkplace(): Promise<TestWorkplace> {
  const folder = mkdtempSync(join(tmpdir(), 'irimi-test-'));
  process.env.IRIMI_DATA = join(folder, 'data');
  process.env.IRIMI_ROOT = process.cwd();
  const db = await openDb(join(folder, 'test.sqlite'));
  return {
    db,
    folder,
    file: (name) => join(folder, name),
    async close() {
      await db.destroy();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

/** Puts a medium without any file on a film's shelf, ready. */
export async function putOnShelf(db: Knex, filmId: string, id: string, frames = 100): Promise<void> {
  const facts: Medium = { id, kind: 'video', name: id, width: 64, height: 36, rate: rational(24, 1), frames };
  await db('media').insert({ id, film_id: filmId, name: id, status: 'ready', bytes: 1, added_at: 1, facts: JSON.stringify(facts) });
}
