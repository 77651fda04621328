import { compose, IDENTITY, type Matrix } from '../geometry/matrix';
import type { EdgeStyle } from '../geometry/polygon-raster';
import { channelAt } from '../motion/curve';
import { spacingOf, type Timing } from '../motion/motion';
import { sideOf, type Effect, type EdgeFill, type Layer, type LinePair, type MeltSource, type ShotSide } from '../film/composition';
import { byId, type Film, type Matte, type Media, type Medium, type Shot } from '../film/film';
import { drawnPoints } from '../film/mattes';
import { mediumFramesPerFilmFrame, mediumOf, mediumPlaceAt, placedJoins, shotFrameAt, startsAround, type PlacedJoin } from '../film/timing';
import { transformPoint } from '../matte/outline/outline';
import { matchedPlaces, type DrawnLine, type MatchedPlaces } from '../morph/curve-pairs';
import { keyAtFrame } from '../matte/key/key';
import { UNTIDIED } from '../matte/coverage/tidy';
import { areaUnder } from '../motion/curve';
import { anchorsOf } from '../morph/melt-frames';
import { centreOf, regionOrNearest } from '../track/track';
import { jumpsOf, layerDepth, onSide, planeMap, shutterSamples } from './layer-place';
import { baseFraming, isMirrored, shotFraming } from './shot-framing';
import type { Content, FramePlan, MeltStep, MissingPicture, PictureRef, PlannedEffect, PlannedLayer, PlannedMatte } from './frame-plan';

/** How carefully a frame is planned. */
export interface PlanQuality {
  /** Shutter samples of a layer at most; 1 draws it unblurred. */
  readonly samples: number;
}

export const FULL_QUALITY: PlanQuality = { samples: 64 };

/** Rounding room, so that whole places stay whole. */
const EPSILON = 1e-6;

type PictureContent = Extract<Content, { kind: 'picture' }>;

const pictureRef = (medium: Medium, frame: number): PictureRef => ({
  mediumId: medium.id,
  frame,
  width: medium.width,
  height: medium.height,
});

/** The picture, or two blended, at a place in a medium; null where it has none. */
function contentAt(medium: Medium, place: number, between: Timing['between'] = 'nearest'): Content | null {
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

const plannedEffects = (effects: readonly Effect[], time: number): readonly PlannedEffect[] =>
  effects
    .filter(({ visible, span }) => visible && (span === undefined || (time >= span.first && time <= span.last)))
    .map(({ kind, params }) => ({
      kind,
      params: {
        ...Object.fromEntries(Object.entries(params).map(([name, channel]) => [name, channelAt(channel, time, 0, spacingOf(name))])),
        frame: time,
      },
    }));

function missingPicture(media: Media, shot: Shot, before: boolean): MissingPicture {
  const where = mediumOf(media, shot) === null ? 'not ready' : before ? 'before' : 'after';
  return { shotId: shot.id, shotName: shot.name, where };
}

const emptyPlan = (film: Film): FramePlan => ({
  width: film.width,
  height: film.height,
  layers: [],
  finish: [],
  background: film.background ?? null,
  missing: [],
});

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

const shotEdges = (film: Film, medium: Medium, shot: Shot): EdgeFill => (isMirrored(film, medium, shot) ? 'mirrored' : 'none');

/** A shot's own picture in its place, blurred by its camera's movement where it has one. */
function plannedShot(
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

function plainPlan(film: Film, media: Media, shot: Shot, start: number, frame: number, quality: PlanQuality): FramePlan {
  const medium = mediumOf(media, shot);
  const place = medium === null ? 0 : mediumPlaceAt(film, shot, medium, frame - start);
  const content = medium === null ? null : contentAt(medium, place, shot.time?.between);
  if (medium === null || content?.kind !== 'picture') return { ...emptyPlan(film), missing: [missingPicture(media, shot, place < 0)] };
  return { ...emptyPlan(film), layers: [plannedShot(film, medium, shot, content, frame - start, quality)] };
}

/** A layer's picture: its medium, the place in it and how it sits in the frame before any motion. */
interface Shown {
  readonly medium: Medium;
  readonly place: number;
  readonly shot: Shot | null;
  /** Film frames since the shot's first one; undefined for a held frame, which stands as when it is shown. */
  readonly offset?: number;
}

/** What a layer shows at a time from the cut; null without a medium that is ready. */
function shownBy(film: Film, media: Media, placed: PlacedJoin, layer: Layer, time: number): Shown | null {
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
  // a still has one picture for all time
  return { medium, place: medium.frames === 1 ? 0 : place, shot: null };
}

/** The layer's mattes at a time. One of the layer's own medium moves with the layer; one of another stands where its own shot stands. */
function planMattes(
  film: Film,
  media: Media,
  placed: PlacedJoin,
  layer: Pick<Layer, 'mattes' | 'source'>,
  own: { readonly medium: Medium | null; readonly frame: number; readonly framing: Matrix; readonly map: Matrix },
  time: number,
): PlannedMatte[] {
  const planned: PlannedMatte[] = [];
  for (const { matteId, side, combine = 'intersect', growPx, featherPx, ridesAlong = false } of layer.mattes) {
    const matte = byId(film.mattes, matteId, 'matte');
    if (!isDrawable(matte)) continue;
    const placement = { side, combine, growPx, featherPx };
    if (matte.mediumId === own.medium?.id) {
      planned.push(plannedMatte(film, own.medium, matte, own.frame, { ...placement, matrix: compose(own.framing, own.map), rides: true }));
      continue;
    }
    const other = standing(film, media, placed, matte, time);
    if (other === null) continue;
    const matrix = ridesAlong ? compose(other.framing, own.map) : other.framing;
    planned.push(plannedMatte(film, other.medium, matte, other.frame, { ...placement, matrix, rides: ridesAlong }));
  }
  return planned;
}

/** Where a matte of another medium than its layer's stands: with the shot of its medium or, of a medium in neither shot, filling the frame. */
function standing(
  film: Film,
  media: Media,
  placed: PlacedJoin,
  matte: Matte,
  time: number,
): { medium: Medium; frame: number; framing: Matrix } | null {
  const medium = media.get(matte.mediumId);
  if (medium === undefined) return null;
  for (const side of ['leaving', 'entering'] as const) {
    const shot = placed[side];
    if (shot.mediumId !== matte.mediumId) continue;
    const start = startsAround(placed)[side];
    const frame = shotFrameAt(film, media, shot, start, placed.cut + time);
    if (frame !== null) return { medium, frame, framing: shotFraming(film, medium, shot, frame, placed.cut + time - start) };
  }
  if ([placed.leaving, placed.entering].some((s) => s.mediumId === matte.mediumId)) return null;
  const frame = Math.floor(time * mediumFramesPerFilmFrame(film, medium) + EPSILON);
  const shown = medium.frames === 1 ? 0 : frame;
  return shown < 0 || shown >= medium.frames ? null : { medium, frame: shown, framing: baseFraming(film, medium) };
}

function plannedMatte(
  film: Film,
  medium: Medium,
  matte: Matte,
  frame: number,
  placement: Pick<PlannedMatte, 'side' | 'combine' | 'growPx' | 'featherPx' | 'matrix' | 'rides'>,
): PlannedMatte {
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
  const placement = { side: 'inside', combine: 'intersect', growPx: 0, featherPx: 0, matrix: IDENTITY, rides: true } as const;
  const content: Content = { kind: 'picture', picture: pictureRef(medium, frame), next: null };
  const layer: PlannedLayer = {
    ...plainPlanned(content, medium.width, medium.height, IDENTITY),
    mattes: isDrawable(matte) ? [plannedMatte(film, medium, matte, frame, placement)] : [],
  };
  return { width: medium.width, height: medium.height, layers: [layer], finish: [], background: null, missing: [] };
}

/** The middle of the track that a layer's pivot rides on, film pixels of its plane. */
function trackPivot(film: Film, layer: Layer, medium: Medium | null, frame: number, framing: Matrix): readonly [number, number] {
  const track = film.tracks?.find((t) => t.id === layer.motion.pivotTrackId);
  if (track === undefined || track.mediumId !== medium?.id) return [0, 0];
  const [x, y] = centreOf(regionOrNearest(track, frame).corners);
  const [a, b, c, d, e, f] = framing;
  return [a * x + b * y + c, d * x + e * y + f];
}

interface LayerPlan {
  readonly layers: readonly PlannedLayer[];
  readonly missing: MissingPicture | null;
}

const NOTHING: LayerPlan = { layers: [], missing: null };

/** What a layer shows that is of no medium of its own; null where it has nothing to show. */
function contentWithoutMedium(film: Film, media: Media, placed: PlacedJoin, source: Layer['source'], frame: number): Content | null {
  if (source.kind === 'colour') return { kind: 'colour', colour: source.colour };
  if (source.kind !== 'melt') return { kind: 'beneath' };
  const step = meltStep(film, media, placed, source, frame);
  // a shot that is not there leaves the other one alone
  if (step === null) return null;
  const anchors = anchorsOf(frame - placed.from, placed.to - placed.from).flatMap((a) => {
    const anchor = meltStep(film, media, placed, source, placed.from + a);
    return anchor === null ? [] : [anchor];
  });
  return { kind: 'melt', ...step, mixed: shareAt(source.mix, frame - placed.cut), quality: source.quality, anchors };
}

const shareAt = (channel: MeltSource['warp'], time: number): number => Math.max(0, Math.min(1, channelAt(channel, time)));

/** The two pictures that are melted on a frame; null while one of the shots is not ready. */
function meltStep(film: Film, media: Media, placed: PlacedJoin, source: MeltSource, frame: number): MeltStep | null {
  const time = frame - placed.cut;
  const [from, to] = (['leaving', 'entering'] as const).map((side) => heldShot(film, media, placed, side, frame)) as [
    LayersOrNone,
    LayersOrNone,
  ];
  if (from === null || to === null) return null;
  const lines = source.lines === undefined ? null : matchedLines(film, source.lines.pairs, from, to);
  return {
    from: subjectOf(film, media, placed, source, 'leaving', from, time),
    to: subjectOf(film, media, placed, source, 'entering', to, time),
    warped: shareAt(source.warp, time),
    lines: lines === null ? null : { places: lines, borders: source.lines!.borders },
  };
}

type LayersOrNone = readonly PlannedLayer[] | null;

/** A shot's picture with only its subject left, where the subjects alone are melted. */
function subjectOf(
  film: Film,
  media: Media,
  placed: PlacedJoin,
  { subjects }: MeltSource,
  side: ShotSide,
  layers: readonly PlannedLayer[],
  time: number,
): readonly PlannedLayer[] {
  if (subjects === undefined) return layers;
  const use = { matteId: subjects[side], side: 'inside', growPx: 0, featherPx: 0 } as const;
  return layers.map((l) => {
    const frame = l.content.kind === 'picture' ? l.content.picture.frame : 0;
    const own = { medium: mediumOf(media, placed[side]), frame, framing: l.matrix, map: IDENTITY };
    return { ...l, mattes: planMattes(film, media, placed, { source: { kind: side }, mattes: [use] }, own, time) };
  });
}

/** A line of one shot as it lies in the film's frame on the picture that is shown of it. */
function lineInFilm(film: Film, matteId: string, [layer]: readonly PlannedLayer[]): DrawnLine {
  const matte = byId(film.mattes, matteId, 'matte');
  const frame = layer?.content.kind === 'picture' ? layer.content.picture.frame : 0;
  const points = drawnPoints(film, matte, frame).map((p) => transformPoint(p, layer?.matrix ?? IDENTITY));
  return { points, closed: matte.outline.closed };
}

/** Places along each pair of lines that is drawn, film pixels from the centre; null where none is. */
function matchedLines(
  film: Film,
  pairs: readonly LinePair[],
  from: readonly PlannedLayer[],
  to: readonly PlannedLayer[],
): readonly MatchedPlaces[] | null {
  const found = pairs.flatMap(({ leaving, entering }) => {
    const places = matchedPlaces(lineInFilm(film, leaving, from), lineInFilm(film, entering, to));
    return places === null ? [] : [places];
  });
  return found.length === 0 ? null : found;
}

/** A shot as it stands on a frame, held on its medium's first or last picture beyond them; null while that is not ready. */
function heldShot(film: Film, media: Media, placed: PlacedJoin, side: ShotSide, frame: number): LayersOrNone {
  const shot = placed[side];
  const medium = mediumOf(media, shot);
  if (medium === null) return null;
  const offset = frame - startsAround(placed)[side];
  const place = mediumPlaceAt(film, shot, medium, offset);
  const content = contentAt(medium, Math.max(0, Math.min(medium.frames - 1, place)), shot.time?.between);
  if (content?.kind !== 'picture') return null;
  return [plannedShot(film, medium, shot, content, offset, { samples: 1 })];
}

/** A layer and its late copies, front to back. */
function planLayer(film: Film, media: Media, placed: PlacedJoin, layer: Layer, frame: number, quality: PlanQuality): LayerPlan {
  const time = frame - placed.cut;
  const { source, span } = layer;
  if (span !== undefined && (time < span.first || time > span.last)) return NOTHING;
  const side = sideOf(layer);
  const shown = shownBy(film, media, placed, layer, time);
  if (shown === null && (side !== null || source.kind === 'medium'))
    return { layers: [], missing: side === null ? null : missingPicture(media, placed[side], false) };
  const content: Content | null =
    shown === null
      ? contentWithoutMedium(film, media, placed, source, frame)
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
      mattes: planMattes(film, media, placed, layer, { medium, frame: mediumFrame, framing, map }, time),
      effects: plannedEffects(layer.effects, time),
    };
  };
  const { count = 0, delay = 1, fall = 0 } = layer.copies ?? {};
  const copies = Array.from({ length: count }, (_, i) => moved((i + 1) * delay, (1 - fall) ** (i + 1)));
  return { layers: [moved(0, 1), ...copies], missing: null };
}

/** The layers of a join in drawing order, front to back. */
function layersInOrder(film: Film, { join, cut }: PlacedJoin, frame: number): readonly Layer[] {
  const shown = join.layers.filter((l) => l.visible);
  if (join.byDepth !== true) return shown;
  const depths = new Map(shown.map((l) => [l.id, layerDepth(film, join, l, frame - cut)]));
  return [...shown].sort((a, b) => depths.get(a.id)! - depths.get(b.id)!);
}

/**
 * A join's picture. Where the next join already runs, the entering shot is what that one makes of it: `inner` plans it, and all that it
 * holds moves, fades and is cut out as the layer that shows the shot.
 */
function joinPlan(film: Film, media: Media, placed: PlacedJoin, frame: number, quality: PlanQuality, inner: FramePlan | null): FramePlan {
  const layers: PlannedLayer[] = [];
  const missing: MissingPicture[] = [...(inner?.missing ?? [])];
  for (const layer of layersInOrder(film, placed, frame)) {
    const made = planLayer(film, media, placed, layer, frame, quality);
    if (made.missing !== null && !missing.some((m) => m.shotId === made.missing!.shotId)) missing.push(made.missing);
    if (inner !== null && layer.source.kind === 'entering') layers.push(...nested(film, placed, layer, frame, made, inner, quality));
    else layers.push(...made.layers);
  }
  const finish = plannedEffects(placed.join.finish, frame - placed.cut);
  return { ...emptyPlan(film), layers, finish, missing };
}

/** What the next join makes of a shot, moved as the layer of this join that shows the shot; both moves are blurred by one open shutter. */
function nested(
  film: Film,
  placed: PlacedJoin,
  layer: Layer,
  frame: number,
  made: LayerPlan,
  inner: FramePlan,
  quality: PlanQuality,
): readonly PlannedLayer[] {
  const [outer] = made.layers;
  if (outer === undefined) return [];
  const time = frame - placed.cut;
  const mapAt = (at: number): Matrix => planeMap(film, placed.join, layer, at);
  const map = mapAt(time);
  const moments = layer.blur ? shutterSamples(mapAt, time, film.width, film.height, quality.samples, film.shutter) : [];
  const through = (l: PlannedLayer): readonly Matrix[] => {
    if (moments.length === 0) return l.samples.map((m) => compose(m, map));
    const count = Math.max(moments.length, l.samples.length);
    const at = <T>(list: readonly T[], i: number): T | undefined => list[Math.floor((i * list.length) / count)];
    return Array.from({ length: count }, (_, i) => compose(at(l.samples, i) ?? l.matrix, at(moments, i)!));
  };
  return inner.layers.map((l) => ({
    ...l,
    matrix: compose(l.matrix, map),
    samples: through(l),
    opacity: l.opacity * outer.opacity,
    mattes: [...l.mattes.map((m) => ({ ...m, matrix: compose(m.matrix, map) })), ...outer.mattes.map((m) => ({ ...m, rides: false }))],
  }));
}

/** First film frame on which something of a join shows, and the one past the last: its overlap, grown to hold every span. */
export function reachOf({ join, from, to, cut, leaving, entering }: PlacedJoin): { readonly from: number; readonly to: number } {
  const spans = [...join.layers, ...join.finish].flatMap(({ span, visible }) => (span === undefined || !visible ? [] : [span]));
  if (spans.length === 0) return { from, to };
  // it reaches through both its shots at most
  const [least, most] = [cut - leaving.length, cut + entering.length];
  return {
    from: Math.min(from, Math.max(least, Math.min(...spans.map((s) => cut + s.first)))),
    to: Math.max(to, Math.min(most, Math.max(...spans.map((s) => cut + s.last + 1)))),
  };
}

/**
 * Says what makes film frame `frame`: inside an overlap the join's layers, elsewhere the shot alone; over all of it the film's finish.
 * @throws RangeError when the film has no such frame.
 */
export function planFrame(film: Film, media: Media, frame: number, quality: PlanQuality = FULL_QUALITY): FramePlan {
  const plan = unfinished(film, media, frame, quality);
  const finish = plannedEffects(film.finish ?? [], frame);
  return finish.length === 0 ? plan : { ...plan, finish: [...plan.finish, ...finish] };
}

function unfinished(film: Film, media: Media, frame: number, quality: PlanQuality): FramePlan {
  const running = placedJoins(film).filter((p) => {
    const { from, to } = reachOf(p);
    return frame >= from && frame < to;
  });
  if (running.length > 0) {
    // of two joins that run at once the later works within the entering shot of the earlier
    const inner = running.slice(1).reduceRight<FramePlan | null>((plan, p) => joinPlan(film, media, p, frame, quality, plan), null);
    return withRest(film, media, joinPlan(film, media, running[0]!, frame, quality, inner), running[0]!, frame, quality);
  }
  let start = 0;
  for (const shot of film.shots) {
    if (frame >= start && frame < start + shot.length) return plainPlan(film, media, shot, start, frame, quality);
    start += shot.length;
  }
  throw new RangeError(`planFrame: the film has no frame ${frame}`);
}

/** Outside the overlap itself, where only a layer with a span of its own shows, the shot lies under it. */
function withRest(film: Film, media: Media, plan: FramePlan, placed: PlacedJoin, frame: number, quality: PlanQuality): FramePlan {
  if (frame >= placed.from && frame < placed.to) return plan;
  const side: ShotSide = frame < placed.cut ? 'leaving' : 'entering';
  const spanned = new Set(placed.join.layers.filter((l) => l.span !== undefined).map((l) => l.id));
  const only = { ...placed, join: { ...placed.join, layers: placed.join.layers.filter((l) => spanned.has(l.id)) } };
  const over = joinPlan(film, media, only, frame, quality, null);
  const under = planShot(film, media, placed, side, frame, quality);
  // out here only effects of the join that have a span of their own go on
  const finish = plannedEffects(
    placed.join.finish.filter((e) => e.span !== undefined),
    frame - placed.cut,
  );
  return { ...under, layers: [...over.layers, ...under.layers], finish, missing: [...over.missing, ...under.missing] };
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

/** One layer of a join alone as it stands on a frame, whatever its mattes and opacity; what its small picture shows. */
export function planLayerAlone(film: Film, media: Media, placed: PlacedJoin, layer: Layer, frame: number): FramePlan {
  const made = planLayer(film, media, placed, { ...layer, mattes: [], opacity: 1, effects: [] }, frame, { samples: 1 });
  return { ...emptyPlan(film), layers: made.layers.slice(0, 1).map((l) => ({ ...l, blend: 'normal' })) };
}

/** One shot with a single matte on its inside, whether a layer uses that matte or not; its edge as it is, or drawn as it is used. */
export function planMatteAlone(
  film: Film,
  media: Media,
  placed: PlacedJoin,
  side: ShotSide,
  matteId: string,
  frame: number,
  edge: EdgeStyle = { growPx: 0, featherPx: 0 },
): FramePlan {
  const plan = planShot(film, media, placed, side, frame);
  const medium = mediumOf(media, placed[side]);
  const use = { matteId, side: 'inside', growPx: edge.growPx, featherPx: edge.featherPx } as const;
  return {
    ...plan,
    layers: plan.layers.map((l) => {
      const mediumFrame = l.content.kind === 'picture' ? l.content.picture.frame : 0;
      const own = { medium, frame: mediumFrame, framing: l.matrix, map: IDENTITY };
      return { ...l, mattes: planMattes(film, media, placed, { source: { kind: side }, mattes: [use] }, own, frame - placed.cut) };
    }),
  };
}

/** The matrix and medium frame under which a matte of `side` is drawn over the stage at a film frame. */
export function matteSpace(
  film: Film,
  media: Media,
  placed: PlacedJoin,
  side: ShotSide,
  frame: number,
): { readonly matrix: Matrix; readonly mediumFrame: number | null } {
  const shot = placed[side];
  const medium = mediumOf(media, shot);
  if (medium === null) return { matrix: IDENTITY, mediumFrame: null };
  const mediumFrame = shotFrameAt(film, media, shot, startsAround(placed)[side], frame);
  return { matrix: shotFraming(film, medium, shot, mediumFrame ?? 0, frame - startsAround(placed)[side]), mediumFrame };
}
