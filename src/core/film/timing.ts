import { isDraft } from 'immer';
import { isSameRate, toNumber } from '../geometry/rational';
import { areaUnder } from '../motion/curve';
import type { ShotSide } from './composition';
import type { Film, Join, Media, Medium, Shot } from './film';

/** Rounding room for products of rates, so that whole frames stay whole. */
const EPSILON = 1e-6;

/** Medium frames that pass in one film frame. */
export const mediumFramesPerFilmFrame = (film: Film, medium: Medium): number =>
  isSameRate(medium.rate, film.rate) ? 1 : toNumber(medium.rate) / toNumber(film.rate);

/** Where in its medium a shot is `offset` film frames after its first frame, medium frames; whole ones where a picture begins. */
export function mediumPlaceAt(film: Film, shot: Shot, medium: Medium, offset: number): number {
  if (medium.kind === 'still') return 0;
  const perFrame = mediumFramesPerFilmFrame(film, medium);
  const { time } = shot;
  if (time === undefined) return shot.inFrame + offset * perFrame;
  return shot.inFrame + (time.anchor + areaUnder(time.speed, time.anchor, offset)) * perFrame;
}

/** Medium frame shown `offset` film frames after the shot's first one (before it when negative). It may not exist. */
export const mediumFrameAt = (film: Film, shot: Shot, medium: Medium, offset: number): number =>
  Math.floor(mediumPlaceAt(film, shot, medium, offset) + EPSILON);

/** Film frames past a shot's ends among which a medium frame is looked for under a speed curve. */
const SEARCHED = 1000;

/** Film offset in the shot at which a medium frame is first shown; under a speed curve that never shows it, where the nearest one is. */
export function offsetOfMediumFrame(film: Film, shot: Shot, medium: Medium, frame: number): number {
  if (medium.kind === 'still') return 0;
  const perFrame = mediumFramesPerFilmFrame(film, medium);
  if (shot.time === undefined) return Math.ceil((frame - shot.inFrame) / perFrame - EPSILON);
  return shownOffsets(film, shot, medium).find(frame);
}

/** Offsets by medium frame, for one shot under a speed curve. */
interface ShownOffsets {
  readonly perFrame: number;
  find(frame: number): number;
}

const offsetsOfShots = new WeakMap<Shot, ShownOffsets>();

function shownOffsets(film: Film, shot: Shot, medium: Medium): ShownOffsets {
  const known = offsetsOfShots.get(shot);
  const perFrame = mediumFramesPerFilmFrame(film, medium);
  if (known?.perFrame === perFrame) return known;
  const first = new Map<number, number>();
  // nearest to the shot's own span first
  const offsets = Array.from({ length: shot.length + 2 * SEARCHED }, (_, i) => i - SEARCHED);
  const outside = (o: number): number => (o < 0 ? -o : Math.max(0, o - shot.length + 1));
  for (const offset of offsets.sort((p, q) => outside(p) - outside(q) || p - q)) {
    const shown = mediumFrameAt(film, shot, medium, offset);
    if (!first.has(shown)) first.set(shown, offset);
  }
  const frames = [...first.keys()].sort((p, q) => p - q);
  const find = (frame: number): number => {
    const exact = first.get(frame);
    if (exact !== undefined) return exact;
    const nearest = frames.reduce((best, f) => (Math.abs(f - frame) < Math.abs(best - frame) ? f : best), frames[0]!);
    return first.get(nearest)!;
  };
  const made = { perFrame, find };
  offsetsOfShots.set(shot, made);
  return made;
}

/** Frames of a handle that are counted at most: one that is held, or a still, goes on for ever. */
const LONGEST_HANDLE = 5000;

/** Film frames with picture before the shot's first and after its last one; negative when the shot itself runs out. */
export interface Handles {
  readonly before: number;
  readonly after: number;
}

export function handlesOf(film: Film, shot: Shot, medium: Medium): Handles {
  if (medium.kind === 'still') return { before: LONGEST_HANDLE, after: LONGEST_HANDLE };
  if (shot.time !== undefined) return curvedHandles(film, shot, medium);
  return {
    before: -offsetOfMediumFrame(film, shot, medium, 0),
    after: offsetOfMediumFrame(film, shot, medium, medium.frames) - shot.length,
  };
}

function curvedHandles(film: Film, shot: Shot, medium: Medium): Handles {
  const isShown = (offset: number): boolean => {
    const frame = mediumFrameAt(film, shot, medium, offset);
    return frame >= 0 && frame < medium.frames;
  };
  const count = (from: number, step: number, shown: boolean, most: number): number => {
    let n = 0;
    while (n < most && isShown(from + n * step) === shown) n++;
    return n;
  };
  const end = shot.length - 1;
  return {
    before: isShown(0) ? count(-1, -1, true, LONGEST_HANDLE) : -count(0, 1, false, shot.length),
    after: isShown(end) ? count(end + 1, 1, true, LONGEST_HANDLE) : -count(end, -1, false, shot.length),
  };
}

export const filmLength = (film: Film): number => film.shots.reduce((sum, s) => sum + s.length, 0);

/** Film frame of the shot's first picture. */
export function startOfShot(film: Film, shotId: string): number {
  let start = 0;
  for (const shot of film.shots) {
    if (shot.id === shotId) return start;
    start += shot.length;
  }
  throw new RangeError(`no shot ${shotId} in the film`);
}

/** A join in its place: both shots, the cut, and the first and the one past the last film frame of its overlap. */
export interface PlacedJoin {
  readonly join: Join;
  readonly leaving: Shot;
  readonly entering: Shot;
  /** Film frame of the entering shot's first picture on the reel. */
  readonly cut: number;
  readonly from: number;
  readonly to: number;
}

const placedOnes = new WeakMap<Film, { readonly list: readonly PlacedJoin[]; readonly byId: ReadonlyMap<string, PlacedJoin> }>();

/** The joins between shots that are neighbours now, in reel order; placed once for a film that is not being changed. */
export const placedJoins = (film: Film): readonly PlacedJoin[] => placedOf(film).list;

export const placeJoin = (film: Film, joinId: string): PlacedJoin | null => placedOf(film).byId.get(joinId) ?? null;

function placedOf(film: Film): { readonly list: readonly PlacedJoin[]; readonly byId: ReadonlyMap<string, PlacedJoin> } {
  const known = placedOnes.get(film);
  if (known !== undefined) return known;
  const list = placeAll(film);
  const made = { list, byId: new Map(list.map((p) => [p.join.id, p])) };
  if (!isDraft(film)) placedOnes.set(film, made);
  return made;
}

/** The name of the pair of shots that a join is of. */
export const pairOf = (leavingShotId: string, enteringShotId: string): string => `${leavingShotId} ${enteringShotId}`;

function placeAll(film: Film): readonly PlacedJoin[] {
  const joins = new Map<string, Join>();
  for (const join of film.joins) {
    const pair = pairOf(join.leavingShotId, join.enteringShotId);
    if (!joins.has(pair)) joins.set(pair, join);
  }
  const placed: PlacedJoin[] = [];
  let cut = 0;
  for (let i = 0; i + 1 < film.shots.length; i++) {
    const leaving = film.shots[i]!;
    const entering = film.shots[i + 1]!;
    cut += leaving.length;
    const join = joins.get(pairOf(leaving.id, entering.id));
    if (join !== undefined) placed.push({ join, leaving, entering, cut, from: cut - join.before, to: cut + join.after });
  }
  return placed;
}

/** The medium of a shot; null while it is unknown (still coming in, or failed). */
export const mediumOf = (media: Media, shot: Shot): Medium | null => media.get(shot.mediumId) ?? null;

/** Medium frame of the leaving or entering shot at a film frame; null where its medium has no picture. */
export function shotFrameAt(film: Film, media: Media, shot: Shot, start: number, filmFrame: number): number | null {
  const medium = mediumOf(media, shot);
  if (medium === null) return null;
  const frame = mediumFrameAt(film, shot, medium, filmFrame - start);
  return frame >= 0 && frame < medium.frames ? frame : null;
}

/** The film frame nearest to `frame` on which the leaving or entering shot of a join has a picture; null without its medium. */
export function nearestPictured(film: Film, media: Media, placed: PlacedJoin, side: ShotSide, frame: number): number | null {
  const shot = placed[side];
  const medium = mediumOf(media, shot);
  if (medium === null) return null;
  const start = startsAround(placed)[side];
  const { before, after } = handlesOf(film, shot, medium);
  return Math.max(start - before, Math.min(start + shot.length + after - 1, frame));
}

/** Start of the leaving and of the entering shot around a placed join. */
export const startsAround = ({ cut, leaving }: PlacedJoin): { readonly leaving: number; readonly entering: number } => ({
  leaving: cut - leaving.length,
  entering: cut,
});

/**
 * The longest `before` and `after`: an overlap may reach through both its shots, and back to where the join before it begins. Handles are no
 * limit: missing ones are shown.
 */
export function overlapLimits(film: Film, joinId: string): { readonly before: number; readonly after: number } {
  const placed = placedJoins(film);
  const i = placed.findIndex((p) => p.join.id === joinId);
  return i < 0 ? { before: 0, after: 0 } : limitsOfPlaced(placed[i - 1], placed[i]!);
}

/** The same for a placed join and the one before it on the reel, where there is one. */
export const limitsOfPlaced = (
  previous: PlacedJoin | undefined,
  { leaving, entering }: PlacedJoin,
): { readonly before: number; readonly after: number } => ({
  before: leaving.length + Math.max(0, (previous?.join.before ?? 0) - 1),
  after: entering.length,
});

/** The film frame on which `side` of a join shows medium frame `at`; a fraction where the rates differ. */
export const filmFrameOf = (film: Film, placed: PlacedJoin, side: ShotSide, medium: Medium, at: number): number =>
  startsAround(placed)[side] + offsetOfMediumFrame(film, placed[side], medium, at);

/** '1 frame', '2 frames' */
export const framesText = (frames: number): string => (frames === 1 ? '1 frame' : `${frames} frames`);
