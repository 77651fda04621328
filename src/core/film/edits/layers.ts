import { clamp } from '../../geometry/clamp';
import { current, isDraft, type Draft } from 'immer';
import { CAMERA_CHANNELS, MOTION_CHANNELS, STILL, STILL_CAMERA, type Camera, type Motion, type MotionChannel } from '../../motion/motion';
import { channelAt, type Channel } from '../../motion/curve';
import { byId, type Film, type Join } from '../film';
import { newLayer, type Carrier, type Effect, type Layer, type LayerSource, type MatteUse } from '../composition';
import type { FilmDraft, NewId } from '../drafts';
import { circlingCarrier } from '../references';

/** Changes to what a join holds; each takes a draft and changes it in place. */

const draftJoin = (film: FilmDraft, id: string): Draft<Join> => byId(film.joins, id, 'join');
const draftLayer = (film: FilmDraft, joinId: string, id: string): Draft<Layer> => byId(draftJoin(film, joinId).layers, id, 'layer');

function freeName(taken: readonly { readonly name: string }[], wanted: string): string {
  for (let n = 1; ; n++) {
    const name = n === 1 ? wanted : `${wanted} ${n}`;
    if (!taken.some((t) => t.name === name)) return name;
  }
}

export function setMatteUse(
  film: FilmDraft,
  joinId: string,
  layerId: string,
  matteId: string,
  change: Partial<Omit<MatteUse, 'matteId'>>,
): void {
  const layer = draftLayer(film, joinId, layerId);
  const use = layer.mattes.find((m) => m.matteId === matteId);
  if (use === undefined) throw new RangeError(`layer ${layer.name} does not use matte ${matteId}`);
  Object.assign(use, change);
}

/** What of a layer a hand may set at once. A field that is undefined is taken away. */
export type LayerChange = Partial<Omit<Layer, 'id' | 'mattes'>>;

export function setLayer(film: FilmDraft, joinId: string, layerId: string, change: LayerChange): void {
  const layer = draftLayer(film, joinId, layerId) as unknown as Record<string, unknown>;
  for (const [field, value] of Object.entries(change))
    if (value === undefined) delete layer[field];
    else layer[field] = value;
}

/** Moves a layer to place `index` in the stack, 0 in front. */
export function moveLayer(film: FilmDraft, joinId: string, layerId: string, index: number): void {
  const join = draftJoin(film, joinId);
  const layer = byId(join.layers, layerId, 'layer');
  join.layers = join.layers.filter((l) => l.id !== layerId);
  join.layers.splice(clamp(index, 0, join.layers.length), 0, layer);
}

/** Lays a new layer in front of all others; gives its id. */
export function addLayer(film: FilmDraft, joinId: string, name: string, source: LayerSource, newId: NewId): string {
  const join = draftJoin(film, joinId);
  const id = newId();
  join.layers.unshift(newLayer(id, freeName(join.layers, name), source) as Draft<Layer>);
  return id;
}

/** A copy in front of the layer; gives its id. */
export function duplicateLayer(film: FilmDraft, joinId: string, layerId: string, newId: NewId): string {
  const join = draftJoin(film, joinId);
  const at = join.layers.findIndex((l) => l.id === layerId);
  const layer = byId(join.layers, layerId, 'layer');
  const id = newId();
  const copy = structuredClone(isDraft(layer) ? current(layer) : layer) as Draft<Layer>;
  join.layers.splice(at, 0, { ...copy, id, name: freeName(join.layers, `${layer.name}, copy`) });
  return id;
}

/**
 * Lays a copy of a layer, of this join or another, in front of all others; gives its id. Its keys stay as far from the cut. It rides on nothing that
 * is not here, and leaves mattes and tracks that the film no longer has.
 */
export function pasteLayer(film: FilmDraft, joinId: string, layer: Layer, newId: NewId): string {
  const join = draftJoin(film, joinId);
  const id = newId();
  const { ridesOn, ...rest } = structuredClone(layer);
  const { pivotTrackId, ...motion } = rest.motion;
  const carrier = join.carriers.find((c) => c.id === ridesOn);
  const track = (film.tracks ?? []).find((t) => t.id === pivotTrackId);
  join.layers.unshift({
    ...rest,
    id,
    name: freeName(join.layers, layer.name),
    motion: { ...motion, ...(track === undefined ? {} : { pivotTrackId: track.id }) },
    mattes: rest.mattes.filter((u) => film.mattes.some((m) => m.id === u.matteId)),
    effects: rest.effects.map((e) => ({ ...e, id: newId() })),
    ...(carrier === undefined ? {} : { ridesOn: carrier.id }),
  } as Draft<Layer>);
  return id;
}

export function removeLayer(film: FilmDraft, joinId: string, layerId: string): void {
  const join = draftJoin(film, joinId);
  join.layers = join.layers.filter((l) => l.id !== layerId);
}

export function addCarrier(film: FilmDraft, joinId: string, name: string, newId: NewId): string {
  const join = draftJoin(film, joinId);
  const id = newId();
  join.carriers.push({ id, name: freeName(join.carriers, name), motion: STILL } as Draft<Carrier>);
  return id;
}

/** Takes a carrier away; what rode on it rides on what it rode on. */
export function removeCarrier(film: FilmDraft, joinId: string, carrierId: string): void {
  const join = draftJoin(film, joinId);
  const gone = byId(join.carriers, carrierId, 'carrier');
  join.carriers = join.carriers.filter((c) => c.id !== carrierId);
  for (const rider of ridersOf(join))
    if (rider.ridesOn === carrierId) {
      if (gone.ridesOn === undefined) delete rider.ridesOn;
      else rider.ridesOn = gone.ridesOn;
    }
}

const ridersOf = (join: Draft<Join>): { ridesOn?: string | undefined }[] => [
  ...join.layers,
  ...join.carriers,
  ...(join.camera === undefined ? [] : [join.camera]),
];

/** Whether a thing that rides on `carrierId` would ride, in the end, on itself. */
export function wouldCircle(join: Pick<Join, 'carriers'>, id: string, carrierId: string): boolean {
  return circlingCarrier({ carriers: join.carriers.map((c) => (c.id === id ? { ...c, ridesOn: carrierId } : c)) }) !== null;
}

/** The thing of a join that a motion belongs to: a layer, a carrier, or the camera. */
export type MoverRef = { readonly kind: 'layer' | 'carrier'; readonly id: string } | { readonly kind: 'camera' };

/** Lets a thing ride on a carrier, or on nothing. @throws RangeError when a carrier would ride on itself in the end */
export function setRidesOn(film: FilmDraft, joinId: string, ref: MoverRef, carrierId: string | null): void {
  const join = draftJoin(film, joinId);
  if (carrierId !== null && ref.kind === 'carrier' && wouldCircle(join, ref.id, carrierId))
    throw new RangeError('a carrier cannot ride on what rides on it');
  const rider =
    ref.kind === 'layer'
      ? byId(join.layers, ref.id, 'layer')
      : ref.kind === 'carrier'
        ? byId(join.carriers, ref.id, 'carrier')
        : join.camera;
  if (rider === undefined) return;
  if (carrierId === null) delete rider.ridesOn;
  else rider.ridesOn = byId(join.carriers, carrierId, 'carrier').id;
}

export function setCarrier(film: FilmDraft, joinId: string, carrierId: string, change: Partial<Omit<Carrier, 'id'>>): void {
  Object.assign(byId(draftJoin(film, joinId).carriers, carrierId, 'carrier'), change);
}

/** Gives the join a camera, or takes it away. */
export function setCamera(film: FilmDraft, joinId: string, change: Partial<Camera> | null): void {
  const join = draftJoin(film, joinId);
  if (change === null) delete join.camera;
  else join.camera = { ...STILL_CAMERA, ...join.camera, ...change } as Draft<Camera>;
}

export function setByDepth(film: FilmDraft, joinId: string, byDepth: boolean): void {
  const join = draftJoin(film, joinId);
  if (byDepth) join.byDepth = true;
  else delete join.byDepth;
}

/** Sets channels of a layer's, carrier's or camera's motion. */
export function setMotion(film: FilmDraft, joinId: string, ref: MoverRef, change: Partial<Motion>): void {
  if (ref.kind === 'camera') {
    const fits = Object.entries(change).filter(([name]) => (CAMERA_CHANNELS as readonly string[]).includes(name));
    return setCamera(film, joinId, Object.fromEntries(fits));
  }
  const join = draftJoin(film, joinId);
  const mover = ref.kind === 'layer' ? byId(join.layers, ref.id, 'layer') : byId(join.carriers, ref.id, 'carrier');
  const motion: Record<string, unknown> = { ...mover.motion };
  for (const [name, value] of Object.entries(change))
    if (value === undefined) delete motion[name];
    else motion[name] = value;
  mover.motion = motion as unknown as Draft<Motion>;
}

/** The channel of one mover; null where it has none of that name. */
export function motionChannel(join: Join, ref: MoverRef, name: MotionChannel): Channel | null {
  if (ref.kind === 'camera') return ((join.camera as Record<string, unknown> | undefined)?.[name] as Channel | undefined) ?? null;
  const mover = ref.kind === 'layer' ? join.layers.find((l) => l.id === ref.id) : join.carriers.find((c) => c.id === ref.id);
  return mover?.motion[name] ?? null;
}

/** Where effects stand in order: a layer's, a join's finish, or the film's. */
export type EffectPlace =
  | { readonly kind: 'layer'; readonly joinId: string; readonly layerId: string }
  | { readonly kind: 'join'; readonly joinId: string }
  | { readonly kind: 'film' };

export function effectsAt(film: Film, place: EffectPlace): readonly Effect[] {
  if (place.kind === 'film') return film.finish ?? [];
  const join = byId(film.joins, place.joinId, 'join');
  return place.kind === 'join' ? join.finish : byId(join.layers, place.layerId, 'layer').effects;
}

export function setEffects(film: FilmDraft, place: EffectPlace, effects: readonly Effect[]): void {
  const list = effects as Draft<Effect>[];
  if (place.kind === 'film') film.finish = list;
  else if (place.kind === 'join') draftJoin(film, place.joinId).finish = list;
  else draftLayer(film, place.joinId, place.layerId).effects = list;
}

/** What a motion says at a time, each channel as a constant: for a thing that is to stand still as it stands now. */
export const frozen = (motion: Motion, time: number): Motion => ({
  ...motion,
  ...Object.fromEntries(MOTION_CHANNELS.map((name) => [name, channelAt(motion[name], time)])),
});
