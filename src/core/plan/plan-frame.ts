import { compose, IDENTITY, rotation, scaling, translation, type Matrix } from '../geometry/matrix';
import {
  byId,
  type Combining,
  type Film,
  type Layer,
  type Matte,
  type Media,
  type Medium,
  type Shot,
  type Side,
  type Steadying,
} from '../film/film';
import { mediumOf, offsetOfMediumFrame, placedJoins, shotFrameAt, startsAround, type PlacedJoin } from '../film/timing';
import { drawnPoints } from '../film/mattes';
import { keyAtFrame, type KeyNow } from '../matte/key/key';
import type { OutlinePoint } from '../matte/outline/outline';
import { coveringScale, steadyMatrix } from '../track/steady';
import type { Track } from '../track/track';
import { UNTIDIED, type Tidying } from '../matte/coverage/tidy';
import { channelAt } from '../motion/curve';

interface MattePlacement {
  readonly side: Side;
  /** How it joins the layer's mattes before it. */
  readonly combine: Combining;
  /** Pixels of the medium the matte belongs to. */
  readonly growPx: number;
  readonly featherPx: number;
  /** Medium pixels to film pixels, both from the centre. */
  readonly matrix: Matrix;
}

/** The outline of a matte at one frame, ready to draw. Medium pixels from the centre. */
export interface PlannedOutline extends MattePlacement {
  readonly kind: 'outline';
  readonly points: readonly OutlinePoint[];
}

/** Stored coverage of a matte at one medium frame. Width and height are the medium's own, whatever size it is stored at. */
export interface PlannedCoverage extends MattePlacement {
  readonly kind: 'coverage';
  readonly tidying: Tidying;
  readonly matteId: string;
  readonly frame: number;
  readonly width: number;
  readonly height: number;
  /** The frame it was made on, for the detail of its edge. */
  readonly picture: PictureRef;
}

/** A matte drawn from the colours of a picture. */
export interface PlannedKey extends MattePlacement {
  readonly kind: 'key';
  readonly tidying: Tidying;
  readonly key: KeyNow;
  readonly picture: PictureRef;
}

export type PlannedMatte = PlannedOutline | PlannedCoverage | PlannedKey;

/** Which picture a layer shows. Width and height are the medium's own, whatever size it is decoded at. */
export interface PictureRef {
  readonly mediumId: string;
  readonly frame: number;
  readonly width: number;
  readonly height: number;
}

export interface PlannedLayer {
  readonly picture: PictureRef;
  /** Beyond its border the picture ends, or goes on mirrored over the whole plane. */
  readonly edges: 'none' | 'mirror';
  /** Medium pixels to film pixels, both from the centre. */
  readonly matrix: Matrix;
  /** 0..1 */
  readonly opacity: number;
  /** How far the old background's colour is taken out of the mattes' soft edge, 0..1. */
  readonly cleanEdge: number;
  readonly mattes: readonly PlannedMatte[];
}

/** A picture the film asks for and its medium does not have. */
export interface MissingPicture {
  readonly shotId: string;
  readonly shotName: string;
  /** 'before' the medium's first frame, 'after' its last one, or the medium is not 'ready'. */
  readonly where: 'before' | 'after' | 'not ready';
}

/** Everything that makes one frame, front to back. Film pixels. */
export interface FramePlan {
  readonly width: number;
  readonly height: number;
  readonly layers: readonly PlannedLayer[];
  readonly missing: readonly MissingPicture[];
}

/** How a medium sits in the film frame without any framing: centred, the frame filled, its proportions kept. */
export const baseFraming = (film: Film, medium: Medium): Matrix =>
  scaling(Math.max(film.width / medium.width, film.height / medium.height));

/** How a shot's picture sits in the film frame on one medium frame, before any framing by a layer: as it is, or held still. */
export function shotFraming(film: Film, medium: Medium, shot: Shot, mediumFrame: number): Matrix {
  const base = baseFraming(film, medium);
  const held = steadyingOf(film, medium, shot);
  if (held === null) return base;
  const still = compose(steadyMatrix(held.track, mediumFrame, held.steadying, held.steadying.centred), base);
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
    const still = compose(steadyMatrix(track, frame, steadying, steadying.centred), baseFraming(film, medium));
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

const edgesOf = (film: Film, medium: Medium, shot: Shot): PlannedLayer['edges'] =>
  steadyingOf(film, medium, shot)?.steadying.edges === 'mirror' ? 'mirror' : 'none';

function layerMatrix(film: Film, medium: Medium, shot: Shot, layer: Layer, mediumFrame: number, time: number): Matrix {
  const framing = compose(scaling(channelAt(layer.scale, time, 1)), rotation(channelAt(layer.rotationDegrees, time)));
  const place = translation(channelAt(layer.x, time), channelAt(layer.y, time));
  return compose(compose(shotFraming(film, medium, shot, mediumFrame), framing), place);
}

function missingPicture(film: Film, media: Media, shot: Shot, start: number, frame: number): MissingPicture {
  const where = mediumOf(media, shot) === null ? 'not ready' : frame < start ? 'before' : 'after';
  return { shotId: shot.id, shotName: shot.name, where };
}

function plainPlan(film: Film, media: Media, shot: Shot, start: number, frame: number): FramePlan {
  const medium = mediumOf(media, shot);
  const picture = shotFrameAt(film, media, shot, start, frame);
  const size = { width: film.width, height: film.height };
  if (medium === null || picture === null) return { ...size, layers: [], missing: [missingPicture(film, media, shot, start, frame)] };
  return {
    ...size,
    layers: [
      {
        picture: pictureRef(medium, picture),
        edges: edgesOf(film, medium, shot),
        matrix: shotFraming(film, medium, shot, picture),
        opacity: 1,
        cleanEdge: 0,
        mattes: [],
      },
    ],
    missing: [],
  };
}

const pictureRef = (medium: Medium, frame: number): PictureRef => ({
  mediumId: medium.id,
  frame,
  width: medium.width,
  height: medium.height,
});

/** The layer's mattes at `frame`. One of the layer's own medium moves with the layer; one of the other shot stands where that shot stands. */
function planMattes(film: Film, media: Media, placed: PlacedJoin, layer: Layer, layerPlace: Matrix, frame: number): PlannedMatte[] {
  const other = layer.source === 'leaving' ? 'entering' : 'leaving';
  const planned: PlannedMatte[] = [];
  for (const { matteId, side, combine = 'intersect', growPx, featherPx } of layer.mattes) {
    const matte = byId(film.mattes, matteId, 'matte');
    const medium = media.get(matte.mediumId);
    const source = placed[layer.source].mediumId === matte.mediumId ? layer.source : other;
    const shot = placed[source];
    if (medium === undefined || shot.mediumId !== matte.mediumId) continue;
    if (!isDrawable(matte)) continue;
    const at = shotFrameAt(film, media, shot, startsAround(placed)[source], frame);
    if (at === null) continue;
    const matrix = source === layer.source ? layerPlace : shotFraming(film, medium, shot, at);
    planned.push(plannedMatte(film, medium, matte, at, { side, combine, growPx, featherPx, matrix }));
  }
  return planned;
}

function plannedMatte(film: Film, medium: Medium, matte: Matte, frame: number, placement: MattePlacement): PlannedMatte {
  const { tidying = UNTIDIED } = matte;
  if (matte.key !== undefined)
    return { kind: 'key', key: keyAtFrame(matte.key, frame), picture: pictureRef(medium, frame), tidying, ...placement };
  if (matte.painted !== undefined) {
    const { width, height } = medium;
    return { kind: 'coverage', matteId: matte.id, frame, width, height, picture: pictureRef(medium, frame), tidying, ...placement };
  }
  return { kind: 'outline', points: drawnPoints(film, matte, frame), ...placement };
}

/** An outline covers nothing until it is closed; it is left out, so that drawing it begins with the whole picture. */
const isDrawable = (matte: Matte): boolean => matte.painted !== undefined || matte.key !== undefined || matte.outline.closed;

/**
 * One frame of a medium at its own size with a single matte on its inside, whatever joins show of it.
 * @throws RangeError when the film has no such matte
 */
export function planMediumMatte(film: Film, medium: Medium, matteId: string, frame: number): FramePlan {
  const matte = byId(film.mattes, matteId, 'matte');
  const placement = { side: 'inside', combine: 'intersect', growPx: 0, featherPx: 0, matrix: IDENTITY } as const;
  const layer: PlannedLayer = {
    picture: pictureRef(medium, frame),
    edges: 'none',
    matrix: IDENTITY,
    opacity: 1,
    cleanEdge: 0,
    mattes: isDrawable(matte) ? [plannedMatte(film, medium, matte, frame, placement)] : [],
  };
  return { width: medium.width, height: medium.height, layers: [layer], missing: [] };
}

/** Every picture a plan needs, each once: what its layers show and what its mattes look at. */
export function picturesOf(plan: FramePlan): PictureRef[] {
  const found = new Map<string, PictureRef>();
  for (const { picture, mattes } of plan.layers)
    for (const ref of [picture, ...mattes.flatMap((m) => (m.kind === 'outline' ? [] : [m.picture]))])
      found.set(`${ref.mediumId}:${ref.frame}`, ref);
  return [...found.values()];
}

function joinPlan(film: Film, media: Media, placed: PlacedJoin, frame: number): FramePlan {
  const starts = startsAround(placed);
  const layers: PlannedLayer[] = [];
  const missing: MissingPicture[] = [];
  for (const layer of placed.join.layers) {
    if (!layer.visible) continue;
    const shot = placed[layer.source];
    const start = starts[layer.source];
    const medium = mediumOf(media, shot);
    const picture = shotFrameAt(film, media, shot, start, frame);
    if (medium === null || picture === null) {
      if (!missing.some((m) => m.shotId === shot.id)) missing.push(missingPicture(film, media, shot, start, frame));
      continue;
    }
    const time = frame - placed.cut;
    const matrix = layerMatrix(film, medium, shot, layer, picture, time);
    const opacity = Math.max(0, Math.min(1, channelAt(layer.opacity, time, 1)));
    layers.push({
      picture: pictureRef(medium, picture),
      edges: edgesOf(film, medium, shot),
      matrix,
      opacity,
      cleanEdge: Math.max(0, ...layer.mattes.map((u) => u.cleanEdge ?? 0)),
      mattes: planMattes(film, media, placed, layer, matrix, frame),
    });
  }
  return { width: film.width, height: film.height, layers, missing };
}

/**
 * Says what makes film frame `frame`: inside an overlap the join's layers, elsewhere the shot alone.
 * @throws RangeError when the film has no such frame.
 */
export function planFrame(film: Film, media: Media, frame: number): FramePlan {
  const join = placedJoins(film).find((p) => frame >= p.from && frame < p.to);
  if (join !== undefined) return joinPlan(film, media, join, frame);
  let start = 0;
  for (const shot of film.shots) {
    if (frame >= start && frame < start + shot.length) return plainPlan(film, media, shot, start, frame);
    start += shot.length;
  }
  throw new RangeError(`planFrame: the film has no frame ${frame}`);
}

/** One shot of a join alone, beyond its end on the reel too: what the leaving and entering views show. */
export function planShot(film: Film, media: Media, placed: PlacedJoin, side: 'leaving' | 'entering', frame: number): FramePlan {
  return plainPlan(film, media, placed[side], startsAround(placed)[side], frame);
}

/** One shot with a single matte on its inside, whether a layer uses that matte or not. */
export function planMatteAlone(
  film: Film,
  media: Media,
  placed: PlacedJoin,
  side: 'leaving' | 'entering',
  matteId: string,
  frame: number,
): FramePlan {
  const plan = planShot(film, media, placed, side, frame);
  const layer = placed.join.layers.find((l) => l.source === side);
  if (layer === undefined) return plan;
  const use = { matteId, side: 'inside', growPx: 0, featherPx: 0 } as const;
  return {
    ...plan,
    layers: plan.layers.map((l) => ({ ...l, mattes: planMattes(film, media, placed, { ...layer, mattes: [use] }, l.matrix, frame) })),
  };
}

/** The matrix and medium frame under which a matte of `side` is drawn over the stage at a film frame. */
export function matteSpace(
  film: Film,
  media: Media,
  placed: PlacedJoin,
  side: 'leaving' | 'entering',
  frame: number,
): { readonly matrix: Matrix; readonly mediumFrame: number | null } {
  const shot = placed[side];
  const medium = mediumOf(media, shot);
  if (medium === null) return { matrix: IDENTITY, mediumFrame: null };
  const mediumFrame = shotFrameAt(film, media, shot, startsAround(placed)[side], frame);
  return { matrix: mediumFrame === null ? baseFraming(film, medium) : shotFraming(film, medium, shot, mediumFrame), mediumFrame };
}
