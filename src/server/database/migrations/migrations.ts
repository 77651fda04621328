import type { Knex } from 'knex';
import { migrateFilm } from '../../../core/film/migrate';
import { makeJoinsCompositions } from './joins-as-compositions';
import { movePartsOutOfFilms } from './parts-of-films';
import { moveSteadyingToShots } from './steadying-of-shots';

interface NamedMigration extends Knex.Migration {
  readonly name: string;
}

/** In order; a migration that has been released is never changed. */
export const migrations: readonly NamedMigration[] = [
  {
    name: '001-films-media-jobs',
    async up(db) {
      await db.schema.createTable('films', (t) => {
        t.string('id').primary();
        t.text('document').notNullable();
        t.integer('revision').notNullable();
        t.integer('updated_at').notNullable();
      });
      await db.schema.createTable('film_edits', (t) => {
        t.string('film_id').notNullable().references('films.id').onDelete('CASCADE');
        t.integer('revision').notNullable();
        t.string('name').notNullable();
        t.string('kind').notNullable();
        t.integer('target');
        t.text('patches').notNullable();
        t.text('inverse').notNullable();
        t.primary(['film_id', 'revision']);
      });
      await db.schema.createTable('media', (t) => {
        t.string('id').primary();
        t.string('film_id').notNullable().references('films.id').onDelete('CASCADE');
        t.string('name').notNullable();
        t.string('status').notNullable();
        t.text('error');
        t.integer('bytes').notNullable();
        t.text('facts');
        t.integer('added_at').notNullable();
      });
      await db.schema.createTable('jobs', (t) => {
        t.string('id').primary();
        t.string('film_id').notNullable().references('films.id').onDelete('CASCADE');
        t.string('kind').notNullable();
        t.string('subject_id').notNullable();
        t.string('label').notNullable();
        t.string('state').notNullable();
        t.text('error');
        t.integer('added_at').notNullable();
      });
      await db.schema.createTable('exports', (t) => {
        t.string('id').primary();
        t.string('film_id').notNullable().references('films.id').onDelete('CASCADE');
        t.string('name').notNullable();
        t.string('format').notNullable();
        t.text('order').notNullable();
        t.integer('revision').notNullable();
        t.integer('frames');
        t.integer('bytes');
        t.integer('added_at').notNullable();
      });
    },
    async down(db) {
      for (const table of ['exports', 'jobs', 'media', 'film_edits', 'films']) await db.schema.dropTable(table);
    },
  },
  {
    name: '002-matte-frames',
    async up(db) {
      await db.schema.createTable('matte_frames', (t) => {
        t.string('film_id').notNullable().references('films.id').onDelete('CASCADE');
        t.string('matte_id').notNullable();
        t.integer('frame').notNullable();
        t.string('origin').notNullable();
        t.boolean('settled').notNullable();
        t.float('confidence').notNullable();
        t.float('doubt_x');
        t.float('doubt_y');
        t.string('made_from').notNullable();
        t.integer('width').notNullable();
        t.integer('height').notNullable();
        t.integer('version').notNullable();
        t.binary('coverage').notNullable();
        t.binary('base');
        t.primary(['film_id', 'matte_id', 'frame']);
      });
      await db.schema.alterTable('jobs', (t) => t.text('payload'));
    },
    async down(db) {
      await db.schema.alterTable('jobs', (t) => t.dropColumn('payload'));
      await db.schema.dropTable('matte_frames');
    },
  },
  {
    name: '003-matte-frame-edits',
    async up(db) {
      // what a frame was before an edit of the stored frames or, once that is taken back, what it was after; no origin: nothing
      await db.schema.createTable('matte_frame_edits', (t) => {
        t.string('film_id').notNullable().references('films.id').onDelete('CASCADE');
        t.string('matte_id').notNullable();
        t.string('edit_id').notNullable();
        t.integer('frame').notNullable();
        t.string('origin');
        t.float('confidence');
        t.float('doubt_x');
        t.float('doubt_y');
        t.string('made_from');
        t.integer('width');
        t.integer('height');
        t.binary('coverage');
        t.binary('base');
        t.primary(['film_id', 'matte_id', 'edit_id', 'frame']);
      });
    },
    async down(db) {
      await db.schema.dropTable('matte_frame_edits');
    },
  },
  {
    name: '004-steadying-of-shots',
    up: moveSteadyingToShots,
    down: () => Promise.reject(new Error('what held layers still cannot be told from the shots')),
  },
  {
    name: '005-parts-of-films',
    up: movePartsOutOfFilms,
    down: () => Promise.reject(new Error('edits no longer hold what they would need')),
  },
  {
    name: '006-joins-as-compositions',
    up: makeJoinsCompositions,
    down: () => Promise.reject(new Error('a composition does not fit the joins of before')),
  },
  {
    name: '007-sound-of-media',
    async up(db) {
      await db.schema.alterTable('media', (t) => t.text('sound'));
    },
    async down(db) {
      await db.schema.alterTable('media', (t) => t.dropColumn('sound'));
    },
  },
  {
    name: '008-own-recipes',
    async up(db) {
      await db.schema.createTable('own_recipes', (t) => {
        t.string('id').primary();
        t.text('document').notNullable();
        t.integer('made_at').notNullable();
      });
    },
    async down(db) {
      await db.schema.dropTable('own_recipes');
    },
  },
  {
    name: '009-owners-of-mattes',
    up: storeInTodaysForm,
    down: () => Promise.resolve(),
  },
  {
    name: '010-jobs-after-others',
    async up(db) {
      await db.schema.alterTable('jobs', (t) => t.text('after'));
    },
    async down(db) {
      await db.schema.alterTable('jobs', (t) => t.dropColumn('after'));
    },
  },
  {
    name: '011-when-jobs-were-asked-for',
    async up(db) {
      for (const table of ['jobs', 'film_edits']) await db.schema.alterTable(table, (t) => t.integer('asked_at'));
    },
    async down(db) {
      for (const table of ['jobs', 'film_edits']) await db.schema.alterTable(table, (t) => t.dropColumn('asked_at'));
    },
  },
  {
    name: '012-films-of-version-4',
    async up(db) {
      await storeInTodaysForm(db);
      await sayKindsOfMedia(db);
    },
    down: () => Promise.resolve(),
  },
  {
    name: '013-versions-and-deleted-films',
    async up(db) {
      await db.schema.alterTable('films', (t) => t.integer('deleted_at'));
      await db.schema.createTable('film_versions', (t) => {
        t.string('id').primary();
        t.string('film_id').notNullable().references('films.id').onDelete('CASCADE');
        t.string('name').notNullable();
        t.boolean('by_itself').notNullable();
        t.integer('revision').notNullable();
        t.integer('made_at').notNullable();
        // the whole film as JSON, compressed
        t.binary('document').notNullable();
        t.index(['film_id', 'made_at']);
      });
    },
    async down(db) {
      await db.schema.dropTable('film_versions');
      await db.schema.alterTable('films', (t) => t.dropColumn('deleted_at'));
    },
  },
  {
    name: '014-media-by-content-and-strips-of-versions',
    async up(db) {
      await db.schema.alterTable('media', (t) => {
        // of the original, in hex; null until it is known
        t.string('sha256');
        // of numbered pictures: the rate that was asked for, as '24/1'
        t.string('asked_rate');
      });
      // what a version shows, as JSON
      await db.schema.alterTable('film_versions', (t) => t.text('strip'));
    },
    async down(db) {
      await db.schema.alterTable('film_versions', (t) => t.dropColumn('strip'));
      await db.schema.alterTable('media', (t) => t.dropColumns('sha256', 'asked_rate'));
    },
  },
];

/** Media say what they are, and which file of them the page draws from. */
async function sayKindsOfMedia(db: Knex): Promise<void> {
  for (const { id, facts } of await db<{ id: string; facts: string }>('media').whereNotNull('facts').select('id', 'facts')) {
    const known = JSON.parse(facts) as { frames: number };
    const said = { kind: known.frames === 1 ? 'still' : 'video', proxy: 'proxy.webm', ...known };
    await db('media')
      .where({ id })
      .update({ facts: JSON.stringify(said) });
  }
}

/** Stores every film in today's form. */
async function storeInTodaysForm(db: Knex): Promise<void> {
  for (const { id, document } of await db<{ id: string; document: string }>('films').select('id', 'document'))
    await db('films')
      .where({ id })
      .update({ document: JSON.stringify(migrateFilm(JSON.parse(document))) });
}
