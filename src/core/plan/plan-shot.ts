import type { Matrix } from '../geometry/matrix';
import { channelAt } from '../motion/curve';
import { spacingOf, type Timing } from '../motion/motion';
import type { Colour, EdgeFill, Effect, ShotSide } from '../film/composition';
import type { Film, Media, Medium, Shot } from '../film/film';
import { mediumOf, mediumPlaceAt, startsAround, type PlacedJoin } from '../film/timing';
import type { Content, FramePlan, MissingPicture, PictureRef, PlannedEffect, PlannedLayer } from './frame-plan';
import { shutterSamples } from './layer-place';
import type { PlanQuality } from './planner';
import { isMirrored, shotFraming } from './shot-framing';

/** Rounding room, so that whole places stay whole. */
export const EPSILON = 1e-6;

export type PictureContent = Extract<Content, { kind: 'picture' }>;

export const pictureRef = (medium: Medium, frame: number): PictureRef => ({
  mediumId: medium.id,
  frame,
  width: medium.width,
  height: medium.height,
});

/** The picture, or two blended, at a place in a medium; null where it has none. */
export function contentAt(medium: Medium, place: number, between: Timing['between'] = 'nearest'): Content | null {
  const frame = Math.floor(place + EPSILON);
  if (frame < 0 || frame >= medium.frames) return null;
  const share = place - frame;
  const blends = between !== 'nearest' && share > 1e-3 && frame + 1 < medium.frames;
  return {
    kind: 'picture',
    picture: pictureRef(medium, frame),
    next: blends ? { picture: pictureRef(medium, frame + 1), share, by: between === 'flow' ? 'flow' : 'fade' } : null,
  };
}

/** Effects that are there at a time, with the values that they have then. */
export const plannedEffects = (effects: readonly Effect[], time: number): readonly PlannedEffect[] =>
  effects
    .filter(({ visible, span }) => visible && (span === undefined || (time >= span.first && time <= span.last)))
    .map(({ kind, params }) => ({
      kind,
      params: {
        ...Object.fromEntries(Object.entries(params).map(([name, channel]) => [name, channelAt(channel, time, 0, spacingOf(name))])),
        frame: time,
      },
    }));

export function missingPicture(media: Media, shot: Shot, before: boolean): MissingPicture {
  const where = mediumOf(media, shot) === null ? 'not ready' : before ? 'before' : 'after';
  return { shotId: shot.id, shotName: shot.name, where };
}

export const emptyPlan = (film: Film): FramePlan => ({
  width: film.width,
  height: film.height,
  layers: [],
  finish: [],
  background: film.background ?? null,
  missing: [],
});

/** What stands where a shot is turned off, so that it is no hole. */
const BLACK: Colour = [0, 0, 0];

/** What a layer has that is nothing but a picture in its place. */
export const plainPlanned = (content: Content, width: number, height: number, matrix: Matrix, edges: EdgeFill = 'none'): PlannedLayer => ({
  content,
  width,
  height,
  edges,
  matrix,
  samples: [],
  opacity: 1,
  blend: 'normal',
  cleanEdge: 0,
  mattes: [],
  effects: [],
});

export const shotEdges = (film: Film, medium: Medium, shot: Shot): EdgeFill => (isMirrored(film, medium, shot) ? 'mirrored' : 'none');

/** A shot's own picture in its place, blurred by its camera's movement where it has one. */
export function plannedShot(
  film: Film,
  medium: Medium,
  shot: Shot,
  content: PictureContent,
  offset: number,
  { samples }: PlanQuality,
): PlannedLayer {
  const mapAt = (at: number): Matrix => shotFraming(film, medium, shot, content.picture.frame, at);
  const { width, height } = medium;
  return {
    ...plainPlanned(content, width, height, mapAt(offset), shotEdges(film, medium, shot)),
    samples: shot.move === undefined ? [] : shutterSamples(mapAt, offset, width, height, samples, film.shutter),
  };
}

/** A shot alone on a film frame, begun on film frame `start`. */
export function plainPlan(film: Film, media: Media, shot: Shot, start: number, frame: number, quality: PlanQuality): FramePlan {
  if (shot.isOff === true) return { ...emptyPlan(film), background: film.background ?? BLACK };
  const medium = mediumOf(media, shot);
  const place = medium === null ? 0 : mediumPlaceAt(film, shot, medium, frame - start);
  const content = medium === null ? null : contentAt(medium, place, shot.time?.between);
  if (medium === null || content?.kind !== 'picture') return { ...emptyPlan(film), missing: [missingPicture(media, shot, place < 0)] };
  return { ...emptyPlan(film), layers: [plannedShot(film, medium, shot, content, frame - start, quality)] };
}

/** One shot of a join alone, beyond its end on the reel too: what the leaving and entering views show. */
export function planShot(
  film: Film,
  media: Media,
  placed: PlacedJoin,
  side: ShotSide,
  frame: number,
  quality: PlanQuality = { samples: 1 },
): FramePlan {
  return plainPlan(film, media, placed[side], startsAround(placed)[side], frame, quality);
}
