import type { Draft } from 'immer';
import type { Outline } from '../matte/outline/outline';
import type { Channel } from '../motion/curve';
import { moveKeys } from '../motion/key-edits';
import type { Timing } from '../motion/motion';
import { plainLayer, type Layer } from './composition';
import { byId, type Film, type Framing, type Join, type Matte, type Media, type Medium, type Shot, type ShotMove } from './film';
import type { FilmDraft, NewId } from './drafts';
import { LIMITS } from './limits';
import { keepWithShots, shiftJoinClock, shiftShotClock, startsOfShots } from './clocks';
import { referencesTo, usesOfMedium } from './references';
import { longestShot } from './rules';
import {
  handlesOf,
  limitsOfPlaced,
  mediumFramesPerFilmFrame,
  mediumOf,
  mediumPlaceAt,
  offsetOfMediumFrame,
  overlapLimits,
  pairOf,
  placedJoins,
  placeJoin,
} from './timing';

/**
 * Changes to a film. Each takes a draft and changes it in place, so that the same function serves the browser,
 * the server and tests; together they keep these rules: every pair of neighbours has a join, overlaps do not
 * run into each other, and nothing refers to what is gone.
 */
const clamp = (v: number, low: number, high: number): number => Math.max(low, Math.min(high, v));

const defaultLayers = (newId: NewId, leaving: string, entering: string): Layer[] => [
  plainLayer(newId(), leaving, 'leaving'),
  plainLayer(newId(), entering, 'entering'),
];

/** Gives every pair of neighbours a join and keeps overlaps within their shots. */
function tidyJoins(film: FilmDraft, newId: NewId): void {
  const paired = new Set(film.joins.map((j) => pairOf(j.leavingShotId, j.enteringShotId)));
  for (let i = 0; i + 1 < film.shots.length; i++) {
    const leaving = film.shots[i]!;
    const entering = film.shots[i + 1]!;
    if (paired.has(pairOf(leaving.id, entering.id))) continue;
    const layers = defaultLayers(newId, leaving.name, entering.name) as Draft<Layer>[];
    film.joins.push({
      id: newId(),
      name: `${leaving.name} → ${entering.name}`,
      leavingShotId: leaving.id,
      enteringShotId: entering.id,
      before: 0,
      after: 0,
      layers,
      carriers: [],
      finish: [],
    });
  }
  const joins = new Map(film.joins.map((j) => [j.id, j]));
  placedJoins(film).forEach((placed, i, all) => {
    const limits = limitsOfPlaced(all[i - 1], placed);
    const here = joins.get(placed.join.id)!;
    here.before = clamp(here.before, 0, Math.max(0, limits.before));
    here.after = clamp(here.after, 0, Math.max(0, limits.after));
  });
}

const draftJoin = (film: FilmDraft, id: string): Draft<Join> => byId(film.joins, id, 'join');
const draftShot = (film: FilmDraft, id: string): Draft<Shot> => byId(film.shots, id, 'shot');

/** Lays the whole medium on the reel at place `index` (0 is first). */
export function addShot(film: FilmDraft, medium: Medium, index: number, newId: NewId): void {
  const starts = startsOfShots(film);
  const shot: Shot = { id: newId(), mediumId: medium.id, name: medium.name, inFrame: 0, length: 1 };
  const length = Math.max(1, offsetOfMediumFrame(film, shot, medium, medium.frames));
  film.shots.splice(clamp(index, 0, film.shots.length), 0, { ...shot, length } as Draft<Shot>);
  keepWithShots(film, starts);
  tidyJoins(film, newId);
}

export function moveShot(film: FilmDraft, shotId: string, index: number, newId: NewId): void {
  const starts = startsOfShots(film);
  const from = film.shots.findIndex((s) => s.id === shotId);
  const [shot] = film.shots.splice(from, from < 0 ? 0 : 1);
  if (shot === undefined) throw new RangeError(`no shot ${shotId} in the film`);
  film.shots.splice(clamp(index, 0, film.shots.length), 0, shot);
  keepWithShots(film, starts);
  tidyJoins(film, newId);
}

/** Takes the shot off the reel, with the joins that cannot come back without it. */
export function removeShot(film: FilmDraft, shotId: string, newId: NewId): void {
  const starts = startsOfShots(film);
  film.shots = film.shots.filter((s) => s.id !== shotId);
  const gone = film.joins.filter((j) => j.leavingShotId === shotId || j.enteringShotId === shotId);
  film.joins = film.joins.filter((j) => !gone.includes(j));
  const owners = new Set([shotId, ...gone.map((j) => j.id)]);
  for (const { id, ownerId } of [...film.mattes]) {
    // what others use by now stays
    if (ownerId !== undefined && owners.has(ownerId) && referencesTo(film, 'matte', id).length === 0)
      film.mattes = film.mattes.filter((m) => m.id !== id);
  }
  keepWithShots(film, starts);
  tidyJoins(film, newId);
}

/** Takes a medium off the shelf. @throws RangeError while anything in the film is of it */
export function takeOffShelf(film: FilmDraft, mediumId: string): void {
  if (usesOfMedium(film, mediumId).length > 0) throw new RangeError('the media is in use');
  film.offShelf = [...(film.offShelf ?? []), mediumId];
}

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

export function renameJoin(film: FilmDraft, joinId: string, name: string): void {
  draftJoin(film, joinId).name = name;
}

/** Sets how far the overlap reaches before and past the cut, within the neighbouring joins. */
export function setOverlap(film: FilmDraft, joinId: string, before: number, after: number): void {
  const limits = overlapLimits(film, joinId);
  const join = draftJoin(film, joinId);
  join.before = clamp(Math.round(before), 0, Math.max(0, limits.before));
  join.after = clamp(Math.round(after), 0, Math.max(0, limits.after));
  if (join.recipe !== undefined && 'followsHole' in join.recipe.settings) join.recipe.settings.followsHole = false;
}

/** Spreads an overlap of `length` frames about the cut, as far as both shots have pictures and the reel has room. */
export function spreadOverlap(film: FilmDraft, media: Media, joinId: string, length: number): void {
  const placed = placeJoin(film, joinId);
  if (placed === null) return;
  const limits = overlapLimits(film, joinId);
  const spare = (side: 'leaving' | 'entering'): number => {
    const medium = mediumOf(media, placed[side]);
    if (medium === null) return length;
    const handles = handlesOf(film, placed[side], medium);
    return Math.max(0, side === 'leaving' ? handles.after : handles.before);
  };
  const most = { before: Math.min(limits.before, spare('entering')), after: Math.min(limits.after, spare('leaving')) };
  const after = Math.min(most.after, length - Math.min(most.before, Math.ceil(length / 2)));
  const join = draftJoin(film, joinId);
  join.before = Math.min(most.before, length - after);
  join.after = after;
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

/** Turns the join back into a plain cut. Mattes stay with their media. */
export function makePlainCut(film: FilmDraft, joinId: string, newId: NewId): void {
  const join = draftJoin(film, joinId);
  Object.assign(join, {
    before: 0,
    after: 0,
    layers: defaultLayers(newId, draftShot(film, join.leavingShotId).name, draftShot(film, join.enteringShotId).name),
    carriers: [],
    finish: [],
  });
  delete join.recipe;
  delete join.camera;
  delete join.byDepth;
}

/** Replaces a matte's outline. */
export function setOutline(film: FilmDraft, matteId: string, outline: Outline): void {
  const matte: Draft<Matte> = byId(film.mattes, matteId, 'matte');
  matte.outline = outline as Draft<Outline>;
}

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
  const whole = typeof scaled === 'number' ? scaled : raisedBy(scaled, factor);
  if (whole === 1) delete shot.time;
  else shot.time = { speed: whole, anchor: Math.round(anchor / factor), between } as Draft<Timing>;
  shot.length = Math.min(next, longestShot(film, shot, medium));
  keepWithShots(film, starts);
  tidyJoins(film, newId);
}

const raisedBy = (channel: Exclude<Channel, number>, factor: number): Channel => channel.map((k) => ({ ...k, value: k.value * factor }));

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
