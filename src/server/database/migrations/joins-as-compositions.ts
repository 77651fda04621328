import type { Knex } from 'knex';
import { migrateFilm } from '../../../core/film/migrate';

/**
 * Films as of version 3: a join holds a composition. What was done before can no longer be taken back, since its edits speak of what is built
 * differently now; the films are as they were.
 */
export async function makeJoinsCompositions(db: Knex): Promise<void> {
  for (const { id, document } of await db<{ id: string; document: string }>('films').select('id', 'document'))
    await db('films')
      .where({ id })
      .update({ document: JSON.stringify(migrateFilm(JSON.parse(document))) });
  await db('film_edits').delete();
}
