import type { Draft } from 'immer';
import { clamp } from '../../geometry/clamp';
import { toNumber } from '../../geometry/rational';
import { keepWithShots, shiftShotClock, startsOfShots } from '../clocks';
import type { FilmDraft, NewId } from '../drafts';
import { byId, type Film, type Media, type Medium, type Shot } from '../film';
import { handlesOf, mediumFramesPerFilmFrame, offsetOfMediumFrame, placedJoins, startOfShot } from '../timing';
import { keepForJoins } from './aside';
import { copyShots, freshCopies, leaveFrom, type CopiedShots } from './copies';
import { draftShot, tidyJoins } from './tidy-joins';

/** Changes of the order of shots. Joins stay with the shots they are between; those whose shots part are put aside. */
function reordered(film: FilmDraft, newId: NewId, change: () => void): void {
  const starts = startsOfShots(film);
  const before = [...film.shots];
  change();
  keepForJoins(film, before.filter((s) => !film.shots.includes(s))); // prettier-ignore
  keepWithShots(film, starts);
  tidyJoins(film, newId);
}

/** Seconds a still stands at first. */
const STILL_SECONDS = 3;

/** A shot of the whole of a medium. */
export function shotOf(film: Film, medium: Medium, id: string): Shot {
  const shot: Shot = { id, mediumId: medium.id, name: medium.name, inFrame: 0, length: 1 };
  if (medium.kind === 'still') return { ...shot, length: Math.round(STILL_SECONDS * toNumber(film.rate)) };
  return { ...shot, length: Math.max(1, offsetOfMediumFrame(film, shot, medium, medium.frames)) };
}

/** Lays the whole medium on the reel at place `index` (0 is first). */
export function addShot(film: FilmDraft, medium: Medium, index: number, newId: NewId): void {
  insertShots(film, [shotOf(film, medium, newId())], index, newId);
}

/** Lays shots on the reel, the first of them at place `index`. */
export function insertShots(film: FilmDraft, shots: readonly Shot[], index: number, newId: NewId): void {
  reordered(film, newId, () => film.shots.splice(clamp(index, 0, film.shots.length), 0, ...(shots as Draft<Shot>[])));
}

/** Moves shots, in the order they stand in, to place `index` among the others. @throws RangeError when one is not on the reel */
export function moveShots(film: FilmDraft, shotIds: ReadonlySet<string>, index: number, newId: NewId): void {
  for (const id of shotIds) draftShot(film, id);
  reordered(film, newId, () => {
    const [moved, others] = [true, false].map((is) => film.shots.filter((s) => shotIds.has(s.id) === is));
    others!.splice(clamp(index, 0, others!.length), 0, ...moved!);
    film.shots = others!;
  });
}

/** Takes shots off the reel. Those that a finished join needs are kept for it. */
export function removeShots(film: FilmDraft, shotIds: ReadonlySet<string>, newId: NewId): void {
  reordered(film, newId, () => (film.shots = film.shots.filter((s) => !shotIds.has(s.id))));
}

/** Swaps a shot with the one behind it. */
export function swapWithNext(film: FilmDraft, shotId: string, newId: NewId): void {
  moveShots(film, new Set([shotId]), film.shots.indexOf(draftShot(film, shotId)) + 1, newId);
}

/** Why a shot cannot be split at a film frame, as a sentence; null where it can. */
export function faultOfSplit(film: Film, shotId: string, frame: number): string | null {
  const shot = byId(film.shots, shotId, 'shot');
  const offset = frame - startOfShot(film, shotId);
  if (offset < 1 || offset >= shot.length) return `Put the playhead inside ${shot.name} to split it there.`;
  const inside = placedJoins(film).find((p) => (p.leaving.id === shotId && frame > p.from) || (p.entering.id === shotId && frame < p.to));
  return inside === undefined ? null : `The playhead is in the overlap of ${inside.join.name}: split ${shot.name} outside of it.`;
}

/** A name that no other shot has. */
function freeShotName(film: FilmDraft, name: string): string {
  const taken = new Set(film.shots.map((s) => s.name));
  const stem = name.replace(/ \d+$/, '');
  for (let n = 2; ; n++) if (!taken.has(`${stem} ${n}`)) return `${stem} ${n}`;
}

const NONE: ReadonlySet<string> = new Set();

/** The joins out of `shot` go out of `other`, which shows the same there; those into shots of `except` stay. */
function handOn(film: FilmDraft, shot: Shot, other: Shot, except: ReadonlySet<string> = NONE): void {
  const handed = film.joins.filter((j) => j.leavingShotId === shot.id && !except.has(j.enteringShotId));
  for (const join of handed) leaveFrom(film, join, shot, other);
}

/**
 * Parts a shot in two at a film frame, which is the first of the right one. Each join stays with the half it is at; nothing that is
 * shown or heard changes. @throws RangeError where it cannot be split
 */
export function splitShot(film: FilmDraft, medium: Medium, shotId: string, frame: number, newId: NewId): void {
  const fault = faultOfSplit(film, shotId, frame);
  if (fault !== null) throw new RangeError(fault);
  const shot = draftShot(film, shotId);
  const offset = frame - startOfShot(film, shotId);
  const right = plain(shot);
  Object.assign(right, { id: newId(), name: freeShotName(film, shot.name), length: shot.length - offset });
  right.inFrame += offset * mediumFramesPerFilmFrame(film, medium);
  shiftShotClock(right, offset);
  if (shot.sound !== undefined && right.sound !== undefined) [shot.sound.fadeOut, right.sound.fadeIn] = [0, 0];
  shot.length = offset;
  reordered(film, newId, () => {
    film.shots.splice(film.shots.indexOf(shot) + 1, 0, right);
    handOn(film, shot, right);
  });
}

/** A copy that hangs on nothing else. */
const plain = <T>(draft: T): T => JSON.parse(JSON.stringify(draft)) as T;

/** Copies shots to right behind the last of them, with the joins between them; a join out of that goes on from its copy. */
export function duplicateShots(film: FilmDraft, shotIds: ReadonlySet<string>, newId: NewId): readonly string[] {
  const { shots, ...rest } = plain(copyShots(film, '', shotIds));
  const last = shots.at(-1);
  if (last === undefined) return [];
  const copies = freshCopies({ shots, ...rest }, film, newId);
  const names = copies.map((s) => ({ ...s, name: freeShotName(film, s.name) }));
  reordered(film, newId, () => {
    film.shots.splice(film.shots.findIndex((s) => s.id === last.id) + 1, 0, ...(names as Draft<Shot>[]));
    handOn(film, last, names.at(-1)!, shotIds);
  });
  return names.map((s) => s.id);
}

/**
 * Lays copied shots on the reel at place `index`. Ones that are no longer on it are these shots themselves, with all their joins; else
 * they are copies, and so are the joins between them. @returns the ids of the shots laid
 */
export function pasteShots(film: FilmDraft, clip: CopiedShots, index: number, newId: NewId): readonly string[] {
  const onReel = new Set(film.shots.map((s) => s.id));
  const isGone = clip.shots.every((s) => !onReel.has(s.id));
  const shots = isGone ? clip.shots.map((s) => structuredClone(s)) : freshCopies(clip, film, newId);
  if (isGone) {
    // joins between them that were plain went with them
    const known = new Set(film.joins.map((j) => j.id));
    film.joins.push(...(structuredClone(clip.joins.filter((j) => !known.has(j.id))) as FilmDraft['joins']));
  }
  insertShots(film, shots, index, newId);
  return shots.map((s) => s.id);
}

export function renameShot(film: FilmDraft, shotId: string, name: string): void {
  draftShot(film, shotId).name = name;
}

/** Lets a shot show another medium: its span, framing and joins stay, as far as the medium reaches. */
export function replaceMedium(film: FilmDraft, media: Media, shotId: string, medium: Medium, newId: NewId): void {
  const shot = draftShot(film, shotId);
  const before = media.get(shot.mediumId);
  const seconds = before === undefined ? 0 : mediumFramesPerFilmFrame(film, medium) / mediumFramesPerFilmFrame(film, before);
  shot.mediumId = medium.id;
  shot.inFrame = clamp(Math.round(shot.inFrame * (seconds || 1)), 0, medium.frames - 1);
  // a track is of the medium it was made in
  delete shot.steadying;
  const { after } = handlesOf(film, shot, medium);
  if (after < 0) shot.inFrame = Math.max(0, shot.inFrame + after * mediumFramesPerFilmFrame(film, medium));
  const short = handlesOf(film, shot, medium).after;
  reordered(film, newId, () => (shot.length = Math.max(1, shot.length + Math.min(0, short))));
}
