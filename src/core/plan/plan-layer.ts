import { sideOf, type Layer } from '../film/composition';
import type { Film, Medium, Shot } from '../film/film';
import { mediumFramesPerFilmFrame, mediumOf, mediumPlaceAt, startsAround } from '../film/timing';
import { compose, IDENTITY, type Matrix } from '../geometry/matrix';
import { areaUnder, channelAt } from '../motion/curve';
import { centreOf, regionOrNearest } from '../track/track';
import type { Content, MissingPicture, PlannedLayer } from './frame-plan';
import { jumpsOf, onSide, planeMap, shutterSamples } from './layer-place';
import { planMattes } from './plan-mattes';
import { meltContent } from './plan-melt';
import { contentAt, missingPicture, plannedEffects, shotEdges } from './plan-shot';
import type { Planner } from './planner';
import { baseFraming, shotFraming } from './shot-framing';

/** A layer's picture: its medium, the place in it and how it sits in the frame before any motion. */
interface Shown {
  readonly medium: Medium;
  readonly place: number;
  readonly shot: Shot | null;
  /** Film frames since the shot's first one; undefined for a held frame, which stands as when it is shown. */
  readonly offset?: number;
}

/** What a layer shows at a time from the cut; null without a medium that is ready. */
function shownBy({ film, media, placed }: Planner, layer: Layer, time: number): Shown | null {
  const { source } = layer;
  const side = sideOf(layer);
  if (side !== null) {
    const shot = placed[side];
    const medium = mediumOf(media, shot);
    if (medium === null) return null;
    if (source.kind === 'held') return { medium, place: source.frame, shot };
    const offset = time + placed.cut - startsAround(placed)[side];
    if (layer.time === undefined) return { medium, place: mediumPlaceAt(film, shot, medium, offset), shot, offset };
    const { anchor, speed } = layer.time;
    const fixed = mediumPlaceAt(film, shot, medium, offset - time + anchor);
    return { medium, place: fixed + areaUnder(speed, anchor, time) * mediumFramesPerFilmFrame(film, medium), shot, offset };
  }
  const medium = source.kind === 'medium' ? media.get(source.mediumId) : undefined;
  if (source.kind !== 'medium' || medium === undefined) return null;
  const passed = layer.time === undefined ? time : layer.time.anchor + areaUnder(layer.time.speed, layer.time.anchor, time);
  const place = source.frame + passed * mediumFramesPerFilmFrame(film, medium);
  return { medium, place: medium.kind === 'still' ? 0 : place, shot: null };
}

/** The middle of the track that a layer's pivot rides on, film pixels of its plane. */
function trackPivot(film: Film, layer: Layer, medium: Medium | null, frame: number, framing: Matrix): readonly [number, number] {
  const track = film.tracks?.find((t) => t.id === layer.motion.pivotTrackId);
  if (track === undefined || track.mediumId !== medium?.id) return [0, 0];
  const [x, y] = centreOf(regionOrNearest(track, frame).corners);
  const [a, b, c, d, e, f] = framing;
  return [a * x + b * y + c, d * x + e * y + f];
}

/** A layer and its copies as they are drawn, and the picture that it lacks. */
export interface LayerPlan {
  readonly layers: readonly PlannedLayer[];
  readonly missing: MissingPicture | null;
}

const NOTHING: LayerPlan = { layers: [], missing: null };

/** What a layer shows that is of no medium of its own; null where it has nothing to show. */
function contentWithoutMedium(planner: Planner, source: Layer['source'], frame: number): Content | null {
  if (source.kind === 'colour') return { kind: 'colour', colour: source.colour };
  return source.kind === 'melt' ? meltContent(planner, source, frame) : { kind: 'beneath' };
}

/** A layer and its late copies, front to back. */
export function planLayer(planner: Planner, layer: Layer, frame: number): LayerPlan {
  const { film, media, placed, quality } = planner;
  const time = frame - placed.cut;
  const { source, span } = layer;
  if (span !== undefined && (time < span.first || time > span.last)) return NOTHING;
  const side = sideOf(layer);
  const shots = source.kind === 'melt' ? [placed.leaving, placed.entering] : side === null ? [] : [placed[side]];
  if (shots.some((s) => s.isOff === true)) return NOTHING;
  const shown = shownBy(planner, layer, time);
  if (shown === null && (side !== null || source.kind === 'medium'))
    return { layers: [], missing: side === null ? null : missingPicture(media, placed[side], false) };
  const content: Content | null =
    shown === null
      ? contentWithoutMedium(planner, source, frame)
      : contentAt(shown.medium, shown.place, (layer.time ?? shown.shot?.time)?.between);
  if (content === null && source.kind === 'melt') {
    const lacking = (['leaving', 'entering'] as const).find((s) => mediumOf(media, placed[s]) === null) ?? 'leaving';
    return { layers: [], missing: missingPicture(media, placed[lacking], false) };
  }
  if (content === null) return { layers: [], missing: side === null ? null : missingPicture(media, placed[side], shown!.place < 0) };
  const medium = shown?.medium ?? null;
  const mediumFrame = content.kind === 'picture' ? content.picture.frame : 0;
  const framingAt = (at: number): Matrix => {
    if (medium === null) return IDENTITY;
    const { shot, offset } = shown!;
    if (shot === null) return baseFraming(film, medium);
    return shotFraming(film, medium, shot, mediumFrame, offset === undefined ? undefined : offset + at - time);
  };
  const framing = framingAt(time);
  const pivot = trackPivot(film, layer, medium, mediumFrame, framing);
  const [width, height] = medium === null ? [film.width, film.height] : [medium.width, medium.height];
  const heldEdges = shown?.shot != null && medium !== null ? shotEdges(film, medium, shown.shot) : 'none';
  const opacity = Math.max(0, Math.min(1, channelAt(layer.opacity, time, 1)));
  const moved = (late: number, share: number): PlannedLayer => {
    const jumps = jumpsOf(placed.join, layer).map((frame) => frame + late);
    const mapAt = (moment: number): Matrix => {
      const at = onSide(moment, time, jumps);
      return compose(framingAt(at), planeMap(film, placed.join, layer, at - late, pivot));
    };
    const map = planeMap(film, placed.join, layer, time - late, pivot);
    return {
      content,
      width,
      height,
      edges: layer.edges === 'none' ? heldEdges : layer.edges,
      matrix: compose(framing, map),
      samples: layer.blur && content.kind !== 'beneath' ? shutterSamples(mapAt, time, width, height, quality.samples, film.shutter) : [],
      opacity: opacity * share,
      blend: layer.blend,
      cleanEdge: Math.max(0, ...layer.mattes.map((u) => u.cleanEdge ?? 0)),
      mattes: planMattes(planner, layer, { medium, frame: mediumFrame, framing, map }, time),
      effects: plannedEffects(layer.effects, time),
    };
  };
  const { count = 0, delay = 1, fall = 0 } = layer.copies ?? {};
  const copies = Array.from({ length: count }, (_, i) => moved((i + 1) * delay, (1 - fall) ** (i + 1)));
  return { layers: [moved(0, 1), ...copies], missing: null };
}
