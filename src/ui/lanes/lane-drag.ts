import type { FilmMark } from '../../core/film/edits/marks';
import { keysOf } from '../../core/motion/key-edits';
import type { KeyChoice } from '../store/bench-state';
import type { PreviewChange } from '../store/preview';
import { frameBy } from '../weave/weave-marks';
import { handleAt, valueScale } from './lane-geometry';
import { movedBy, raisedBy, stretchedBy, withFactor, withHandle } from './lane-edits';
import type { Lane } from './use-lanes';

/** Dragging keyframes, handles and speed in lanes, as numbers: what is held, where the pointer is, what it comes to. */

/** What a drag has hold of. */
export type Hold =
  | { readonly kind: 'key'; readonly lane: Lane; readonly frame: number; readonly keys: KeyChoice }
  | { readonly kind: 'handle'; readonly lane: Lane; readonly index: number; readonly side: 'into' | 'out' }
  | { readonly kind: 'ribbon'; readonly lane: Lane; readonly time: number }
  | { readonly kind: 'stretch'; readonly end: 'from' | 'to'; readonly keys: KeyChoice }
  | { readonly kind: 'box'; readonly x: number; readonly y: number; readonly base: KeyChoice };

/** How lanes lie on the page: CSS pixels across from the first cell of the weave, down from the first lane. */
export interface LaneSpace {
  readonly joinId: string;
  readonly lanes: readonly Lane[];
  /** What keys are drawn to. */
  readonly marks: readonly FilmMark[];
  /** Width of a frame. */
  readonly cell: number;
  /** Where film frame 0 begins. */
  readonly zero: number;
}

interface Place {
  readonly x: number;
  readonly y: number;
}

/** Pixels of a sideways drag on a ribbon that double or halve its speed. */
const DOUBLE_PX = 40;
/** A drag that goes further down than this, and further than sideways, changes the value. */
const VALUE_PX = 4;

/** The film frames of the first and the last chosen key; null with fewer than two. */
export function reachOf(lanes: readonly Lane[], keys: KeyChoice): readonly [number, number] | null {
  const frames = lanes.flatMap((l) => [...(keys.get(l.key) ?? [])].map((f) => f + l.facts.origin));
  const [first, last] = [Math.min(...frames), Math.max(...frames)];
  return frames.length < 2 || first === last ? null : [first, last];
}

function chosenWith(keys: KeyChoice, laneKey: string, frame: number, adds: boolean): KeyChoice {
  const next = new Map(adds ? [...keys].map(([k, v]) => [k, new Set(v)] as const) : []);
  const own = new Set(next.get(laneKey) ?? []);
  if (adds && own.has(frame)) own.delete(frame);
  else own.add(frame);
  next.set(laneKey, own);
  return next;
}

/** The time on a lane's own clock under a place; keys lie in the middle of their cells. */
export const timeAt = ({ zero, cell }: LaneSpace, lane: Lane, px: number): number => (px - zero) / cell - 0.5 - lane.facts.origin;

/** What is taken hold of, by what the element under the pointer says of itself; `keys` is what is chosen once it is held. */
export function takeHold(
  space: LaneSpace,
  dataset: Readonly<Record<string, string | undefined>>,
  p: Place,
  adds: boolean,
  keys: KeyChoice,
): Hold | null {
  const { lanes } = space;
  if (dataset.stretch !== undefined) return { kind: 'stretch', end: dataset.stretch as 'from' | 'to', keys };
  const lane = lanes.find((l) => l.key === dataset.lane) ?? lanes.find((l) => p.y >= l.top && p.y < l.top + l.height);
  if (lane === undefined) return null;
  if (dataset.key !== undefined) {
    const at = Number(dataset.key);
    const isChosen = keys.get(lane.key)?.has(at) === true;
    const next = isChosen && !adds ? keys : chosenWith(keys, lane.key, at, adds);
    return { kind: 'key', lane, frame: at, keys: next };
  }
  if (dataset.handle !== undefined) return { kind: 'handle', lane, index: Number(dataset.index), side: dataset.handle as 'into' | 'out' };
  if (dataset.ribbon !== undefined) return { kind: 'ribbon', lane, time: timeAt(space, lane, p.x) };
  return { kind: 'box', x: p.x, y: p.y, base: adds ? keys : new Map() };
}

/** Whole frames by which a drag moves a key. */
export function framesBy({ marks, cell }: LaneSpace, held: Extract<Hold, { kind: 'key' }>, dx: number): number {
  const stands = held.frame + held.lane.facts.origin;
  return frameBy(stands + dx / cell, marks, cell) - stands;
}

/** What a drag has made of what it holds: what it is called, and the change. Null where it does nothing. */
export function changeOf(
  space: LaneSpace,
  held: Hold,
  dx: number,
  dy: number,
  p: Place,
  copies: boolean,
): readonly [string, PreviewChange] | null {
  const { joinId, lanes, cell } = space;
  switch (held.kind) {
    case 'key': {
      const by = framesBy(space, held, dx);
      const rises = held.lane.isOpen && Math.abs(dy) > VALUE_PX && Math.abs(dy) > Math.abs(dx) / 2;
      const scale = valueScale(held.lane.channel, held.lane.facts.spacing);
      const up = scale.value(0) - scale.value(dy);
      const move = movedBy(joinId, lanes, held.keys, by, copies);
      const raise = raisedBy(joinId, held.lane, held.keys, -up);
      if (!rises && by === 0) return null;
      return [
        rises ? `Raised a keyframe of ${held.lane.facts.name}` : copies ? 'Copied keyframes' : 'Moved keyframes',
        (d) => {
          if (rises) raise(d);
          if (by !== 0) move(d);
        },
      ];
    }
    case 'handle': {
      const { lane, index, side } = held;
      const scale = valueScale(lane.channel, lane.facts.spacing);
      const handle = handleAt(lane.channel, index, side, timeAt(space, lane, p.x), p.y - lane.top, scale);
      const key = keysOf(lane.channel)[index];
      return handle === null || key === undefined
        ? null
        : [`Bent ${lane.facts.name} of ${lane.facts.owner}`, withHandle(joinId, lane, key.frame, side, handle)];
    }
    case 'ribbon':
      return [
        `Speed of ${held.lane.facts.name} of ${held.lane.facts.owner}`,
        withFactor(joinId, held.lane, held.time, 2 ** (-dy / DOUBLE_PX)),
      ];
    case 'stretch': {
      const reach = reachOf(lanes, held.keys);
      if (reach === null) return null;
      const [first, last] = reach;
      const by = dx / cell;
      const factor = held.end === 'to' ? (last - first + by) / (last - first) : (last - first - by) / (last - first);
      return ['Stretched keyframes', stretchedBy(joinId, lanes, held.keys, held.end === 'to' ? first : last, Math.max(0.05, factor))];
    }
    case 'box':
      return null;
  }
}

/** The keys inside a box, beside those that were chosen before. */
export function keysWithin(space: LaneSpace, held: Extract<Hold, { kind: 'box' }>, p: Place): KeyChoice {
  const [x0, x1] = [Math.min(held.x, p.x), Math.max(held.x, p.x)];
  const [y0, y1] = [Math.min(held.y, p.y), Math.max(held.y, p.y)];
  const next = new Map([...held.base].map(([k, v]) => [k, new Set(v)]));
  for (const lane of space.lanes) {
    if (lane.top + lane.height < y0 || lane.top > y1) continue;
    const [t0, t1] = [timeAt(space, lane, x0), timeAt(space, lane, x1)];
    const found = keysOf(lane.channel).filter((k) => k.frame >= t0 && k.frame <= t1);
    if (found.length > 0) next.set(lane.key, new Set([...(next.get(lane.key) ?? []), ...found.map((k) => k.frame)]));
  }
  return next;
}
