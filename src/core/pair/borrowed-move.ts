import { MOVE_CHANNELS, type MoveChannel, type Shot, type ShotMove } from '../film/film';
import type { Point } from '../geometry/matrix';
import type { Plane } from '../image/pixels';
import { channelAt, type Channel } from '../motion/curve';
import { easeBetween, easedKeys, type EaseName } from '../motion/eases';
import { fittedKeys } from '../motion/fitted-keys';
import { alignTo } from './align';
import { flowLevels, motionBetween } from './frame-signs';
import { IN_PLACE, placedBack, placedTwice, turnWithin, type Placement } from './placement';

/** From which frame of a shot to which its camera moves, counted from its first, and how it gets there. */
export interface MoveSpan {
  readonly first: number;
  readonly last: number;
  readonly ease: EaseName;
}

/** How far a camera goes: to the right and down in film pixels, nearer by a factor, turned clockwise by degrees. */
export interface MoveAmounts {
  readonly pan: number;
  readonly tilt: number;
  readonly push: number;
  readonly turn: number;
}

export const STANDING: MoveAmounts = { pan: 0, tilt: 0, push: 1, turn: 0 };

/** The movement of a camera that goes by these amounts; the picture goes the other way. */
export function moveOf({ pan, tilt, push, turn }: MoveAmounts, { first, last, ease }: MoveSpan): ShotMove {
  const way = (from: number, to: number): Channel => (from === to ? from : easedKeys(ease, [first, from], [Math.max(first + 1, last), to]));
  return { x: way(0, -pan), y: way(0, -tilt), scale: way(1, push), turn: way(0, -turn) };
}

const endsOf = (channel: Channel): readonly [number, number] =>
  typeof channel === 'number' ? [channel, channel] : [channel[0]!.value, channel[channel.length - 1]!.value];

/** How far a movement goes from its first key to its last. */
export function amountsOf({ x, y, scale, turn }: ShotMove): MoveAmounts {
  const gone = (channel: Channel): number => endsOf(channel)[0] - endsOf(channel)[1] || 0;
  const [small, large] = endsOf(scale);
  return { pan: gone(x), tilt: gone(y), push: large / small, turn: gone(turn) };
}

/** The frames a movement takes; null for one without keys. */
export function framesOf(move: ShotMove): { readonly first: number; readonly last: number } | null {
  const frames = MOVE_CHANNELS.flatMap((name) => (typeof move[name] === 'number' ? [] : move[name].map((k) => k.frame)));
  return frames.length === 0 ? null : { first: Math.min(...frames), last: Math.max(...frames) };
}

/** The frames a shot's movement takes and how it gets there; over all of a shot without one. */
export function moveSpanOf({ move, length }: Pick<Shot, 'move' | 'length'>): MoveSpan {
  const frames = move === undefined ? null : framesOf(move);
  const keyed = MOVE_CHANNELS.map((name) => move?.[name]).find((channel) => typeof channel === 'object');
  const ease = keyed?.length === 2 ? easeBetween(keyed[0]!, keyed[1]!) : null;
  return { ...(frames ?? { first: 0, last: Math.max(1, length - 1) }), ease: ease ?? 'soft both' };
}

/** Whether all of a movement goes by two keys a channel, so that an ease says it all. */
export const isPlainMove = (move: ShotMove): boolean =>
  MOVE_CHANNELS.every((name) => typeof move[name] === 'number' || move[name].length === 2);

/** The same movement, one of its amounts changed, its curve kept. */
export function withAmount(move: ShotMove, channel: MoveChannel, amount: number, span: MoveSpan): ShotMove {
  const now = move[channel];
  const [from, to] = endsOf(now);
  const goal = channel === 'scale' ? from * amount : from - amount;
  if (typeof now === 'number' || from === to) {
    const way = goal === from ? from : easedKeys(span.ease, [span.first, from], [Math.max(span.first + 1, span.last), goal]);
    return { ...move, [channel]: way };
  }
  // sizes go by factors, so that their curve is scaled in logarithms
  const share = channel === 'scale' ? Math.log(goal / from) / Math.log(to / from) : (goal - from) / (to - from);
  const scaled = (v: number): number => (channel === 'scale' ? from * (v / from) ** share : from + (v - from) * share);
  return { ...move, [channel]: now.map((k) => ({ ...k, value: scaled(k.value) })) };
}

/**
 * The movement that goes along a drawn way, film pixels from its start: as far along as the drag was, place by place, over the span with its ease. The
 * picture goes the other way than the camera.
 */
export function movedBy(move: ShotMove, way: readonly Point[], { first, last, ease }: MoveSpan): ShotMove {
  const end = way.at(-1) ?? { x: 0, y: 0 };
  const lengths = [0];
  for (let i = 1; i < way.length; i++) lengths.push(lengths[i - 1]! + Math.hypot(way[i]!.x - way[i - 1]!.x, way[i]!.y - way[i - 1]!.y));
  const whole = lengths.at(-1) ?? 0;
  const isStraight = way.every((p) => Math.abs(p.x * end.y - p.y * end.x) <= STRAIGHT_PX * Math.max(1, Math.hypot(end.x, end.y)));
  const along = (name: 'x' | 'y'): Channel => {
    if (whole === 0 || last <= first) return 0;
    if (isStraight) return easedKeys(ease, [first, 0], [last, -end[name]]);
    // the ease says how far along the way the camera is by then
    const share = easedKeys(ease, [first, 0], [last, 1]);
    const values = Array.from({ length: last - first + 1 }, (_, i) => {
      const at = channelAt(share, first + i) * whole;
      const k = Math.max(
        1,
        lengths.findIndex((l) => l >= at),
      );
      const part = (at - lengths[k - 1]!) / Math.max(1e-9, lengths[k]! - lengths[k - 1]!);
      return -(way[k - 1]![name] + part * (way[k]![name] - way[k - 1]![name]));
    });
    const tolerance = Math.max(2, whole / 60);
    return fittedKeys(values, first, { below: tolerance, above: tolerance });
  };
  return { ...move, x: along('x'), y: along('y') };
}

/** How far off the straight line between its ends a drawn way may lie to be one, film pixels. */
const STRAIGHT_PX = 6;

/** Likeness of neighbouring frames from which how they lie over each other is believed. */
const LEAST_LIKENESS = 0.5;

/** Where the content of one frame of a shot is on the next one, as its camera takes it; luma planes `SIGNS_WIDTH` wide, placed in their pixels. */
export function cameraStep(before: Plane, after: Plane): Placement {
  // the motion found is a start; the pictures themselves say it closely
  const { placement } = motionBetween(flowLevels(before), flowLevels(after));
  const step = alignTo(after, before, placement);
  return step.likeness > LEAST_LIKENESS ? step.placement : placement;
}

/** Where the first frame's content is on each, by the steps from one to the next. */
export function pathOfSteps(steps: readonly Placement[]): Placement[] {
  const path = [IN_PLACE];
  for (const step of steps) path.push(placedTwice(path[path.length - 1]!, step));
  return path;
}

/** How far a fitted curve may lie from what was found: film pixels, shares of size, degrees. */
const TOLERANCE: Readonly<Record<MoveChannel, number>> = { x: 1, y: 1, scale: 0.002, turn: 0.05 };

/**
 * The movement that takes a still picture along a path: `path` says, one film frame each, where the first one's content is by then, pixels
 * of a picture `width` wide. `standsAt` of them is the frame on which the picture is to be as it stands.
 */
export function movedAlong(path: readonly Placement[], width: number, filmWidth: number, first: number, standsAt: number): ShotMove {
  const home = placedBack(path[standsAt] ?? IN_PLACE);
  let [turned, before] = [0, 0];
  const places = path.map((p) => {
    const { scale, turn, dx, dy } = placedTwice(home, p);
    turned += turnWithin(turn - before);
    before = turn;
    return { x: (dx * filmWidth) / width, y: (dy * filmWidth) / width, scale: Math.log(scale), turn: (turned * 180) / Math.PI };
  });
  const fitted = (name: MoveChannel): Channel => {
    const tolerance = { below: TOLERANCE[name], above: TOLERANCE[name] };
    return fittedKeys(
      places.map((p) => p[name]),
      first,
      tolerance,
      name === 'scale' ? Math.exp : undefined,
    );
  };
  return { x: fitted('x'), y: fitted('y'), scale: fitted('scale'), turn: fitted('turn') };
}
