import type { Draft } from 'immer';
import { reportWipe } from '../recipes/wipe-past-report';
import type { Outline } from '../matte/outline/outline';
import type { Channel } from '../motion/curve';
import { byId, plainLayer, type Join, type Layer, type Matte, type MatteUse, type Media, type Medium, type Shot } from './film';
import type { FilmDraft, NewId } from './drafts';
import { addMatte } from './edits/mattes';
import { longestShot } from './rules';
import { handlesOf, mediumFramesPerFilmFrame, offsetOfMediumFrame, overlapLimits, placedJoins, placeJoin } from './timing';

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
  for (let i = 0; i + 1 < film.shots.length; i++) {
    const leaving = film.shots[i]!;
    const entering = film.shots[i + 1]!;
    if (film.joins.some((j) => j.leavingShotId === leaving.id && j.enteringShotId === entering.id)) continue;
    const layers = defaultLayers(newId, leaving.name, entering.name) as Draft<Layer>[];
    film.joins.push({
      id: newId(),
      name: `${leaving.name} → ${entering.name}`,
      kind: 'cut',
      leavingShotId: leaving.id,
      enteringShotId: entering.id,
      before: 0,
      after: 0,
      fitsHole: false,
      layers,
    });
  }
  for (const { join } of placedJoins(film)) {
    const limits = overlapLimits(film, join.id);
    const here = film.joins.find((j) => j.id === join.id)!;
    here.before = clamp(here.before, 0, Math.max(0, limits.before));
    here.after = clamp(here.after, 0, Math.max(0, limits.after));
  }
}

const draftJoin = (film: FilmDraft, id: string): Draft<Join> => byId(film.joins, id, 'join');
const draftShot = (film: FilmDraft, id: string): Draft<Shot> => byId(film.shots, id, 'shot');

/** Lays the whole medium on the reel at place `index` (0 is first). */
export function addShot(film: FilmDraft, medium: Medium, index: number, newId: NewId): void {
  const shot: Shot = { id: newId(), mediumId: medium.id, name: medium.name, inFrame: 0, length: 1 };
  const length = Math.max(1, offsetOfMediumFrame(film, shot, medium, medium.frames));
  film.shots.splice(clamp(index, 0, film.shots.length), 0, { ...shot, length });
  tidyJoins(film, newId);
}

export function moveShot(film: FilmDraft, shotId: string, index: number, newId: NewId): void {
  const from = film.shots.findIndex((s) => s.id === shotId);
  const [shot] = film.shots.splice(from, from < 0 ? 0 : 1);
  if (shot === undefined) throw new RangeError(`no shot ${shotId} in the film`);
  film.shots.splice(clamp(index, 0, film.shots.length), 0, shot);
  tidyJoins(film, newId);
}

/** Takes the shot off the reel, with the joins that cannot come back without it. */
export function removeShot(film: FilmDraft, shotId: string, newId: NewId): void {
  film.shots = film.shots.filter((s) => s.id !== shotId);
  film.joins = film.joins.filter((j) => j.leavingShotId !== shotId && j.enteringShotId !== shotId);
  tidyJoins(film, newId);
}

/** Takes a medium off the shelf. @throws RangeError while anything in the film is of it */
export function takeOffShelf(film: FilmDraft, mediumId: string): void {
  if ([...film.shots, ...film.mattes, ...(film.tracks ?? [])].some((item) => item.mediumId === mediumId))
    throw new RangeError('the medium is in use');
  film.offShelf = [...(film.offShelf ?? []), mediumId];
}

/** Moves the shot's first frame by `frames` film frames (later when positive), within its medium. */
export function trimStart(film: FilmDraft, medium: Medium, shotId: string, frames: number, newId: NewId): void {
  const shot = draftShot(film, shotId);
  const by = clamp(Math.round(frames), -handlesOf(film, shot, medium).before, shot.length - 1);
  shot.inFrame += by * mediumFramesPerFilmFrame(film, medium);
  shot.length -= by;
  tidyJoins(film, newId);
}

/** Moves the shot's last frame by `frames` film frames (later when positive), within its medium. */
export function trimEnd(film: FilmDraft, medium: Medium, shotId: string, frames: number, newId: NewId): void {
  const shot = draftShot(film, shotId);
  shot.length = clamp(shot.length + Math.round(frames), 1, shot.length + Math.max(0, handlesOf(film, shot, medium).after));
  tidyJoins(film, newId);
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
  join.fitsHole = false;
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
  const shifted = (channel: Channel): Draft<Channel> =>
    typeof channel === 'number' ? channel : channel.map((k) => ({ ...k, frame: k.frame - by }));
  for (const layer of join.layers) {
    layer.opacity = shifted(layer.opacity);
    layer.x = shifted(layer.x);
    layer.y = shifted(layer.y);
    layer.scale = shifted(layer.scale);
    layer.rotationDegrees = shifted(layer.rotationDegrees);
  }
}

/**
 * Makes the overlap run from the first frame with a hole to the frame before everything is hidden, rolling the
 * cut into it when it lies outside. Pictures stay where they are in time. Without a hole nothing changes.
 */
export function fitOverlapToHole(film: FilmDraft, media: Media, joinId: string): void {
  const before = placeJoin(film, joinId);
  const report = before === null ? null : reportWipe(film, media, before);
  if (before === null || report === null || report.firstHole === null) return;
  const from = report.firstHole;
  const to = report.fullFrom ?? report.start + report.hidden.length;
  rollCut(film, media, joinId, clamp(before.cut, from, to) - before.cut);
  const placed = placeJoin(film, joinId)!;
  const limits = overlapLimits(film, joinId);
  const join = draftJoin(film, joinId);
  join.before = clamp(placed.cut - from, 0, Math.max(0, limits.before));
  join.after = clamp(to - placed.cut, 0, Math.max(0, limits.after));
}

/**
 * The recipe "wipe past": the leaving shot above with the area behind the trailing edge taken out by an outline,
 * the entering shot below. Layers that are there stay as they are; what is missing is added.
 */
export function makeWipePast(film: FilmDraft, joinId: string, newId: NewId): void {
  const join = draftJoin(film, joinId);
  const leaving = draftShot(film, join.leavingShotId);
  join.kind = 'wipe past';
  join.fitsHole = true;
  let layer = join.layers.find((l) => l.source === 'leaving');
  if (layer === undefined) {
    layer = plainLayer(newId(), leaving.name, 'leaving') as Draft<Layer>;
    join.layers.unshift(layer);
  }
  if (!join.layers.some((l) => l.source === 'entering'))
    join.layers.push(plainLayer(newId(), draftShot(film, join.enteringShotId).name, 'entering') as Draft<Layer>);
  if (!layer.mattes.some((m) => m.side === 'outside'))
    layer.mattes.push({
      matteId: addMatte(film, leaving.mediumId, 'outline', 'Behind the trailing edge', newId),
      side: 'outside',
      growPx: 0,
      featherPx: 2,
    });
}

/** Turns the join back into a plain cut. Mattes stay with their media. */
export function makePlainCut(film: FilmDraft, joinId: string, newId: NewId): void {
  const join = draftJoin(film, joinId);
  Object.assign(join, {
    kind: 'cut',
    before: 0,
    after: 0,
    fitsHole: false,
    layers: defaultLayers(newId, draftShot(film, join.leavingShotId).name, draftShot(film, join.enteringShotId).name),
  });
}

/** Replaces a matte's outline, and lets the overlaps of wipes that use it follow. */
export function setOutline(film: FilmDraft, media: Media, matteId: string, outline: Outline): void {
  const matte: Draft<Matte> = byId(film.mattes, matteId, 'matte');
  matte.outline = outline as Draft<Outline>;
  for (const join of film.joins)
    if (join.fitsHole && join.layers.some((l) => l.mattes.some((m) => m.matteId === matteId))) fitOverlapToHole(film, media, join.id);
}

/** Lets the overlap follow the hole from now on, or leaves it to the hand. */
export function setFitsHole(film: FilmDraft, media: Media, joinId: string, fits: boolean): void {
  draftJoin(film, joinId).fitsHole = fits;
  if (fits) fitOverlapToHole(film, media, joinId);
}

export function setMatteUse(
  film: FilmDraft,
  joinId: string,
  layerId: string,
  matteId: string,
  change: Partial<Omit<MatteUse, 'matteId'>>,
): void {
  const layer = byId(draftJoin(film, joinId).layers, layerId, 'layer');
  const use = layer.mattes.find((m) => m.matteId === matteId);
  if (use === undefined) throw new RangeError(`layer ${layer.name} does not use matte ${matteId}`);
  Object.assign(use, change);
}

/** The numbers of a layer that a hand may set. */
export type LayerChange = Partial<Pick<Layer, 'name' | 'visible' | 'opacity' | 'x' | 'y' | 'scale' | 'rotationDegrees'>>;

export function setLayer(film: FilmDraft, joinId: string, layerId: string, change: LayerChange): void {
  Object.assign(byId(draftJoin(film, joinId).layers, layerId, 'layer'), change);
}

/** Moves a layer to place `index` in the stack, 0 in front. */
export function moveLayer(film: FilmDraft, joinId: string, layerId: string, index: number): void {
  const join = draftJoin(film, joinId);
  const layer = byId(join.layers, layerId, 'layer');
  join.layers = join.layers.filter((l) => l.id !== layerId);
  join.layers.splice(clamp(index, 0, join.layers.length), 0, layer);
}
