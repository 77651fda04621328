import type { Draft } from 'immer';
import { effectNamed } from '../effects/registry';
import type { Channel, Spacing } from '../motion/curve';
import { CAMERA_CHANNELS, MOTION_CHANNELS, spacingOf, type MotionChannel } from '../motion/motion';
import { sideOf, type Effect, type Layer, type ShotSide } from '../film/composition';
import { effectsAt, motionChannel, setEffects, setLayer, setMotion, type EffectPlace, type MoverRef } from '../film/edits/layers';
import type { FilmDraft } from '../film/drafts';
import { byId, MOVE_CHANNELS, type Film, type Join, type MoveChannel, type Shot } from '../film/film';
import { placeJoin, startOfShot } from '../film/timing';

/** One channel of a film, wherever it is: what a lane under the weave shows and changes. */
export type LaneTarget =
  | { readonly kind: 'motion'; readonly ref: MoverRef; readonly channel: MotionChannel; readonly withY?: boolean }
  | { readonly kind: 'opacity'; readonly layerId: string }
  | { readonly kind: 'melt'; readonly layerId: string; readonly channel: 'warp' | 'mix' }
  | { readonly kind: 'layer speed'; readonly layerId: string }
  | { readonly kind: 'shot speed'; readonly shotId: string }
  | { readonly kind: 'shot move'; readonly shotId: string; readonly channel: MoveChannel }
  | { readonly kind: 'effect'; readonly place: EffectPlace; readonly effectId: string; readonly param: string };

/** What a channel is called and how its values are counted. */
export interface LaneFacts {
  /** Whose it is, and its own name. */
  readonly owner: string;
  readonly name: string;
  readonly unit: string;
  /** What is shown for 1 of the value. */
  readonly factor: number;
  readonly step: number;
  readonly min: number;
  readonly max: number;
  readonly spacing: Spacing;
  /** Film frame that the keys are counted from. */
  readonly origin: number;
  /** The shot it belongs to; null for carriers, the camera and what is of no shot. */
  readonly side: ShotSide | null;
}

export const keyOfLane = (target: LaneTarget): string => JSON.stringify(target);

const MOTION_FACTS: Readonly<Record<MotionChannel, Pick<LaneFacts, 'name' | 'unit' | 'factor' | 'step' | 'min' | 'max'>>> = {
  x: { name: 'x', unit: 'px', factor: 1, step: 1, min: -1e6, max: 1e6 },
  y: { name: 'y', unit: 'px', factor: 1, step: 1, min: -1e6, max: 1e6 },
  depth: { name: 'depth', unit: 'px', factor: 1, step: 1, min: -1e6, max: 1e6 },
  scale: { name: 'scale', unit: '×', factor: 1, step: 0.01, min: 0, max: 1000 },
  stretch: { name: 'stretch', unit: '×', factor: 1, step: 0.01, min: 0.01, max: 100 },
  turn: { name: 'turn', unit: '°', factor: 1, step: 0.5, min: -36000, max: 36000 },
  tiltX: { name: 'tilt, level axis', unit: '°', factor: 1, step: 0.5, min: -360, max: 360 },
  tiltY: { name: 'tilt, upright axis', unit: '°', factor: 1, step: 0.5, min: -360, max: 360 },
  pivotX: { name: 'pivot x', unit: 'px', factor: 1, step: 1, min: -1e6, max: 1e6 },
  pivotY: { name: 'pivot y', unit: 'px', factor: 1, step: 1, min: -1e6, max: 1e6 },
};

const SPEED_FACTS = { unit: '×', factor: 1, step: 0.05, min: -100, max: 100, spacing: 'steps' } as const;

/** The name of what moves. */
export function moverName(join: Join, ref: MoverRef): string {
  if (ref.kind === 'camera') return 'Camera';
  return (ref.kind === 'layer' ? join.layers : join.carriers).find((m) => m.id === ref.id)?.name ?? '';
}

const layerOf = (join: Join, id: string): Layer | null => join.layers.find((l) => l.id === id) ?? null;

const sideOfLayer = (join: Join, id: string): ShotSide | null => {
  const layer = layerOf(join, id);
  return layer === null ? null : sideOf(layer);
};

/** @returns null when what the channel belongs to is gone */
export function laneFacts(film: Film, joinId: string, target: LaneTarget): LaneFacts | null {
  if (laneChannel(film, joinId, target) === null) return null;
  const placed = placeJoin(film, joinId);
  if (target.kind === 'shot speed' || target.kind === 'shot move') {
    const side: ShotSide | null =
      target.shotId === placed?.leaving.id ? 'leaving' : target.shotId === placed?.entering.id ? 'entering' : null;
    const owner = byId(film.shots, target.shotId, 'shot').name;
    const whose = { owner, origin: startOfShot(film, target.shotId), side };
    if (target.kind === 'shot speed') return { ...SPEED_FACTS, ...whose, name: 'speed' };
    const facts = MOTION_FACTS[target.channel];
    return { ...facts, ...whose, name: `${facts.name}, camera`, spacing: spacingOf(target.channel) };
  }
  if (placed === null) return null;
  const { join, cut } = placed;
  switch (target.kind) {
    case 'motion': {
      const facts = MOTION_FACTS[target.channel];
      const name = target.withY === true ? 'x, y' : facts.name;
      return {
        ...facts,
        name,
        owner: moverName(join, target.ref),
        spacing: spacingOf(target.channel),
        origin: cut,
        side: sideOfLayer(join, target.ref.kind === 'layer' ? target.ref.id : ''),
      };
    }
    case 'opacity':
    case 'melt':
      return {
        owner: layerOf(join, target.layerId)!.name,
        name: target.kind === 'opacity' ? 'opacity' : target.channel === 'warp' ? 'shapes' : 'colours',
        unit: '%',
        factor: 100,
        step: 1,
        min: 0,
        max: 1,
        spacing: 'steps',
        origin: cut,
        side: sideOfLayer(join, target.layerId),
      };
    case 'layer speed':
      return {
        ...SPEED_FACTS,
        owner: layerOf(join, target.layerId)!.name,
        name: 'speed',
        origin: cut,
        side: sideOfLayer(join, target.layerId),
      };
    case 'effect': {
      const effect = effectOf(film, target)!;
      const param = effectNamed(effect.kind).params[target.param]!;
      const { place } = target;
      const owner = place.kind === 'layer' ? layerOf(join, place.layerId)!.name : place.kind === 'join' ? 'Join' : 'Film';
      const { label, unit, min, max, step } = param;
      const name = `${effectNamed(effect.kind).name.toLowerCase()}, ${label.toLowerCase()}`;
      return {
        owner,
        name,
        unit,
        factor: 1,
        step,
        min,
        max,
        spacing: 'steps',
        origin: place.kind === 'film' ? 0 : cut,
        side: place.kind === 'layer' ? sideOfLayer(join, place.layerId) : null,
      };
    }
  }
}

function effectOf(film: Film, { place, effectId, param }: Extract<LaneTarget, { kind: 'effect' }>): Effect | null {
  if (place.kind !== 'film' && !film.joins.some((j) => j.id === place.joinId)) return null;
  if (place.kind === 'layer' && layerOf(byId(film.joins, place.joinId, 'join'), place.layerId) === null) return null;
  const effect = effectsAt(film, place).find((e) => e.id === effectId);
  return effect === undefined || effectNamed(effect.kind).params[param] === undefined ? null : effect;
}

/** @returns null when what the channel belongs to is gone */
export function laneChannel(film: Film, joinId: string, target: LaneTarget): Channel | null {
  if (target.kind === 'shot speed') return film.shots.find((s) => s.id === target.shotId)?.time?.speed ?? null;
  if (target.kind === 'shot move') return film.shots.find((s) => s.id === target.shotId)?.move?.[target.channel] ?? null;
  const join = film.joins.find((j) => j.id === joinId);
  if (join === undefined) return null;
  switch (target.kind) {
    case 'motion':
      return motionChannel(join, target.ref, target.channel);
    case 'opacity':
      return layerOf(join, target.layerId)?.opacity ?? null;
    case 'melt': {
      const source = layerOf(join, target.layerId)?.source;
      return source?.kind === 'melt' ? source[target.channel] : null;
    }
    case 'layer speed':
      return layerOf(join, target.layerId)?.time?.speed ?? null;
    case 'effect': {
      const effect = effectOf(film, target);
      return effect === null ? null : (effect.params[target.param] ?? effectNamed(effect.kind).params[target.param]!.initial);
    }
  }
}

/** Changes a channel; x and y that are kept together are changed by the same. */
export function changeLane(film: FilmDraft, joinId: string, target: LaneTarget, change: (channel: Channel) => Channel): void {
  const now = laneChannel(film, joinId, target);
  if (now === null) return;
  const next = change(now);
  switch (target.kind) {
    case 'motion': {
      const y = target.withY === true ? motionChannel(byId(film.joins, joinId, 'join'), target.ref, 'y') : null;
      return setMotion(film, joinId, target.ref, { [target.channel]: next, ...(y === null ? {} : { y: change(y) }) });
    }
    case 'opacity':
      return setLayer(film, joinId, target.layerId, { opacity: next });
    case 'melt': {
      const { source } = byId(byId<Draft<Join>>(film.joins, joinId, 'join').layers, target.layerId, 'layer');
      if (source.kind === 'melt') source[target.channel] = next as Draft<Channel>;
      return;
    }
    case 'layer speed': {
      const time = byId(byId<Draft<Join>>(film.joins, joinId, 'join').layers, target.layerId, 'layer').time;
      if (time !== undefined) time.speed = next as Draft<Channel>;
      return;
    }
    case 'shot speed': {
      const { time } = byId(film.shots, target.shotId, 'shot');
      if (time !== undefined) time.speed = next as Draft<Channel>;
      return;
    }
    case 'shot move': {
      const { move } = byId(film.shots, target.shotId, 'shot');
      if (move !== undefined) move[target.channel] = next as Draft<Channel>;
      return;
    }
    case 'effect': {
      const effects = effectsAt(film as Film, target.place).map((e) =>
        e.id === target.effectId ? { ...e, params: { ...e.params, [target.param]: next } } : e,
      );
      return setEffects(film, target.place, effects);
    }
  }
}

const isKeyed = (channel: Channel | null): boolean => typeof channel === 'object' && channel !== null;

/** The channels of a layer, a carrier or the camera that have keys, in the order of the panel; x and y as one unless they are apart. */
export function keyedLanes(join: Join, ref: MoverRef): LaneTarget[] {
  const names: readonly MotionChannel[] = ref.kind === 'camera' ? CAMERA_CHANNELS : MOTION_CHANNELS;
  const mover =
    ref.kind === 'layer' ? layerOf(join, ref.id) : ref.kind === 'carrier' ? (join.carriers.find((c) => c.id === ref.id) ?? null) : null;
  const together = mover?.motion.apart !== true && isSameTimes(motionChannel(join, ref, 'x'), motionChannel(join, ref, 'y'));
  const lanes = names
    .filter((channel) => isKeyed(motionChannel(join, ref, channel)) && !(together && channel === 'y'))
    .map((channel): LaneTarget => ({ kind: 'motion', ref, channel, ...(together && channel === 'x' ? { withY: true } : {}) }));
  if (ref.kind !== 'layer') return lanes;
  const layer = layerOf(join, ref.id);
  if (layer === null) return lanes;
  if (isKeyed(layer.opacity)) lanes.push({ kind: 'opacity', layerId: layer.id });
  if (layer.source.kind === 'melt')
    for (const channel of ['warp', 'mix'] as const) lanes.push({ kind: 'melt', layerId: layer.id, channel });
  if (layer.time !== undefined) lanes.push({ kind: 'layer speed', layerId: layer.id });
  for (const effect of layer.effects)
    for (const [param, channel] of Object.entries(effect.params))
      if (isKeyed(channel))
        lanes.push({ kind: 'effect', place: { kind: 'layer', joinId: join.id, layerId: layer.id }, effectId: effect.id, param });
  return lanes;
}

/** Whether two channels have their keys on the same frames, so that they can be changed as one. */
const isSameTimes = (a: Channel | null, b: Channel | null): boolean =>
  typeof a === 'object' &&
  typeof b === 'object' &&
  a !== null &&
  b !== null &&
  a.length === b.length &&
  a.every((k, i) => k.frame === b[i]!.frame);

/** The lanes of a shot itself: its speed, and what of its camera's movement has keys. */
export const shotLanes = ({ id, time, move }: Shot): LaneTarget[] => [
  ...(time === undefined ? [] : [{ kind: 'shot speed', shotId: id } as const]),
  ...MOVE_CHANNELS.filter((name) => isKeyed(move?.[name] ?? null)).map((channel) => ({ kind: 'shot move', shotId: id, channel }) as const),
];
