import { expect, it } from 'vitest';
import { seeded } from '../../../tests/held/seeded';
import { bringBack, joinsAside } from '../film/edits/aside';
import { copyShots, isFinished } from '../film/edits/copies';
import { duplicateShots, faultOfSplit, moveShots, pasteShots, removeShots, splitShot, swapWithNext } from '../film/edits/reel';
import { trimEnd, trimStart } from '../film/edits/trims';
import type { Film } from '../film/film';
import { applyEdit, makeEdit, type Edit } from '../film/history';
import { isChangedByHand } from '../film/made-mark';
import { patched } from '../film/patches';
import { faultInFilm } from '../film/rules';
import { changed, countingIds } from '../film/sample-film';
import { filmLength, placedJoins, startOfShot } from '../film/timing';
import { planFrame } from '../plan/plan-film';
import { EVERY, EVERY_MEDIA } from './every-kind';
import { KIND_NAMES } from './kinds';

// What is done to the reel loses nothing that was made: each finished join is on its cut, or put aside.

const finishedIds = (film: Film): string[] => film.joins.filter(isFinished).map((j) => j.id);

it('keeps or puts aside every join over 2000 edits, and undoes them all to the film it was', () => {
  const below = seeded(7);
  const random = (): number => below(10_000) / 10_000;
  const newId = countingIds('n');
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
  const edits: Edit[] = [];
  let film = EVERY;
  expect(finishedIds(film)).toHaveLength(KIND_NAMES.length);
  let clip = copyShots(film, 'f', new Set([film.shots[1]!.id]));
  const count = 2000;
  for (let n = 0; n < count; n++) {
    const some = new Set([pick(film.shots).id, ...(random() < 0.3 ? [pick(film.shots).id] : [])]);
    const [first] = some;
    const shot = film.shots.find((s) => s.id === first)!;
    const medium = EVERY_MEDIA.get(shot.mediumId)!;
    const place = Math.floor(random() * (film.shots.length + 1));
    const aside = joinsAside(film);
    const frame = startOfShot(film, shot.id) + Math.floor(random() * shot.length);
    const what = pick(['move', 'swap', 'remove', 'split', 'duplicate', 'cut', 'paste', 'back', 'back', 'start', 'end'] as const);
    if (what === 'remove' && film.shots.length < 8) continue;
    if (what === 'split' && faultOfSplit(film, shot.id, frame) !== null) continue;
    if (what === 'duplicate' && film.shots.length > 20) continue;
    if (what === 'paste' && film.shots.length > 20) continue;
    if (what === 'cut' && film.shots.length < 8) continue;
    if (what === 'back' && aside.length === 0) continue;
    if (what === 'cut') clip = copyShots(film, 'f', some);
    const made = makeEdit(film, what, (d) => {
      if (what === 'move') moveShots(d, some, place, newId);
      else if (what === 'swap') swapWithNext(d, shot.id, newId);
      else if (what === 'remove' || what === 'cut') removeShots(d, some, newId);
      else if (what === 'split') splitShot(d, medium, shot.id, frame, newId);
      else if (what === 'duplicate') duplicateShots(d, some, newId);
      else if (what === 'paste') pasteShots(d, clip, place, newId);
      else if (what === 'back') bringBack(d, pick(aside).join.id, newId);
      else if (what === 'start') trimStart(d, medium, shot.id, Math.round(20 * random() - 10), newId);
      else trimEnd(d, medium, shot.id, Math.round(20 * random() - 10), newId);
    });
    if (made === null) continue;
    const before = finishedIds(film);
    edits.push(made.edit);
    film = made.film;
    const here = new Set([...placedJoins(film).map((p) => p.join.id), ...joinsAside(film).map((a) => a.join.id)]);
    // a trim may leave an overlap of nothing: what was made of the join is there all the same
    const known = new Set(film.joins.map((j) => j.id));
    const finished = new Set(finishedIds(film));
    const lost = before.filter((id) => !known.has(id) || (finished.has(id) && !here.has(id)));
    expect([n, what, lost]).toEqual([n, what, []]);
    expect(faultInFilm(film)).toBeNull();
  }
  expect(edits.length).toBeGreaterThan(count / 3);
  for (const edit of edits.toReversed()) film = patched(film, edit.inverse);
  expect(film).toEqual(EVERY);
  for (const edit of edits) film = applyEdit(film, edit);
  expect(faultInFilm(film)).toBeNull();
});

const pictures = (film: Film, frame: number): unknown => {
  const { layers, missing } = planFrame(film, EVERY_MEDIA, frame);
  return [layers, missing.map((m) => m.where)];
};

it('shows the same on every frame after a split, and its joins count as made still', () => {
  const newId = countingIds('s');
  for (const shot of EVERY.shots) {
    const start = startOfShot(EVERY, shot.id);
    const frame = Array.from({ length: shot.length }, (_, i) => start + i).find((f) => faultOfSplit(EVERY, shot.id, f) === null);
    if (frame === undefined) continue;
    const split = changed(EVERY, (d) => splitShot(d, EVERY_MEDIA.get(shot.mediumId)!, shot.id, frame, newId));
    expect(split.shots).toHaveLength(EVERY.shots.length + 1);
    expect(placedJoins(split).filter((p) => isFinished(p.join))).toHaveLength(KIND_NAMES.length);
    for (let f = 0; f < filmLength(EVERY); f += 3) expect([shot.id, f, pictures(split, f)]).toEqual([shot.id, f, pictures(EVERY, f)]);
    expect(split.joins.filter((j) => isChangedByHand(split, j)).map((j) => j.name)).toEqual([]);
  }
});

it('copies shots with the joins between them', () => {
  const newId = countingIds('c');
  const two = new Set(EVERY.shots.slice(3, 6).map((s) => s.id));
  const copied = changed(EVERY, (d) => void pasteShots(d, copyShots(EVERY, 'f', two), d.shots.length, newId));
  const kinds = placedJoins(copied).map((p) => p.join.recipe?.kind);
  expect(kinds.slice(-2)).toEqual(KIND_NAMES.slice(3, 5));
  expect(copied.joins.filter((j) => isChangedByHand(copied, j))).toEqual([]);
  const [from, to] = [startOfShot(EVERY, EVERY.shots[4]!.id), startOfShot(copied, copied.shots.at(-2)!.id)];
  for (let f = -10; f < 10; f++)
    expect(planFrame(copied, EVERY_MEDIA, to + f).layers.length).toBe(planFrame(EVERY, EVERY_MEDIA, from + f).layers.length);
});

it('brings a join back with a shot that was removed, as it was', () => {
  const newId = countingIds('b');
  const gone = EVERY.shots[4]!;
  const less = changed(EVERY, (d) => removeShots(d, new Set([gone.id]), newId));
  expect(joinsAside(less).map((a) => a.join.name)).toEqual(KIND_NAMES.slice(3, 5));
  expect(less.aside!.map((s) => s.id)).toEqual([gone.id]);
  const back = changed(less, (d) => bringBack(d, joinsAside(d)[0]!.join.id, newId));
  expect(back.shots.map((s) => s.id)).toEqual(EVERY.shots.map((s) => s.id));
  expect(joinsAside(back)).toEqual([]);
  for (let f = 0; f < filmLength(EVERY); f += 5) expect(pictures(back, f)).toEqual(pictures(EVERY, f));
});
