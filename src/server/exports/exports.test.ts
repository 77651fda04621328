import { afterAll, beforeAll, expect, it } from 'vitest';
import { existsSync } from 'node:fs';
import { execFileSync } from 'node:child_process';
import { makeNumberedVideo } from '../../../tests/fixtures/numbered-video';
import { addShot, removeShots } from '../../core/film/edits/reel';
import { createFilm } from '../../core/film/film';
import { makeEdit } from '../../core/film/history';
import { readyMedia } from '../../core/film/media-facts';
import { countingIds } from '../../core/film/sample-film';
import { rational } from '../../core/geometry/rational';
import { findExport, orderExport, removeExport, runExport, exportFile } from './exports';
import { storeEdit } from '../films/film-edits';
import { addFilm, loadFilm } from '../films/films';
import { copyMedium, listMedia } from '../media/media';
import { ingestMedium } from '../media/ingest';
import { openTestWorkplace, type TestWorkplace } from '../database/test-workplace';

let place: TestWorkplace;
beforeAll(async () => {
  if (!existsSync('dist/compose.mjs')) execFileSync(process.execPath, ['scripts/build.mjs', '--tools']);
  place = await openTestWorkplace();
});
afterAll(() => place.close());

const open = new AbortController().signal;

it('sends out the film as it was when it was ordered, whatever is changed before the job runs', async () => {
  await makeNumberedVideo(place.file('a.mp4'), { width: 160, height: 90, frames: 12, rate: '24' });
  const filmId = await addFilm(place.db, createFilm('Ordered', 160, 90, rational(24, 1)));
  await ingestMedium(place.db, await copyMedium(place.db, filmId, 'a.mp4', place.file('a.mp4')), open, () => undefined);
  const [medium] = [...readyMedia(await listMedia(place.db, filmId)).values()];
  const change = async (what: Parameters<typeof makeEdit>[2]): Promise<void> => {
    const { film, revision } = await loadFilm(place.db, filmId);
    await storeEdit(place.db, filmId, { base: revision, edit: makeEdit(film, 'change', what)!.edit });
  };
  const newId = countingIds('s');
  await change((d) => addShot(d, medium!, 0, newId));
  await change((d) => addShot(d, medium!, 1, newId));
  const order = { format: 'webm', joinId: null, handles: 0 } as const;
  const { entry, cost } = await orderExport(place.db, filmId, order);
  expect(cost).toBe(24);
  const { id } = entry;
  const second = await orderExport(place.db, filmId, order);
  expect([entry.name, second.entry.name]).toEqual(['Ordered.webm', 'Ordered 2.webm']);
  await change((d) => removeShots(d, new Set([d.shots[0]!.id]), newId));
  await runExport(place.db, id, open, () => undefined);
  expect(await findExport(place.db, id)).toMatchObject({ frames: 24 });
  // what the order held of the film is forgotten with it
  expect(await place.db('exports').where({ id }).first('document')).toEqual({ document: null });
  // one that waits for other work takes the film as it is when it is begun
  const waiting = await orderExport(place.db, filmId, { ...order, after: ['a-carry'] });
  expect(await place.db('exports').where({ id: waiting.entry.id }).first('document')).toEqual({ document: null });
  await change((d) => addShot(d, medium!, 1, newId));
  await change((d) => addShot(d, medium!, 1, newId));
  await runExport(place.db, waiting.entry.id, open, () => undefined);
  expect(await findExport(place.db, waiting.entry.id)).toMatchObject({ frames: 36 });
  await expect(runExport(place.db, waiting.entry.id, open, () => undefined)).rejects.toThrow('The order is gone');
  await removeExport(place.db, id);
  expect(existsSync(exportFile(id, 'webm'))).toBe(false);
});
