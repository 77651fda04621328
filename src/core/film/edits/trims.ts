import { clamp } from '../../geometry/clamp';
import { keepWithShots, shiftJoinClock, shiftShotClock, startsOfShots } from '../clocks';
import type { FilmDraft, NewId } from '../drafts';
import type { Film, Media, Medium } from '../film';
import { longestShot } from '../rules';
import { handlesOf, mediumFramesPerFilmFrame, mediumOf, placeJoin } from '../timing';
import { draftJoin, draftShot, tidyJoins } from './tidy-joins';

/** Moves the shot's first frame by `frames` film frames (later when positive), within its medium. */
export function trimStart(film: FilmDraft, medium: Medium, shotId: string, frames: number, newId: NewId): void {
  const starts = startsOfShots(film);
  const shot = draftShot(film, shotId);
  const by = clamp(Math.round(frames), -handlesOf(film, shot, medium).before, shot.length - 1);
  shot.inFrame += by * mediumFramesPerFilmFrame(film, medium);
  shot.length -= by;
  shiftShotClock(shot, by);
  keepWithShots(film, starts, { shotId, by });
  tidyJoins(film, newId);
}

/** Moves the shot's last frame by `frames` film frames (later when positive), within its medium. */
export function trimEnd(film: FilmDraft, medium: Medium, shotId: string, frames: number, newId: NewId): void {
  const starts = startsOfShots(film);
  const shot = draftShot(film, shotId);
  shot.length = clamp(shot.length + Math.round(frames), 1, shot.length + Math.max(0, handlesOf(film, shot, medium).after));
  keepWithShots(film, starts);
  tidyJoins(film, newId);
}

/** Moves the cut by `frames` without moving any picture on the film's clock: one shot gets longer, the other shorter. */
export function rollCut(film: FilmDraft, media: Media, joinId: string, frames: number): void {
  const join = draftJoin(film, joinId);
  const leaving = draftShot(film, join.leavingShotId);
  const entering = draftShot(film, join.enteringShotId);
  const medium = media.get(entering.mediumId);
  const before = media.get(leaving.mediumId);
  if (medium === undefined || before === undefined || frames === 0) return;
  const room = longestShot(film, leaving, before) - leaving.length;
  const by = clamp(frames, 1 - leaving.length, Math.min(room, entering.length - 1));
  leaving.length += by;
  entering.length -= by;
  entering.inFrame += by * mediumFramesPerFilmFrame(film, medium);
  shiftShotClock(entering, by);
  shiftJoinClock(join, by);
}

/**
 * Slides the entering shot in time: positive frames bring its pictures later on the film's clock. It may slide
 * past its medium's ends; the missing pictures are shown and reported.
 */
export function slideEntering(film: FilmDraft, medium: Medium, joinId: string, frames: number): void {
  const shot = draftShot(film, draftJoin(film, joinId).enteringShotId);
  const perFrame = mediumFramesPerFilmFrame(film, medium);
  shot.inFrame = clamp(shot.inFrame - Math.round(frames) * perFrame, -(medium.frames - 1), medium.frames - 1);
}

/** Slips the leaving shot under its cut: positive frames bring its pictures later on the film's clock, the cut and its length stay. */
export function slipLeaving(film: FilmDraft, medium: Medium, joinId: string, frames: number): void {
  const shot = draftShot(film, draftJoin(film, joinId).leavingShotId);
  const perFrame = mediumFramesPerFilmFrame(film, medium);
  shot.inFrame = clamp(shot.inFrame - Math.round(frames) * perFrame, -(medium.frames - 1), medium.frames - 1);
}

/** Frames a shot keeps when room is made for an overlap. */
const LEAST_LEFT = 2;

/** Film frames that are missing of handles of `frames` on both sides of a join's cut, as far as its shots are long enough to be trimmed. */
export function roomMissing(
  film: Film,
  media: Media,
  joinId: string,
  frames: number,
): { readonly leaving: number; readonly entering: number } {
  const placed = placeJoin(film, joinId);
  if (placed === null) return { leaving: 0, entering: 0 };
  const missing = (side: 'leaving' | 'entering'): number => {
    const medium = mediumOf(media, placed[side]);
    if (medium === null) return 0;
    const handles = handlesOf(film, placed[side], medium);
    return clamp(frames - Math.max(0, side === 'leaving' ? handles.after : handles.before), 0, placed[side].length - LEAST_LEFT);
  };
  return { leaving: Math.max(0, missing('leaving')), entering: Math.max(0, missing('entering')) };
}

/** Trims both shots of a join at the cut until each has handles of `frames`: in them an overlap finds its pictures. */
export function makeRoom(film: FilmDraft, media: Media, joinId: string, frames: number, newId: NewId): void {
  const { leaving, entering } = roomMissing(film, media, joinId, frames);
  const { leavingShotId, enteringShotId } = draftJoin(film, joinId);
  const [a, b] = [leavingShotId, enteringShotId].map((id) => media.get(draftShot(film, id).mediumId));
  if (a !== undefined && leaving > 0) trimEnd(film, a, leavingShotId, -leaving, newId);
  if (b !== undefined && entering > 0) trimStart(film, b, enteringShotId, entering, newId);
}

/** Slips a shot under its ends: positive frames show what comes later in its medium. It stays where it is, and within its medium. */
export function slipShot(film: FilmDraft, medium: Medium, shotId: string, frames: number): void {
  const shot = draftShot(film, shotId);
  const { before, after } = handlesOf(film, shot, medium);
  shot.inFrame += clamp(Math.round(frames), -Math.max(0, before), Math.max(0, after)) * mediumFramesPerFilmFrame(film, medium);
}

/** Slides a shot between its neighbours: the one before it gets longer by as much as the one behind it gets shorter; nothing else moves. */
export function slideShot(film: FilmDraft, media: Media, shotId: string, frames: number, newId: NewId): void {
  const at = film.shots.indexOf(draftShot(film, shotId));
  const [previous, next] = [film.shots[at - 1], film.shots[at + 1]];
  const [first, second] = [previous, next].map((s) => (s === undefined ? undefined : media.get(s.mediumId)));
  if (previous === undefined || next === undefined || first === undefined || second === undefined) return;
  const most = Math.min(Math.max(0, handlesOf(film, previous, first).after), next.length - 1);
  const least = -Math.min(previous.length - 1, Math.max(0, handlesOf(film, next, second).before));
  const by = clamp(Math.round(frames), least, most);
  trimEnd(film, first, previous.id, by, newId);
  trimStart(film, second, next.id, by, newId);
}
