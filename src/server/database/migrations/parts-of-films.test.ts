import knex from 'knex';
import { expect, it } from 'vitest';
import { makeEdit } from '../../../core/film/history';
import { migrateFilm } from '../../../core/film/migrate';
import { openDb } from '../db';
import { openFilm, storeEdit } from '../../films/film-edits';
import { openTestWorkplace } from '../test-workplace';
import { migrations } from './migrations';

const stroke = (n: number): object => ({
  radius: 9,
  points: [
    [n, 0],
    [n, 9],
  ],
});
const strokes = (count: number): object[] => Array.from({ length: count }, (_, n) => stroke(n));
const painted = (count: number): object[] => [{ frame: 3, keep: strokes(count), drop: [] }];

it('takes a film over whose every stroke was stored with all before it, and goes on from there', async () => {
  const place = await openTestWorkplace();
  const filename = place.file('old.sqlite');
  const old = knex({ client: 'better-sqlite3', connection: { filename }, useNullAsDefault: true });
  const source = {
    getMigrations: () => Promise.resolve(migrations.slice(0, 4)),
    getMigrationName: (m: (typeof migrations)[number]) => m.name,
    getMigration: (m: (typeof migrations)[number]) => Promise.resolve(m),
  };
  await old.migrate.latest({ migrationSource: source });
  const track = {
    ...{ id: 't', mediumId: 'x', name: 'Sign', model: 'position' },
    keys: [{ frame: 0, corners: Array.from({ length: 4 }, () => [0, 0]) }],
    frames: [{ frame: 1, corners: Array.from({ length: 4 }, () => [1, 1]), confidence: 0.5 }],
  };
  const film = {
    ...{ schemaVersion: 2, name: 'Old', width: 160, height: 90, rate: { numerator: 24, denominator: 1 }, shots: [], joins: [] },
    mattes: [{ id: 'm', mediumId: 'x', name: 'Subject', outline: { closed: false, keys: [] }, painted: painted(120) }],
    tracks: [track],
  };
  await old('films').insert({ id: 'f', document: JSON.stringify(film), revision: 120, updated_at: 0 });
  for (let n = 1; n <= 120; n++) {
    const path = ['mattes', 0, 'painted'];
    await old('film_edits').insert({
      ...{ film_id: 'f', revision: n, name: `Stroke ${n}`, kind: 'edit', target: null },
      patches: JSON.stringify([{ op: 'replace', path, value: painted(n) }]),
      inverse: JSON.stringify([{ op: 'replace', path, value: painted(n - 1) }]),
    });
  }
  await old.destroy();

  const db = await openDb(filename);
  const opened = await openFilm(db, 'f');
  expect(opened.film).toEqual(migrateFilm(film));
  expect((await db<{ document: string }>('films').first('document'))!.document).not.toContain('radius');
  // a later version builds films differently: what was done before it can no longer be taken back, and nothing is in the way of going on
  expect(opened.edits).toEqual([]);
  const renamed = makeEdit(opened.film, 'Named it New', (d) => void (d.name = 'New'))!;
  await storeEdit(db, 'f', { base: 120, edit: renamed.edit });
  expect((await openFilm(db, 'f')).film).toEqual({ ...opened.film, name: 'New' });
  await db.destroy();
  await place.close();
});
