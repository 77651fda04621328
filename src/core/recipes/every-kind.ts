import { renameJoin } from '../film/edits/joins';
import { addShot } from '../film/edits/reel';
import { createFilm, type Film, type Media } from '../film/film';
import { changed, countingIds, sampleMedium } from '../film/sample-film';
import { placedJoins } from '../film/timing';
import { rational } from '../geometry/rational';
import { corner } from '../matte/outline/outline';
import { KIND_NAMES } from './kinds';
import { chooseKind } from './making';

/** For tests: a film that has a join of every kind. */

/** A medium for each shot. */
export const EVERY_MEDIA: Media = new Map(
  KIND_NAMES.map((_, i) => `m${i}`)
    .concat('last')
    .map((id) => [id, sampleMedium(id, 120)]),
);

/** A film with a join of every kind, between shots with handles. */
export const EVERY: Film = changed(createFilm('every', 160, 90, rational(24, 1)), (d) => {
  const newId = countingIds('made');
  const points = [corner(-20, -20), corner(20, -20), corner(20, 20), corner(-20, 20)];
  for (const medium of EVERY_MEDIA.values()) {
    addShot(d, medium, d.shots.length, newId);
    Object.assign(d.shots.at(-1)!, { inFrame: 30, length: 60 });
    const outline = { closed: true, keys: [{ frame: 0, ease: 'straight' as const, points }] };
    d.mattes.push({ id: `box-${medium.id}`, mediumId: medium.id, name: 'Box', outline });
  }
  placedJoins(d).forEach(({ join }, i) => {
    chooseKind(d, EVERY_MEDIA, join.id, KIND_NAMES[i]!, newId);
    renameJoin(d, join.id, KIND_NAMES[i]!);
  });
});
