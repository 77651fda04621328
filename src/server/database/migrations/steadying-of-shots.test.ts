import { afterAll, beforeAll, expect, it } from 'vitest';
import { createFilm } from '../../../core/film/film';
import { rational } from '../../../core/geometry/rational';
import { openTestWorkplace, type TestWorkplace } from '../test-workplace';
import { moveSteadyingToShots } from './steadying-of-shots';

let place: TestWorkplace;
beforeAll(async () => {
  place = await openTestWorkplace();
});
afterAll(() => place.close());

it('moves what held a layer still to its shot, and leaves the other edits as they are', async () => {
  const steadying = { trackId: 't', position: 1, turn: 0, size: 0, centred: false, edges: 'mirror' };
  const film = createFilm('Night', 160, 90, rational(24, 1));
  const layer = { id: 'l', name: 'Sign', visible: true, mattes: [], opacity: 1, x: 0, y: 0, scale: 1, rotationDegrees: 0 };
  const old = {
    ...film,
    schemaVersion: 1,
    name: 'Dusk',
    shots: ['a', 'b'].map((id) => ({ id, mediumId: 'm', name: id, inFrame: 0, length: 10 })),
    tracks: [
      {
        ...{ id: 't', mediumId: 'm', name: 'Sign', model: 'affine', frames: [] },
        keys: [
          {
            frame: 3,
            corners: [
              [0, 0],
              [9, 0],
              [9, 9],
            ],
          },
        ],
      },
    ],
    joins: [
      {
        ...{ id: 'j', name: 'J', kind: 'cut', leavingShotId: 'a', enteringShotId: 'b', before: 0, after: 0, fitsHole: false },
        layers: [
          { ...layer, id: 'l1', source: 'leaving', steadying: { ...steadying, trackId: 'gone' } },
          { ...layer, id: 'l2', source: 'entering', steadying },
        ],
      },
    ],
  };
  await place.db('films').insert({ id: 'f', document: JSON.stringify(old), revision: 2, updated_at: 0 });
  const edit = (revision: number, name: string, patches: unknown[], inverse: unknown[]) =>
    place.db('film_edits').insert({
      film_id: 'f',
      revision,
      name,
      kind: 'edit',
      target: null,
      patches: JSON.stringify(patches),
      inverse: JSON.stringify(inverse),
    });
  await edit(1, 'Named it Dusk', [{ op: 'replace', path: ['name'], value: 'Dusk' }], [{ op: 'replace', path: ['name'], value: 'Night' }]);
  const at = ['joins', 0, 'layers', 1, 'steadying'];
  await edit(2, 'b is held still', [{ op: 'add', path: at, value: steadying }], [{ op: 'remove', path: at }]);

  await moveSteadyingToShots(place.db);

  const row = await place.db<{ id: string; document: string }>('films').where({ id: 'f' }).first('document');
  const moved = JSON.parse(row!.document) as { schemaVersion: number; shots: { steadying?: unknown }[]; joins: unknown };
  expect(moved.schemaVersion).toBe(2);
  expect(moved.shots.map((s) => s.steadying)).toEqual([undefined, steadying]);
  expect(JSON.stringify(moved.joins)).not.toContain('steadying');
  const edits = await place.db<{ revision: number; patches: string }>('film_edits').orderBy('revision').select('patches');
  expect(edits.map((e) => (JSON.parse(e.patches) as { path: unknown }[])[0]!.path)).toEqual([['name'], ['schemaVersion']]);
});
