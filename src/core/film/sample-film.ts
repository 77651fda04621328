import { rational, type Rational } from '../geometry/rational';
import type { NewId } from './drafts';
import { addShot } from './edits/reel';
import { createFilm, type Film, type Medium } from './film';
import { makeEdit } from './history';
import { makeKind } from '../recipes/making';
import { setOutlineAndFit } from '../recipes/wipe-past/wipe-past';
import { wipeMatte } from '../recipes/wipe-past/wipe-past-report';
import { corner, type OutlineKey } from '../matte/outline/outline';
import { placedJoins } from './timing';

/** Small films for tests: media 'a' and 'b' on the reel, 160 × 90. */
export const sampleMedium = (id: string, frames: number, rate: Rational = rational(24, 1), width = 160, height = 90): Medium => ({
  id,
  kind: 'video',
  name: `shot ${id}`,
  width,
  height,
  rate,
  frames,
});

/** Ids that count up. */
export function countingIds(prefix = 'id'): NewId {
  let n = 0;
  return () => `${prefix}-${++n}`;
}

/** Applies a change as the page does. */
export function changed(film: Film, change: Parameters<typeof makeEdit>[2]): Film {
  return makeEdit(film, 'test', change)?.film ?? film;
}

export function sampleFilm(media: readonly Medium[], rate: Rational = rational(24, 1)): Film {
  const newId = countingIds();
  return changed(createFilm('sample', 160, 90, rate), (draft) => media.forEach((m, i) => addShot(draft, m, i, newId)));
}

/** An upright edge at `x` (medium pixels from the centre) on a frame; everything right of it is hidden. */
export const edgeKey = (frame: number, x: number): OutlineKey => ({
  frame,
  ease: 'straight',
  points: [corner(x, -200), corner(400, -200), corner(400, 200), corner(x, 200)],
});

/** 'a' and 'b' joined by a wipe whose edge crosses from right to left as `keys` say. */
export function sampleWipe(a: Medium, b: Medium, keys: readonly OutlineKey[], trimA = 40, startB = 20): Film {
  const film = sampleFilm([a, b]);
  const media = new Map([a, b].map((m) => [m.id, m]));
  return changed(film, (draft) => {
    draft.shots[0]!.length = trimA;
    draft.shots[1]!.inFrame = startB;
    draft.shots[1]!.length = b.frames - startB;
    const { join } = placedJoins(draft)[0]!;
    makeKind(draft, media, join.id, 'wipe past', {}, { newId: countingIds('wipe') });
    setOutlineAndFit(draft, media, wipeMatte(draft, placedJoins(draft)[0]!)!.matte.id, { closed: true, keys });
  });
}
