import { apply, cornersOf, depthAt, type Matrix } from '../geometry/matrix';
import type { Layer } from '../film/composition';
import type { Film, Join } from '../film/film';
import { MOTION_CHANNELS, STILL_CAMERA, SHUTTER, cameraAt, motionAt, type Motion, type Shutter } from '../motion/motion';
import { eyeDistance, placeThen, seen, undone, type Placement } from '../motion/transform';

/** Carriers ride on carriers at most so far; a document cannot hold a circle, and this ends one all the same. */
const MOST_CARRIERS = 100;

/** Where a thing of a join goes with all that carries it, at a time counted from the cut. */
function carried(join: Join, placement: Placement, ridesOn: string | undefined, time: number): Placement {
  let placed = placement;
  let id = ridesOn;
  for (let n = 0; id !== undefined && n < MOST_CARRIERS; n++) {
    const carrier = join.carriers.find((c) => c.id === id);
    if (carrier === undefined) break;
    placed = placeThen(placed, motionAt(carrier.motion, time));
    id = carrier.ridesOn;
  }
  return placed;
}

/** The map of a layer's plane, film pixels before any motion, to the frame; time may fall between frames. */
export function planeMap(film: Film, join: Join, layer: Layer, time: number, pivot: readonly [number, number] = [0, 0]): Matrix {
  const placed = carried(join, motionAt(layer.motion, time, pivot), layer.ridesOn, time);
  return lookedAt(film, join, placed, time);
}

/** Frames on which the motion of a layer, or of what carries it, jumps: the shutter does not blur over those. */
export function jumpsOf(join: Join, layer: Layer): readonly number[] {
  const jumps = new Set<number>();
  let mover: { readonly motion: Motion; readonly ridesOn?: string } | undefined = layer;
  for (let n = 0; mover !== undefined && n < MOST_CARRIERS; n++) {
    for (const name of MOTION_CHANNELS) {
      const channel = mover.motion[name];
      if (typeof channel !== 'number') channel.forEach((key, i) => channel[i - 1]?.out === 'hold' && jumps.add(key.frame));
    }
    const { ridesOn } = mover as { readonly ridesOn?: string };
    mover = ridesOn === undefined ? undefined : join.carriers.find((c) => c.id === ridesOn);
  }
  return [...jumps];
}

/** A moment while the shutter is open at `time`, kept on the side of every jump on which that is. */
export const onSide = (moment: number, time: number, jumps: readonly number[]): number =>
  jumps.reduce((at, jump) => (jump <= time ? Math.max(at, jump) : Math.min(at, jump - 1e-6)), moment);

/** The map of what rides on a carrier, film pixels, to the frame. */
export function carrierMap(film: Film, join: Join, carrierId: string, time: number): Matrix {
  const none: Placement = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0];
  return lookedAt(film, join, carried(join, none, carrierId, time), time);
}

function lookedAt(film: Film, join: Join, placed: Placement, time: number): Matrix {
  const { camera } = join;
  const distance = eyeDistance(film.width, camera?.focalMm ?? STILL_CAMERA.focalMm);
  const fromEye = camera === undefined ? placed : placeThen(placed, undone(carried(join, cameraAt(camera, time), camera.ridesOn, time)));
  return seen(fromEye, distance);
}

/** How far from the eye the middle of a layer lies, for drawing by depth. */
export const layerDepth = (film: Film, join: Join, layer: Layer, time: number): number =>
  depthAt(planeMap(film, join, layer, time), { x: 0, y: 0 });

/** Film pixels that a corner may go from one shutter sample to the next, and how many samples there are. */
const STEP_PX = 1.5;
const MOST_SAMPLES = 64;
/** A thing that moves less than this while the shutter is open stands still, film pixels. */
const STILL_PX = 0.35;

/**
 * The maps of a plane of `width` × `height` while the shutter is open on a frame; empty when nothing moves to speak of.
 * @param most samples at most: fewer while playing
 */
export function shutterSamples(
  mapAt: (time: number) => Matrix,
  time: number,
  width: number,
  height: number,
  most: number,
  { angle, phase }: Shutter = SHUTTER,
): readonly Matrix[] {
  if (angle <= 0 || most < 2) return [];
  const [opens, closes] = [time + phase / 360, time + (phase + angle) / 360];
  const travel = travelOf([mapAt(opens), mapAt((opens + closes) / 2), mapAt(closes)], width, height);
  if (travel < STILL_PX) return [];
  const count = Math.max(2, Math.min(MOST_SAMPLES, most, Math.ceil(travel / STEP_PX)));
  return Array.from({ length: count }, (_, i) => mapAt(opens + ((i + 0.5) / count) * (closes - opens)));
}

/** The longest way of a corner through these maps; of corners behind the eye, as far as they are in front. */
function travelOf(maps: readonly Matrix[], width: number, height: number): number {
  let most = 0;
  for (const corner of cornersOf(width, height)) {
    let way = 0;
    for (let i = 1; i < maps.length; i++) {
      const [from, to] = [maps[i - 1]!, maps[i]!];
      if (depthAt(from, corner) < 1e-2 || depthAt(to, corner) < 1e-2) continue;
      const [p, q] = [apply(from, corner), apply(to, corner)];
      way += Math.hypot(q.x - p.x, q.y - p.y);
    }
    most = Math.max(most, way);
  }
  return most;
}
