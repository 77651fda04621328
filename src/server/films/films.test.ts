import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { createFilm } from '../../core/film/film';
import { makeEdit, redoEdit, undoEdit, undoStacks } from '../../core/film/history';
import { rational } from '../../core/geometry/rational';
import { openFilm, storeEdit } from './film-edits';
import { addFilm, findFilm, loadFilm } from './films';
import { openTestWorkplace, type TestWorkplace } from '../database/test-workplace';
import { openDb } from '../database/db';

let place: TestWorkplace;
beforeAll(async () => {
  place = await openTestWorkplace();
});
afterAll(() => place.close());

const empty = createFilm('Night', 1280, 720, rational(24, 1));
const rename = (name: string) => makeEdit(empty, `Named it ${name}`, (d) => void (d.name = name))!.edit;

describe('storeEdit', () => {
  it('applies edits in order and keeps the history, also for another process', async () => {
    const id = await addFilm(place.db, empty);
    expect(await storeEdit(place.db, id, { base: 0, edit: rename('Dusk') })).toBe(1);
    const opened = await openFilm(place.db, id);
    await storeEdit(place.db, id, { base: 1, edit: undoEdit(undoStacks(opened.edits).undo.at(-1)!) });
    const other = await openDb(place.file('test.sqlite'));
    const again = await openFilm(other, id);
    expect(again.film.name).toBe('Night');
    expect(undoStacks(again.edits).redo.map((e) => e.name)).toEqual(['Named it Dusk']);
    await storeEdit(other, id, { base: 2, edit: redoEdit(undoStacks(again.edits).redo.at(-1)!) });
    expect((await loadFilm(place.db, id)).film.name).toBe('Dusk');
    await other.destroy();
  });

  it('refuses an edit made on an older film, and changes nothing', async () => {
    const id = await addFilm(place.db, empty);
    await storeEdit(place.db, id, { base: 0, edit: rename('Dusk') });
    await expect(storeEdit(place.db, id, { base: 0, edit: rename('Dawn') })).rejects.toMatchObject({ code: 'conflict', status: 409 });
    expect(await loadFilm(place.db, id)).toMatchObject({ revision: 1, film: { name: 'Dusk' } });
  });

  it('puts an edit made on an older film on top when both touch different things', async () => {
    const id = await addFilm(place.db, empty);
    await storeEdit(place.db, id, { base: 0, edit: rename('Dusk') });
    const wider = makeEdit(empty, 'Made it wider', (d) => void (d.width = 1920))!.edit;
    expect(await storeEdit(place.db, id, { base: 0, edit: wider })).toBe(2);
    expect((await loadFilm(place.db, id)).film).toMatchObject({ name: 'Dusk', width: 1920 });
    await expect(storeEdit(place.db, id, { base: 7, edit: wider })).rejects.toMatchObject({ code: 'conflict' });
  });

  it.each([
    ['a wrong type', [{ op: 'replace' as const, path: ['width'], value: '1280' }]],
    ['a size out of range', [{ op: 'replace' as const, path: ['width'], value: 1e9 }]],
    ['an unknown field', [{ op: 'add' as const, path: ['extra'], value: 1 }]],
    ['a path that is not there', [{ op: 'replace' as const, path: ['shots', 4, 'name'], value: 'x' }]],
    [
      'a join of shots that are not there',
      [
        {
          op: 'add' as const,
          path: ['joins', 0],
          value: {
            id: 'j',
            name: 'j',
            leavingShotId: 'x',
            enteringShotId: 'y',
            before: 0,
            after: 0,
            layers: [],
            carriers: [],
            finish: [],
          },
        },
      ],
    ],
    ['the prototype', [{ op: 'add' as const, path: ['__proto__', 'polluted'], value: 1 }]],
  ])('refuses %s', async (_, patches) => {
    const id = await addFilm(place.db, empty);
    await expect(
      storeEdit(place.db, id, { base: 0, edit: { name: 'bad', kind: 'edit', target: null, patches, inverse: [] } }),
    ).rejects.toMatchObject({
      code: 'bad-request',
    });
    expect(await loadFilm(place.db, id)).toMatchObject({ revision: 0 });
    expect(({} as { polluted?: number }).polluted).toBeUndefined();
  });
});

it('finds a film by id or name, and says what there is', async () => {
  const id = await addFilm(place.db, createFilm('By name', 64, 64, rational(25, 1)));
  expect((await findFilm(place.db, 'By name')).id).toBe(id);
  expect((await findFilm(place.db, id)).film.name).toBe('By name');
  await expect(findFilm(place.db, 'nothing')).rejects.toThrow(/By name/);
});
