import { expect, it } from 'vitest';
import { setOverlap } from '../film/edits/joins';
import { trimEnd } from '../film/edits/trims';
import { changed } from '../film/sample-film';
import { addMatte } from '../film/edits/mattes';
import { makeKind } from './making';
import { joinAt, MEDIA, REEL } from './test-joins';
import { whatChanged } from './what-changed';

const { id } = joinAt(REEL).join;
const plain = changed(REEL, (d) => {
  d.joins[0]!.layers = [];
  setOverlap(d, id, 10, 4);
});

it('tells what a recipe did: the overlap, the layers and the mattes it began', () => {
  const film = changed(plain, (d) => {
    const matteId = addMatte(d, 'b', 'strokes', 'Shot b, subject', () => 'new');
    makeKind(d, MEDIA, id, 'arrive', { matteId });
    setOverlap(d, id, 12, 8);
  });
  const { layers } = joinAt(film).join;
  expect(whatChanged(plain, film, id)).toEqual([
    'The overlap has 20 frames instead of 14.',
    `${layers.length} layers made.`,
    'New in Mask: Shot b, subject.',
  ]);
});

it('tells of frames that come elsewhere, and says nothing where nothing was done', () => {
  const film = changed(plain, (d) => {
    setOverlap(d, id, 12, 2);
    trimEnd(d, MEDIA.get('b')!, d.shots[1]!.id, -3, () => 'new');
  });
  expect(whatChanged(plain, film, id)).toEqual(['The overlap begins 2 frames earlier.', 'Other frames are shown of shot b.']);
  expect(whatChanged(plain, plain, id)).toEqual([]);
});
