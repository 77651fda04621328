import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Knex } from 'knex';
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
