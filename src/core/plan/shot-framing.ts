import { apply, chain, compose, cornersOf, invert, rotation, scaling, translation, type Matrix } from '../geometry/matrix';
import type { Film, Medium, MoveChannel, Shot, ShotMove, Steadying } from '../film/film';
import { mediumFrameAt, offsetOfMediumFrame } from '../film/timing';
import { channelAt } from '../motion/curve';
import { spacingOf } from '../motion/motion';
import { coveringScale, scaleToCover, steadyMatrix } from '../track/steady';
import type { Track } from '../track/track';

/** How a medium sits in the film frame without any framing: centred, the frame filled, its proportions kept. */
export const baseFraming = (film: Pick<Film, 'width' | 'height'>, medium: Medium): Matrix =>
  scaling(Math.max(film.width / medium.width, film.height / medium.height));

const flipMatrix = (flip: 'across' | 'down' | 'both' | undefined): Matrix =>
  scaling(flip === 'across' || flip === 'both' ? -1 : 1, flip === 'down' || flip === 'both' ? -1 : 1);

/** How a shot's picture sits in the film frame by its own framing, without being held still. */
function ownFraming(film: Film, medium: Medium, { framing = 'fill' }: Shot): Matrix {
  if (framing === 'fill') return baseFraming(film, medium);
  if (framing === 'fit') return scaling(Math.min(film.width / medium.width, film.height / medium.height));
  const { x, y, scale, turn, flip } = framing;
  return chain(baseFraming(film, medium), flipMatrix(flip), scaling(scale), rotation(turn), translation(x, y));
}

/**
 * How a shot's picture sits in the film frame on one medium frame, before any motion of a layer: as it is or held still, then moved as its
 * camera moves `offset` film frames after its first frame, fractions too; unless said when it shows that medium frame.
 */
export function shotFraming(film: Film, medium: Medium, shot: Shot, mediumFrame: number, offset?: number): Matrix {
  const standing = unmovedFraming(film, medium, shot, mediumFrame);
  if (shot.move === undefined) return standing;
  const at = offset ?? offsetOfMediumFrame(film, shot, medium, mediumFrame);
  return chain(standing, scaling(moveEnlargement(film, medium, shot)), moveMatrix(shot.move, at));
}

/** Where a camera's movement brings the frame's picture, film pixels from the centre. */
function moveMatrix(move: ShotMove, offset: number): Matrix {
  const at = (name: MoveChannel, rest: number): number => channelAt(move[name], offset, rest, spacingOf(name));
  return chain(scaling(at('scale', 1)), rotation(at('turn', 0)), translation(at('x', 0), at('y', 0)));
}

const moveEnlargements = new WeakMap<Film, Map<string, number>>();

/** How far a shot with a camera's movement is enlarged: the least at which no border shows on any frame it is on; 1 without one. */
export function moveEnlargement(film: Film, medium: Medium, shot: Shot): number {
  const { move } = shot;
  if (move === undefined) return 1;
  const known = moveEnlargements.get(film) ?? new Map<string, number>();
  moveEnlargements.set(film, known);
  const found = known.get(shot.id);
  if (found !== undefined) return found;
  const { before, after } = overlapsOf(film, shot);
  let scale = 1;
  for (let offset = -before; offset < shot.length + after; offset++) {
    const frame = Math.max(0, Math.min(medium.frames - 1, mediumFrameAt(film, shot, medium, offset)));
    const back = invert(moveMatrix(move, offset));
    const places = cornersOf(film.width, film.height).map((p) => apply(back, p));
    const here = scaleToCover(unmovedFraming(film, medium, shot, frame), medium.width, medium.height, places);
    // a picture that was moved off the frame's middle by hand is not to be saved by enlarging it
    if (Number.isFinite(here)) scale = Math.max(scale, here);
  }
  known.set(shot.id, scale);
  return scale;
}

function unmovedFraming(film: Film, medium: Medium, shot: Shot, mediumFrame: number): Matrix {
  const own = ownFraming(film, medium, shot);
  const held = steadyingOf(film, medium, shot);
  if (held === null) return own;
  const still = compose(steadyMatrix(held.track, mediumFrame, held.steadying, held.steadying.centred), own);
  return held.steadying.edges === 'enlarge' ? compose(still, scaling(leastEnlargement(film, medium, shot, held).scale)) : still;
}

interface Held {
  readonly steadying: Steadying;
  readonly track: Track;
}

function steadyingOf(film: Film, medium: Medium, { steadying }: Shot): Held | null {
  const track = film.tracks?.find((t) => t.id === steadying?.trackId);
  return steadying === undefined || track?.mediumId !== medium.id ? null : { steadying, track };
}

/** Whether a shot held still goes on mirrored beyond its border. */
export const isMirrored = (film: Film, medium: Medium, shot: Shot): boolean =>
  steadyingOf(film, medium, shot)?.steadying.edges === 'mirror';

/** How far a shot held still is enlarged so that no border shows. */
export interface Enlargement {
  /** At least 1. */
  readonly scale: number;
  /** The first medium frame on which no enlargement hides the border, as the frame's middle lies beyond it; null where there is none. */
  readonly bareFrame: number | null;
}

/** How far `shot` is enlarged; null unless it is held still with enlarged edges. */
export function enlargementOf(film: Film, medium: Medium, shot: Shot): Enlargement | null {
  const held = steadyingOf(film, medium, shot);
  return held?.steadying.edges === 'enlarge' ? leastEnlargement(film, medium, shot, held) : null;
}

const enlargements = new WeakMap<Film, Map<string, Enlargement>>();

/** The least enlargement at which a shot held still shows no border on any frame that was followed. */
function leastEnlargement(film: Film, medium: Medium, shot: Shot, { steadying, track }: Held): Enlargement {
  const known = enlargements.get(film) ?? new Map<string, Enlargement>();
  enlargements.set(film, known);
  const found = known.get(shot.id);
  if (found !== undefined) return found;
  let scale = 1;
  let bareFrame: number | null = null;
  for (const { frame } of [...track.keys, ...track.frames]) {
    if (!isNearShot(film, shot, medium, frame)) continue;
    const still = compose(steadyMatrix(track, frame, steadying, steadying.centred), ownFraming(film, medium, shot));
    const here = coveringScale(still, medium.width, medium.height, film.width, film.height);
    if (Number.isFinite(here)) scale = Math.max(scale, here);
    else bareFrame = Math.min(bareFrame ?? frame, frame);
  }
  const least = { scale, bareFrame };
  known.set(shot.id, least);
  return least;
}

/** Whether a shot shows a medium frame on the reel or in the overlap of one of its joins. */
function isNearShot(film: Film, shot: Shot, medium: Medium, mediumFrame: number): boolean {
  const { before, after } = overlapsOf(film, shot);
  const at = offsetOfMediumFrame(film, shot, medium, mediumFrame);
  return at >= -before && at < shot.length + after;
}

/** Film frames that the overlaps of a shot's joins reach before its first and after its last one. */
const overlapsOf = (film: Film, shot: Shot): { readonly before: number; readonly after: number } => ({
  before: film.joins.find((j) => j.enteringShotId === shot.id)?.before ?? 0,
  after: film.joins.find((j) => j.leavingShotId === shot.id)?.after ?? 0,
});
