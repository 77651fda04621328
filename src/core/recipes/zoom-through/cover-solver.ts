import { clamp } from '../../geometry/clamp';
import { scaling, translation, chain, type Matrix } from '../../geometry/matrix';
import { channelAt, type Handle, type Out } from '../../motion/curve';
import type { EaseShape } from '../../motion/eases';
import type { HoleShape } from '../hole-shape';

/** A zoom about a fixed place: what lies there stays, all else goes away from it by `scale`. Film pixels from the centre. */
export interface Zoom {
  readonly scale: number;
  readonly x: number;
  readonly y: number;
}

/** A zoom as a map of the frame. */
export const zoomMap = ({ scale, x, y }: Zoom): Matrix => chain(translation(-x, -y), scaling(scale), translation(x, y));

export interface SolverSettings {
  /** Room left around, as a share. */
  readonly room: number;
  readonly entering: 'grows' | 'waits' | 'pushes on';
  readonly ease: EaseShape;
  /** Index of the frame from which on the move goes. */
  readonly start: number;
  /** Change of the logarithm of scale a frame with which it sets out: the speed it is handed over with. */
  readonly startRate: number;
  /** The place it is handed over with as the one that stays; null where it sets out by itself. */
  readonly startPivot: { readonly x: number; readonly y: number } | null;
  /** The entering shot goes on mirrored beyond its border, so that its border may be seen within the hole. */
  readonly mirrored: boolean;
  /** The shutter is open for a part of each frame: what the hole lets see while it is has to be covered all the time. */
  readonly blurred: boolean;
}

export interface ZoomSolution {
  /** A zoom of the leaving shot, and one of the entering shot, for each frame. */
  readonly leaving: readonly Zoom[];
  readonly entering: readonly Zoom[];
  /** Index of the first frame on which nothing of the leaving shot is left. */
  readonly end: number;
  readonly endScale: number;
  /** How the leaving shot's scale leaves its first key: the ease's way, or as fast as it was handed over. */
  readonly out: Out;
  /** Index of the frame on which the entering shot first has its own framing, and how fast the logarithm of its scale grew until then. */
  readonly arrives: number;
  readonly arrivalRate: number;
  /** Sentences for the user, without figures that only the film knows. */
  readonly faults: readonly SolverFault[];
}

export type SolverFault =
  | { readonly kind: 'no hole' }
  /** Frames, as indices, on which there is no hole although there is one before and after. */
  | { readonly kind: 'lost'; readonly from: number; readonly to: number }
  /** The hole is gone before the move's last frame, or nothing of it is large enough. */
  | { readonly kind: 'ends early'; readonly at: number }
  | { readonly kind: 'too small'; readonly scale: number }
  | { readonly kind: 'leaves the frame'; readonly at: number };

/** A shot enlarged more than this is said to be. */
export const MOST_ENLARGED = 16;
/** What the first size of a growing shot may be of the least that covers the hole. */
const MOST_AT_FIRST = 1.28;
/** Holes less than this share of the frame wide cannot be flown through. */
const LEAST_INNER = 1 / 200;

/**
 * The move through a hole and the place of what waits in it. The leaving shot zooms, by equal factors through the ease, about a place that never
 * leaves the frame, so that its borders stay outside; on the last frame the whole frame lies in the hole. What the hole lets see is covered by the
 * entering shot on every frame; it only grows, and ends as itself.
 * @param holes the hole on each frame, null where there is none; film pixels
 */
export function solveZoom(width: number, height: number, holes: readonly (HoleShape | null)[], settings: SolverSettings): ZoomSolution {
  const found = holes.map((h) => (h !== null && h.area > 0 ? h : null));
  const end = found.findLastIndex((h) => h !== null && h.inner.scale > LEAST_INNER);
  if (end < 0) return standing(holes.length);
  const known = filledIn(found.slice(0, end + 1));
  const last = known[end]!;
  const endScale = Math.max(1, (1 + settings.room) / last.inner.scale);
  const start = clamp(settings.start, 0, Math.max(0, end - 1));
  const { leaving, out } = moveThrough(known, start, end, endScale, width, height, settings);
  const grown = settings.entering === 'waits' ? null : growing(known, leaving, width, height, settings);
  const still: Zoom = { scale: 1, x: 0, y: 0 };
  const entering = grown?.zooms ?? leaving.map(() => still);
  const rest = holes.length - end - 1;
  return {
    leaving: [...leaving, ...Array<Zoom>(rest).fill(leaving[end]!)],
    entering: [...entering, ...Array<Zoom>(rest).fill(still)],
    end,
    endScale,
    out,
    arrives: grown?.arrives ?? 0,
    arrivalRate: grown?.rate ?? 0,
    faults: faultsOf(found, end, endScale, width, height),
  };
}

function standing(length: number): ZoomSolution {
  const still: Zoom[] = Array<Zoom>(length).fill({ scale: 1, x: 0, y: 0 });
  const faults: SolverFault[] = [{ kind: 'no hole' }];
  return { leaving: still, entering: still, end: length - 1, endScale: 1, out: 'straight', arrives: 0, arrivalRate: 0, faults };
}

/** The holes with those that are lost between others spanning both of their neighbours. */
function filledIn(holes: readonly (HoleShape | null)[]): HoleShape[] {
  return holes.map((hole, i) => {
    if (hole !== null) return hole;
    const before = holes.slice(0, i).findLast((h) => h !== null) ?? holes.find((h) => h !== null)!;
    const after = holes.slice(i).find((h) => h !== null) ?? before;
    return {
      ...before,
      left: Math.min(before.left, after.left),
      top: Math.min(before.top, after.top),
      right: Math.max(before.right, after.right),
      bottom: Math.max(before.bottom, after.bottom),
    };
  });
}

function faultsOf(holes: readonly (HoleShape | null)[], end: number, endScale: number, width: number, height: number): SolverFault[] {
  const faults: SolverFault[] = [];
  for (let i = 0; i < end; i++) {
    if (holes[i] !== null) continue;
    let to = i;
    while (to + 1 < end && holes[to + 1] === null) to++;
    faults.push({ kind: 'lost', from: i, to });
    i = to;
  }
  if (end < holes.length - 1) faults.push({ kind: 'ends early', at: end });
  if (endScale > MOST_ENLARGED) faults.push({ kind: 'too small', scale: endScale });
  const outside = holes.slice(0, end + 1).findIndex((h) => h !== null && (Math.abs(h.x) > width / 2 || Math.abs(h.y) > height / 2));
  if (outside >= 0) faults.push({ kind: 'leaves the frame', at: outside });
  return faults;
}

/** Where the place that is flown to lies on each frame, followed back from the last by the middle and the size of the hole. */
function followedBack(holes: readonly HoleShape[], end: number): { x: number; y: number }[] {
  const last = holes[end]!;
  const raw = holes.map((h) => {
    const grown = Math.sqrt(h.area / last.area);
    return { x: h.x + (last.inner.x - last.x) * grown, y: h.y + (last.inner.y - last.y) * grown };
  });
  return steadied(raw, Math.max(1, Math.round(holes.length / 12)));
}

/** Means over a few frames to both sides; over none at the ends, so that those stay exactly. */
function steadied(points: readonly { x: number; y: number }[], reach: number): { x: number; y: number }[] {
  return points.map((_, i) => {
    const r = Math.min(reach, i, points.length - 1 - i);
    const near = points.slice(i - r, i + r + 1);
    return { x: near.reduce((s, p) => s + p.x, 0) / near.length, y: near.reduce((s, p) => s + p.y, 0) / near.length };
  });
}

/** How the first key is left so that the logarithm of scale sets out by `rate` a frame. */
function handedOver(ease: EaseShape, rate: number, frames: number, endScale: number): Out {
  const way = Math.log(endScale);
  if (rate <= 0 || way <= 1e-6) return ease.out;
  return [1 / 3, clamp((rate * frames) / 3 / way, 0, 1)] satisfies Handle;
}

function moveThrough(
  holes: readonly HoleShape[],
  start: number,
  end: number,
  endScale: number,
  width: number,
  height: number,
  { ease, startRate, startPivot }: SolverSettings,
): { readonly leaving: Zoom[]; readonly out: Out } {
  const out = handedOver(ease, startRate, end - start, endScale);
  const way = Math.log(endScale);
  const shareAt = (i: number): number =>
    end === start
      ? 1
      : channelAt(
          [
            { frame: start, value: 0, into: 'straight', out },
            { frame: end, value: 1, into: ease.into, out: 'straight' },
          ],
          i,
        );
  const places = followedBack(holes, end);
  const target = places[end]!;
  // the place that stays while all else goes away from it, were the hole to stand still
  const fixed = way < 1e-3 ? { x: 0, y: 0 } : { x: (endScale * target.x) / (endScale - 1), y: (endScale * target.y) / (endScale - 1) };
  const pivots = holes.map((_, i) => {
    const share = shareAt(i);
    const scale = endScale ** share;
    // the hole's own drift is taken out as the zoom takes over
    const lead = way < 1e-3 ? 0 : 1 + (scale - 1 < 1e-6 ? 1 / way : share / (scale - 1));
    return {
      x: clamp(fixed.x + lead * (places[i]!.x - target.x), -width / 2, width / 2),
      y: clamp(fixed.y + lead * (places[i]!.y - target.y), -height / 2, height / 2),
    };
  });
  const calm = steadied(pivots, Math.max(1, Math.round(holes.length / 12))).map((p, i) => {
    if (startPivot === null) return p;
    // what was the middle of the move before is left gradually: no jump of its direction
    const t = Math.min(1, Math.max(0, i - start) / Math.max(1, 0.5 * (end - start)));
    const share = t * t * (3 - 2 * t);
    return { x: startPivot.x + share * (p.x - startPivot.x), y: startPivot.y + share * (p.y - startPivot.y) };
  });
  return { leaving: calm.map(({ x, y }, i) => ({ scale: endScale ** shareAt(i), x, y })), out };
}

interface Box {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

/** What of the frame the hole lets see, with room around it; `beyond` the frame's border too, where the hole reaches over it. */
function seenThrough(hole: HoleShape, { scale, x, y }: Zoom, width: number, height: number, room: number, beyond: boolean): Box | null {
  const [across, down] = [hole.right - hole.left, hole.bottom - hole.top];
  // half a pixel more of the shot's own: edges are drawn between pixels
  const edge = (size: number): number => Math.min(1, 0.03 * size);
  const at = (p: number, about: number): number => about + scale * (p - about);
  const [halfX, halfY] = [width / 2, height / 2];
  const box = {
    left: at(hole.left - edge(across), x),
    right: at(hole.right + edge(across), x),
    top: at(hole.top - edge(down), y),
    bottom: at(hole.bottom + edge(down), y),
  };
  if (box.left >= halfX || box.right <= -halfX || box.top >= halfY || box.bottom <= -halfY) return null;
  const [moreX, moreY] = [((box.right - box.left) * room) / 2, ((box.bottom - box.top) * room) / 2];
  if (beyond) return { left: box.left - moreX, right: box.right + moreX, top: box.top - moreY, bottom: box.bottom + moreY };
  return {
    left: Math.max(-halfX, box.left - moreX),
    right: Math.min(halfX, box.right + moreX),
    top: Math.max(-halfY, box.top - moreY),
    bottom: Math.min(halfY, box.bottom + moreY),
  };
}

/** The least scale at which the frame, zoomed about (x, y), covers a box in the frame. */
function leastScale(box: Box, x: number, y: number, width: number, height: number, most: number): number {
  const side = (from: number, to: number): number => (to > 1e-9 ? from / to : 0);
  return clamp(
    Math.max(
      side(x - box.left, x + width / 2),
      side(box.right - x, width / 2 - x),
      side(y - box.top, y + height / 2),
      side(box.bottom - y, height / 2 - y),
      1e-4,
    ),
    1e-4,
    most,
  );
}

/** The entering shot in the hole: just covering it at first, growing with it, itself in the end. */
function growing(
  holes: readonly HoleShape[],
  leaving: readonly Zoom[],
  width: number,
  height: number,
  { room, entering, mirrored, blurred }: SolverSettings,
): { readonly zooms: Zoom[]; readonly arrives: number; readonly rate: number } {
  const boxes = holes.map((hole, i) => seenThrough(hole, leaving[i]!, width, height, room, false));
  const first = boxes.find((b) => b !== null) ?? { left: -1, right: 1, top: -1, bottom: 1 };
  // what comes to its own framing at full speed must not know that it will stop there
  const lands = entering === 'grows';
  const wanted = lands ? boxes : holes.map((hole, i) => seenThrough(hole, leaving[i]!, width, height, room, true));
  const size = Math.min(1, Math.max((first.right - first.left) / width, (first.bottom - first.top) / height));
  const rest = 1 - size;
  const centre = (from: number, to: number, whole: number): number => clamp((from + to) / 2, (-rest * whole) / 2, (rest * whole) / 2);
  const x = rest < 1e-6 ? 0 : centre(first.left, first.right, width) / rest;
  const y = rest < 1e-6 ? 0 : centre(first.top, first.bottom, height) / rest;
  let most = -Infinity;
  const needed = wanted.map(
    (b) => (most = Math.max(most, b === null ? -Infinity : Math.log(leastScale(b, x, y, width, height, lands ? 1 : 1e3)))),
  );
  const now = needed.map((v) => (v === -Infinity ? Math.log(size) : v));
  // a frame ahead, so that it covers at its opening what the hole lets see at its closing
  const least = blurred
    ? now.map((v, i) => Math.max(v, Math.min(now[i + 1] ?? v, i === 0 ? v + Math.log(MOST_AT_FIRST) / 2 : Infinity)))
    : now;
  const soft = lands && !mirrored ? Math.max(1, holes.length / 6) : 1;
  const free = smoothAbove(smoothAbove(least, soft), soft);
  const arrives = free.findIndex((v) => v > -1e-6);
  const rate = arrives > 0 ? free[arrives]! - free[arrives - 1]! : 0;
  const logs = free.map((v) => Math.min(0, v));
  return { zooms: logs.map((v) => ({ scale: Math.exp(v), x, y })), arrives: Math.max(0, arrives), rate };
}

/**
 * A rising row of numbers made smooth without ever falling below itself: each is the mean of itself and those that follow, over a stretch that is
 * short at first, so that the first is hardly raised, and grows slowly to `reach`.
 */
function smoothAbove(values: readonly number[], reach: number): number[] {
  const first = values[0] ?? 0;
  const at = (i: number): number => values[Math.min(i, values.length - 1)]!;
  const mean = (i: number, ahead: number): number => {
    const whole = Math.floor(ahead);
    let sum = 0;
    for (let k = 0; k <= whole; k++) sum += at(i + k);
    return (sum + (ahead - whole) * at(i + whole + 1)) / (1 + ahead);
  };
  let begin = reach;
  while (begin > 0 && mean(0, begin) - first > Math.log(MOST_AT_FIRST) / 4) begin = Math.max(0, begin - 0.5);
  const grown = 0.6 * values.length;
  return values.map((_, i) => {
    const t = Math.min(1, i / grown);
    return mean(i, begin + (reach - begin) * t * t * (3 - 2 * t));
  });
}
