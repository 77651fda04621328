import type { Knex } from 'knex';
import type { Film } from '../../../core/film/film';
import { patchesBetween } from '../../../core/film/patches';
import { storeParts, withoutParts } from '../film-parts';

interface OldPatch {
  readonly op: string;
  readonly path: (string | number)[];
  readonly value?: unknown;
}

interface OldEdit {
  readonly film_id: string;
  readonly revision: number;
  readonly patches: string;
  readonly inverse: string;
}

/** Edits of a film that are kept through this migration; each of the older ones may hold every stroke of its time. */
const KEPT_EDITS = 400;

/** Strokes and the frames of tracks move out of the films' documents; edits that hold whole lists keep only what they changed. */
export async function movePartsOutOfFilms(db: Knex): Promise<void> {
  await db.schema.createTable('strokes', (t) => {
    t.string('film_id').notNullable().references('films.id').onDelete('CASCADE');
    t.string('matte_id').notNullable();
    t.integer('frame').notNullable();
    t.string('list').notNullable();
    t.integer('place').notNullable();
    t.text('stroke').notNullable();
    t.primary(['film_id', 'matte_id', 'frame', 'list', 'place']);
  });
  await db.schema.createTable('track_frames', (t) => {
    t.string('film_id').notNullable().references('films.id').onDelete('CASCADE');
    t.string('track_id').notNullable();
    t.integer('frame').notNullable();
    t.text('corners').notNullable();
    t.float('confidence').notNullable();
    t.primary(['film_id', 'track_id', 'frame']);
  });
  await db.schema.alterTable('film_edits', (t) => {
    t.string('edit_id');
    t.string('window');
    t.index(['film_id', 'edit_id']);
  });
  await db.schema.alterTable('jobs', (t) => {
    t.string('window');
    t.integer('attempts').notNullable().defaultTo(0);
    t.integer('cost').notNullable().defaultTo(0);
  });
  await db.schema.alterTable('exports', (t) => t.text('document'));
  await db.schema.createTable('export_frames', (t) => {
    t.string('export_id').notNullable().references('exports.id').onDelete('CASCADE');
    t.string('matte_id').notNullable();
    t.integer('frame').notNullable();
    t.integer('width').notNullable();
    t.integer('height').notNullable();
    t.binary('coverage').notNullable();
    t.primary(['export_id', 'matte_id', 'frame']);
  });
  for (const { id } of await db<{ id: string }>('films').select('id')) {
    const { document, revision } = (await db<{ id: string; document: string; revision: number }>('films').where({ id }).first())!;
    const film = JSON.parse(document) as Film;
    await storeParts(db, id, null, film);
    await db('films')
      .where({ id })
      .update({ document: JSON.stringify(withoutParts(film)) });
    await db('film_edits')
      .where({ film_id: id })
      .where('revision', '<=', revision - KEPT_EDITS)
      .delete();
    // one at a time: together they may be larger than memory
    for (const row of await db<OldEdit>('film_edits').where({ film_id: id }).select('revision')) await shrinkEdit(db, id, row.revision);
  }
}

async function shrinkEdit(db: Knex, film_id: string, revision: number): Promise<void> {
  const row = (await db<OldEdit>('film_edits').where({ film_id, revision }).first())!;
  const [patches, inverse] = [row.patches, row.inverse].map((text: string) => JSON.parse(text) as OldPatch[]);
  const shrunk = { patches: shorter(inverse!, patches!), inverse: shorter(patches!, inverse!) };
  await db('film_edits')
    .where({ film_id, revision })
    .update({ edit_id: `${film_id}-${revision}`, patches: JSON.stringify(shrunk.patches), inverse: JSON.stringify(shrunk.inverse) });
}

/** `to` with each value that replaces one of `from` as the difference of both. */
function shorter(from: readonly OldPatch[], to: readonly OldPatch[]): OldPatch[] {
  return to.flatMap((patch) => {
    const old = from.filter((p) => p.path.join('/') === patch.path.join('/'));
    const isWhole = patch.op === 'replace' && old.length === 1 && old[0]!.op === 'replace';
    return isWhole ? patchesBetween(old[0]!.value, patch.value, patch.path) : [patch];
  });
}
