import { current, isDraft, type Draft } from 'immer';
import { hasPaint } from '../../matte/cut/strokes';
import type { Corner } from '../../track/plane-template';
import type { TrackFrame, TrackModel } from '../../track/track';
import { BRIGHTNESS_KEY, COLOUR_KEY, type MatteKey } from '../../matte/key/key';
import { corner, type Outline } from '../../matte/outline/outline';
import { UNTIDIED, type Tidying } from '../../matte/coverage/tidy';
import { byId, type FrameStrokes, type Join, type Matte, type Steadying } from '../film';
import type { Side } from '../composition';
import type { FilmDraft, NewId } from '../drafts';
import { dropReferences } from '../references';

/** Changes to mattes and tracks; each takes a draft and changes it in place. */

const draftMatte = (film: FilmDraft, id: string): Draft<Matte> => byId(film.mattes, id, 'matte');

/** A name that no other matte of the medium has. */
function freeName(film: FilmDraft, mediumId: string, wanted: string): string {
  const taken = new Set(film.mattes.filter((m) => m.mediumId === mediumId).map((m) => m.name));
  for (let n = 1; ; n++) {
    const name = n === 1 ? wanted : `${wanted} ${n}`;
    if (!taken.has(name)) return name;
  }
}

const NO_OUTLINE: Draft<Outline> = { closed: false, keys: [] };

/** Where a matte's coverage comes from. */
export type MatteKind = 'strokes' | 'outline' | 'colour key' | 'brightness key';

export const MATTE_KINDS: readonly MatteKind[] = ['strokes', 'outline', 'colour key', 'brightness key'];

/** Adds a matte to be painted, drawn or keyed and gives its id. */
export function addMatte(film: FilmDraft, mediumId: string, kind: MatteKind, wanted: string, newId: NewId): string {
  const id = newId();
  const matte: Draft<Matte> = { id, mediumId, name: freeName(film, mediumId, wanted), outline: NO_OUTLINE };
  if (kind === 'strokes') matte.painted = [];
  else if (kind !== 'outline') matte.key = structuredClone(kind === 'colour key' ? COLOUR_KEY : BRIGHTNESS_KEY) as Draft<MatteKey>;
  film.mattes.push(matte);
  return id;
}

/** Replaces a matte's key; it stays the kind of key it is. */
export function setKey(film: FilmDraft, matteId: string, key: MatteKey): void {
  const matte = draftMatte(film, matteId);
  if (matte.key?.kind !== key.kind) throw new RangeError(`matte ${matte.name} is no ${key.kind} key`);
  matte.key = structuredClone(key) as Draft<MatteKey>;
}

/** Changes how a painted or keyed matte is tidied. */
export function setTidying(film: FilmDraft, matteId: string, change: Partial<Tidying>): void {
  const matte = draftMatte(film, matteId);
  matte.tidying = { ...UNTIDIED, ...matte.tidying, ...change };
}

/** Moves a matte one place up (−1) or down (+1) in the order in which a layer combines its mattes. */
export function moveMatteUse(film: FilmDraft, joinId: string, layerId: string, matteId: string, by: -1 | 1): void {
  const join: Draft<Join> = byId(film.joins, joinId, 'join');
  const { mattes } = byId(join.layers, layerId, 'layer');
  const at = mattes.findIndex((u) => u.matteId === matteId);
  if (at < 0 || at + by < 0 || at + by >= mattes.length) return;
  const [use] = mattes.splice(at, 1);
  mattes.splice(at + by, 0, use!);
}

export function renameMatte(film: FilmDraft, matteId: string, name: string): void {
  draftMatte(film, matteId).name = name;
}

/** A copy with an id of its own, used nowhere yet. */
export function duplicateMatte(film: FilmDraft, matteId: string, newId: NewId): string {
  const matte = draftMatte(film, matteId);
  const id = newId();
  const copy = structuredClone(isDraft(matte) ? current(matte) : matte) as Draft<Matte>;
  delete copy.frameEdits;
  delete copy.ownerId;
  film.mattes.push({ ...copy, id, name: freeName(film, matte.mediumId, `${matte.name}, copy`) });
  return id;
}

/** Changes of stored frames that can be taken back. */
const MOST_FRAME_EDITS = 400;

/** Notes that the stored frames of a matte were changed, so that the change can be taken back. */
export function noteFrameEdit(film: FilmDraft, matteId: string, editId: string): void {
  const matte = draftMatte(film, matteId);
  matte.frameEdits = [...(matte.frameEdits ?? []), editId].slice(-MOST_FRAME_EDITS);
}

/** Takes a matte away everywhere. */
export function removeMatte(film: FilmDraft, matteId: string): void {
  film.mattes = film.mattes.filter((m) => m.id !== matteId);
  dropReferences(film, 'matte', matteId);
}

/** Lets a layer use a matte, behind those it uses already; once is enough. */
export function addMatteUse(film: FilmDraft, joinId: string, layerId: string, matteId: string, side: Side): void {
  const join: Draft<Join> = byId(film.joins, joinId, 'join');
  const layer = byId(join.layers, layerId, 'layer');
  if (layer.mattes.some((u) => u.matteId === matteId)) return;
  layer.mattes.push({ matteId, side, growPx: 0, featherPx: 0 });
}

export function stopUsingMatte(film: FilmDraft, joinId: string, layerId: string, matteId: string): void {
  const join: Draft<Join> = byId(film.joins, joinId, 'join');
  const layer = byId(join.layers, layerId, 'layer');
  layer.mattes = layer.mattes.filter((u) => u.matteId !== matteId);
}

/** The strokes of a matte on one medium frame; empty ones where nothing is painted. */
export const strokesAt = (matte: Matte, frame: number): FrameStrokes =>
  matte.painted?.find((p) => p.frame === frame) ?? { frame, keep: [], drop: [] };

/** Replaces what is painted on one medium frame; a frame without strokes is dropped from the list. */
export function setStrokes(film: FilmDraft, matteId: string, { frame, keep, drop, hair = [], touches = [] }: FrameStrokes): void {
  const matte = draftMatte(film, matteId);
  if (matte.painted === undefined) throw new RangeError(`matte ${matte.name} is not painted`);
  // strokes are never changed once they are painted, so films may share them
  const made = {
    frame,
    keep,
    drop,
    ...(hair.length > 0 ? { hair } : {}),
    ...(touches.length > 0 ? { touches } : {}),
  } as Draft<FrameStrokes>;
  const others = matte.painted.filter((p) => p.frame !== frame);
  const next = hasPaint(made) ? [...others, made] : others;
  matte.painted = next.sort((a, b) => a.frame - b.frame);
}

const copyCorners = (corners: readonly Corner[]): [number, number][] => corners.map(([x, y]) => [x, y]);

/** Adds a region to be followed and gives its id. */
export function addTrack(
  film: FilmDraft,
  mediumId: string,
  name: string,
  model: TrackModel,
  frame: number,
  corners: readonly Corner[],
  newId: NewId,
): string {
  const id = newId();
  film.tracks ??= [];
  film.tracks.push({ id, mediumId, name, model, keys: [{ frame, corners: copyCorners(corners) }], frames: [] });
  return id;
}

/** Says by hand where a track's region is on a frame. */
export function setTrackKey(film: FilmDraft, trackId: string, frame: number, corners: readonly Corner[]): void {
  const track = byId(film.tracks ?? [], trackId, 'track');
  track.keys = [...track.keys.filter((k) => k.frame !== frame), { frame, corners: copyCorners(corners) }].sort((a, b) => a.frame - b.frame);
  track.frames = track.frames.filter((f) => f.frame !== frame);
}

export function setTrackModel(film: FilmDraft, trackId: string, model: TrackModel): void {
  byId(film.tracks ?? [], trackId, 'track').model = model;
}

/** Takes a hand-placed region away; the last one stays, since the track would go with it. */
export function removeTrackKey(film: FilmDraft, trackId: string, frame: number): void {
  const track = byId(film.tracks ?? [], trackId, 'track');
  if (track.keys.length > 1) track.keys = track.keys.filter((k) => k.frame !== frame);
}

/** Holds a shot still on a track from now on, or lets it move again (null). */
export function setSteadying(film: FilmDraft, shotId: string, steadying: Steadying | null): void {
  const shot = byId(film.shots, shotId, 'shot');
  if (steadying === null) delete shot.steadying;
  else shot.steadying = { ...steadying };
}

/** Adds a track whose every frame is known, with its first one as key; gives its id. */
export function addFollowedTrack(
  film: FilmDraft,
  mediumId: string,
  name: string,
  model: TrackModel,
  frames: readonly TrackFrame[],
  newId: NewId,
): string {
  const [first, ...rest] = frames;
  if (first === undefined) throw new RangeError('a track needs a frame');
  const id = addTrack(film, mediumId, name, model, first.frame, first.corners, newId);
  byId(film.tracks!, id, 'track').frames = rest.map((f) => ({ ...f, corners: copyCorners(f.corners) }));
  return id;
}

/** Takes a track away; what rode on it stands for itself again. */
export function removeTrack(film: FilmDraft, trackId: string): void {
  film.tracks = (film.tracks ?? []).filter((t) => t.id !== trackId);
  dropReferences(film, 'track', trackId);
}

/** Lets an outline ride on a track from now on, or stand for itself. Its keyframes count from the track's first region. */
export function rideOnTrack(film: FilmDraft, matteId: string, trackId: string | null): void {
  const matte = draftMatte(film, matteId);
  if (trackId === null) delete matte.trackId;
  else matte.trackId = byId(film.tracks ?? [], trackId, 'track').id;
}

/** Adds a closed outline that is a track's region and rides on it; gives its id. */
export function addOutlineOnTrack(film: FilmDraft, trackId: string, newId: NewId): string {
  const track = byId(film.tracks ?? [], trackId, 'track');
  const id = addMatte(film, track.mediumId, 'outline', track.name, newId);
  const matte = draftMatte(film, id);
  const key = track.keys[0]!;
  matte.outline = { closed: true, keys: [{ frame: key.frame, ease: 'straight', points: key.corners.map(([x, y]) => corner(x, y)) }] };
  matte.trackId = trackId;
  return id;
}

/** Replaces a matte's outline. */
export function setOutline(film: FilmDraft, matteId: string, outline: Outline): void {
  const matte: Draft<Matte> = byId(film.mattes, matteId, 'matte');
  matte.outline = outline as Draft<Outline>;
}
