import type { ShotSide } from '../film/composition';
import type { Film } from '../film/film';
import type { PlacedJoin } from '../film/timing';
import { next, type NextThing } from './next-thing';
import { isMade } from '../film/mattes';

/** What is to do for a matte that a recipe takes: to choose one, or to paint the one that is chosen; null when it is made. `does`: what it does. */
export function lackingMatte(film: Film, placed: PlacedJoin, side: ShotSide, matteId: string | null, does: string): NextThing | null {
  const matte = film.mattes.find((m) => m.id === matteId);
  const { name } = placed[side];
  if (matte === undefined) return next('move', `Choose on the right what ${does}, or paint over it in ${name}.`);
  if (isMade(matte)) return null;
  const frame = side === 'leaving' ? placed.cut - 1 : placed.cut;
  return next('mask', `Paint over what ${does} in ${name}. One or two strokes are enough.`, matte.id, frame);
}
