import { chain, compose, rotation, scaling, translation, type Matrix } from '../geometry/matrix';
import type { Film, Medium, Shot, Steadying } from '../film/film';
import { offsetOfMediumFrame } from '../film/timing';
import { coveringScale, steadyMatrix } from '../track/steady';
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

/** How a shot's picture sits in the film frame on one medium frame, before any motion of a layer: as it is, or held still. */
export function shotFraming(film: Film, medium: Medium, shot: Shot, mediumFrame: number): Matrix {
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
  const before = film.joins.find((j) => j.enteringShotId === shot.id)?.before ?? 0;
  const after = film.joins.find((j) => j.leavingShotId === shot.id)?.after ?? 0;
  const at = offsetOfMediumFrame(film, shot, medium, mediumFrame);
  return at >= -before && at < shot.length + after;
}
