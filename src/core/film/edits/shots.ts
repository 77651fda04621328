import type { Draft } from 'immer';
import type { Channel } from '../../motion/curve';
import { moveKeys, scaleChannel } from '../../motion/key-edits';
import type { Timing } from '../../motion/motion';
import { keepWithShots, startsOfShots } from '../clocks';
import type { FilmDraft, NewId } from '../drafts';
import type { Film, Framing, Medium, Shot, ShotMove } from '../film';
import { LIMITS } from '../limits';
import { longestShot } from '../rules';
import { mediumPlaceAt } from '../timing';
import { draftShot, tidyJoins } from './tidy-joins';

/**
 * Changes how fast a shot runs. Its length stays, or follows so that the reel still shows the same pictures of it; a shot that is held or
 * turned about keeps its length.
 */
export function setShotTime(
  film: FilmDraft,
  medium: Medium,
  shotId: string,
  time: Timing | null,
  lengthFollows: boolean,
  newId: NewId,
): void {
  const starts = startsOfShots(film);
  const shot = draftShot(film, shotId);
  const last = mediumPlaceAt(film, shot, medium, shot.length);
  if (time === null) delete shot.time;
  else shot.time = time as Draft<Timing>;
  if (lengthFollows) shot.length = lengthUpTo(film, shot, medium, last) ?? shot.length;
  keepWithShots(film, starts);
  tidyJoins(film, newId);
}

/** Makes a shot `length` film frames long by running it slower or faster: it ends on the picture it ended on. A curve is scaled as a whole. */
export function stretchShot(film: FilmDraft, medium: Medium, shotId: string, length: number, newId: NewId): void {
  const starts = startsOfShots(film);
  const shot = draftShot(film, shotId);
  const next = Math.max(1, Math.round(length));
  const factor = shot.length / next;
  const { speed = 1, anchor = 0, between = 'nearest' } = shot.time ?? {};
  const scaled: Channel =
    typeof speed === 'number'
      ? Math.round(speed * factor * 1e4) / 1e4
      : moveKeys(speed, new Set(speed.map((k) => k.frame)), (f) => f / factor);
  const whole = typeof scaled === 'number' ? scaled : scaleChannel(scaled, factor);
  if (whole === 1) delete shot.time;
  else shot.time = { speed: whole, anchor: Math.round(anchor / factor), between } as Draft<Timing>;
  shot.length = Math.min(next, longestShot(film, shot, medium));
  keepWithShots(film, starts);
  tidyJoins(film, newId);
}

/** Film frames until a shot reaches a place in its medium; null when its speed never brings it there. */
function lengthUpTo(film: Film, shot: Shot, medium: Medium, place: number): number | null {
  const forward = place > mediumPlaceAt(film, shot, medium, 0);
  for (let length = 1; length <= LIMITS.heldFrames; length++) {
    const reached = mediumPlaceAt(film, shot, medium, length) - place;
    if (Math.abs(reached) < 1e-6 || reached > 0 === forward) return length;
    if (typeof shot.time?.speed === 'number' && shot.time.speed === 0) return null;
  }
  return null;
}

/** Says how a shot sits in the frame. */
export function setFraming(film: FilmDraft, shotId: string, framing: Framing): void {
  const shot = draftShot(film, shotId);
  if (framing === 'fill') delete shot.framing;
  else shot.framing = framing;
}

/** Gives a shot a camera's movement, or takes it away. */
export function setShotMove(film: FilmDraft, shotId: string, move: ShotMove | null): void {
  const shot = draftShot(film, shotId);
  if (move === null) delete shot.move;
  else shot.move = move as Draft<ShotMove>;
}
