import type { Point } from '../geometry/matrix';
import { alignTo } from './align';
import { mirroredPlane } from './align-pictures';
import { coarsePlace, groundOf, shapeOf, variantsOf } from './coarse-place';
import { pathOf, planeAt, SIGNS_WIDTH, type FrameSigns } from './frame-signs';
import { agreeOn, keypointsOf, type Keypoint } from './keypoints';
import { placed, placedBack, placedTwice, turnWithin, type Placement } from './placement';

/** What a pair of frames is judged by. */
export const MATCH_PARTS = ['look', 'shape', 'motion', 'direction', 'interest'] as const;
export type MatchPart = (typeof MATCH_PARTS)[number];
export type MatchWeights = Readonly<Record<MatchPart, number>>;

export const PLAIN_WEIGHTS: MatchWeights = { look: 1, shape: 1, motion: 0.5, direction: 0.5, interest: 0 };

/** All frames of one shot against all of another: a number 0..255 for each part, row by row, a row for each frame of a. */
export interface MatchMap {
  readonly rows: number;
  readonly columns: number;
  readonly parts: Readonly<Record<MatchPart, Uint8Array<ArrayBuffer>>>;
  /** How b lies over a, found on a grid of pairs: the first frames of each, and in pixels of the signs' pictures. */
  readonly anchors: readonly Anchor[];
  /** Where the content of each frame lies in the first frame of its shot. */
  readonly pathA: readonly Placement[];
  readonly pathB: readonly Placement[];
}

export interface Anchor {
  readonly row: number;
  readonly column: number;
  readonly placement: Placement;
  /** How sure it is, 0..1. */
  readonly trust: number;
}

/** Frames of each shot that are laid over each other thoroughly. */
const SAMPLES = 14;
/** Keypoints that make an anchor as sure as can be. */
const SURE_COUNT = 40;
/** Trust of what only edges tell. */
const BY_EDGES = 0.25;
/** Width at which anchors are made exact. */
const ALIGN_WIDTH = 160;

const sampled = (length: number): number[] => {
  const count = Math.min(length, SAMPLES);
  return [...new Set(Array.from({ length: count }, (_, i) => Math.round(((i + 0.5) * length) / count - 0.5)))];
};

/** Frames of both shots as they are compared. */
export interface MapInput {
  readonly a: readonly FrameSigns[];
  readonly b: readonly FrameSigns[];
}

/**
 * Compares all frames of two shots. Pairs on a coarse grid are laid over each other by keypoints, or by their edges where too few
 * agree; between them the shots' own movement tells how. Every pair is then compared as it lies: colours, edges, how both move. A
 * generator, so that it can be stopped: gives the share that is done.
 */
export function* matchMap({ a, b }: MapInput): Generator<number, MatchMap> {
  const [rows, columns] = [a.length, b.length];
  const anchors = yield* anchorsOf(a, b);
  const parts = Object.fromEntries(MATCH_PARTS.map((p) => [p, new Uint8Array(rows * columns)])) as MatchMap['parts'];
  const [pathA, pathB] = [pathOf(a), pathOf(b)];
  const smallA = a.map(smallSigns);
  const smallB = b.map(smallSigns);
  for (let row = 0; row < rows; row++) {
    for (let column = 0; column < columns; column++) {
      const i = row * columns + column;
      const anchor = nearestAnchor(anchors, row, column);
      if (anchor === null) continue;
      const placement = carriedPlacement(anchor, row, column, pathA, pathB);
      const { look, shape } = compared(smallA[row]!, smallB[column]!, placement, a[row]!.luma.width / a[row]!.small.width);
      parts.look[i] = Math.round(255 * look);
      parts.shape[i] = Math.round(255 * shape);
      const moves = motionAlike(a[row]!, b[column]!, placement);
      parts.motion[i] = Math.round(255 * moves.motion);
      parts.direction[i] = Math.round(255 * moves.direction);
    }
    if (row % 4 === 3) yield 0.5 + (0.5 * row) / rows;
  }
  return { rows, columns, parts, anchors, pathA, pathB };
}

function* anchorsOf(a: readonly FrameSigns[], b: readonly FrameSigns[]): Generator<number, Anchor[]> {
  const [rows, columns] = [sampled(a.length), sampled(b.length)];
  const pointsA: Keypoint[][] = [];
  for (const row of rows) {
    pointsA.push(keypointsOf(a[row]!.luma));
    yield (0.1 * pointsA.length) / rows.length;
  }
  const anchors: Anchor[] = [];
  const lacking: { row: number; column: number }[] = [];
  for (const [k, column] of columns.entries()) {
    const { luma } = b[column]!;
    const plain = keypointsOf(luma);
    const flipped = keypointsOf(mirroredPlane(luma));
    for (const [j, row] of rows.entries()) {
      const found = [agreeOn(pointsA[j]!, plain, false), agreeOn(pointsA[j]!, flipped, true)]
        .filter((f) => f !== null)
        .sort((x, y) => y.count - x.count)[0];
      if (found === undefined) lacking.push({ row, column });
      else anchors.push({ row, column, placement: found.placement, trust: Math.min(1, found.count / SURE_COUNT) });
    }
    yield 0.1 + (0.25 * (k + 1)) / columns.length;
  }
  // without enough that looks the same, edges tell: as many pairs as there is time for
  if (anchors.length === 0) {
    const few = (list: readonly number[]): number[] => list.filter((_, i) => i % 2 === 0);
    const grounds = new Map(few(rows).map((row) => [row, groundOf(shapeOf(a[row]!.luma))]));
    const done = few(columns);
    for (const [k, column] of done.entries()) {
      const variants = variantsOf(shapeOf(b[column]!.luma));
      for (const [row, ground] of grounds) {
        const { placement } = coarsePlace(ground, variants);
        const [pa, pb] = [planeAt(a[row]!.luma, ALIGN_WIDTH), planeAt(b[column]!.luma, ALIGN_WIDTH)];
        const half = { ...placement, dx: placement.dx / 2, dy: placement.dy / 2 };
        const fine = alignTo(pa, pb, half);
        const kept = isNear(fine.placement, half) ? { ...fine.placement, dx: 2 * fine.placement.dx, dy: 2 * fine.placement.dy } : placement;
        anchors.push({ row, column, placement: kept, trust: BY_EDGES });
      }
      yield 0.35 + (0.15 * (k + 1)) / done.length;
    }
  }
  return anchors;
}

const isNear = (p: Placement, q: Placement): boolean =>
  Math.abs(Math.log(p.scale / q.scale)) < 0.25 && Math.abs(turnWithin(p.turn - q.turn)) < 0.2 && Math.hypot(p.dx - q.dx, p.dy - q.dy) < 24;

/** How far an anchor may be surer than a nearer one, in frames for all the trust there is. */
const TRUST_FRAMES = 30;

function nearestAnchor(anchors: readonly Anchor[], row: number, column: number): Anchor | null {
  let best: Anchor | null = null;
  let least = Infinity;
  for (const anchor of anchors) {
    const away = Math.abs(anchor.row - row) + Math.abs(anchor.column - column) + TRUST_FRAMES * (1 - anchor.trust);
    if (away >= least) continue;
    least = away;
    best = anchor;
  }
  return best;
}

/** An anchor's placement taken to another pair by how each shot moves from frame to frame. */
function carriedPlacement(
  { row, column, placement }: Anchor,
  toRow: number,
  toColumn: number,
  pathA: readonly Placement[],
  pathB: readonly Placement[],
): Placement {
  const ofB = toColumn === column ? placement : placedTwice(placedTwice(placedBack(pathB[toColumn]!), pathB[column]!), placement);
  return toRow === row ? ofB : placedTwice(ofB, placedTwice(placedBack(pathA[row]!), pathA[toRow]!));
}

interface SmallSigns {
  readonly width: number;
  readonly height: number;
  readonly rgba: Uint8ClampedArray<ArrayBufferLike>;
  /** Slopes of the luma. */
  readonly gx: Float32Array;
  readonly gy: Float32Array;
}

function smallSigns({ small, smallLuma }: FrameSigns): SmallSigns {
  const { width, height } = small;
  const [gx, gy] = [new Float32Array(width * height), new Float32Array(width * height)];
  const { data } = smallLuma;
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++) {
      const i = y * width + x;
      gx[i] = data[i + 1]! - data[i - 1]!;
      gy[i] = data[i + width]! - data[i - width]!;
    }
  return { width, height, rgba: small.data, gx, gy };
}

/** Mean difference of a channel at which two pictures look half alike. */
const HALF_LOOK = 22;

let kept = new Int32Array(0);

/** Room for so many numbers, the same every time: every pair of frames is compared in it. */
function room(count: number): Int32Array {
  if (kept.length < count) kept = new Int32Array(count);
  return kept;
}

/** How alike two small pictures are as one lies over the other, 0..1 each; what is not covered counts as unlike. */
function compared(a: SmallSigns, b: SmallSigns, { scale, turn, dx, dy, flip }: Placement, shrink: number): { look: number; shape: number } {
  const [c, s] = [Math.cos(turn) / scale, Math.sin(turn) / scale];
  const [cosine, sine] = [Math.cos(turn), Math.sin(turn)];
  const mirror = flip ? -1 : 1;
  const [sx, sy] = [dx / shrink, dy / shrink];
  let [count, asked, differs, along, squaresA, squaresB] = [0, 0, 0, 0, 0, 0];
  const means = [0, 0, 0, 0, 0, 0];
  const met = room(2 * a.width * a.height);
  for (let y = 0; y < a.height; y++)
    for (let x = 0; x < a.width; x++, asked++) {
      const [px, py] = [x + 0.5 - a.width / 2 - sx, y + 0.5 - a.height / 2 - sy];
      const u = mirror * (c * px + s * py) + b.width / 2;
      const v = -s * px + c * py + b.height / 2;
      if (u < 0 || v < 0 || u >= b.width || v >= b.height) continue;
      const i = y * a.width + x;
      const j = Math.floor(v) * b.width + Math.floor(u);
      for (let k = 0; k < 3; k++) {
        means[k]! += a.rgba[4 * i + k]!;
        means[k + 3]! += b.rgba[4 * j + k]!;
      }
      met[2 * count] = i;
      met[2 * count + 1] = j;
      const [ax, ay] = [a.gx[i]!, a.gy[i]!];
      const [bx, by] = [cosine * mirror * b.gx[j]! - sine * b.gy[j]!, sine * mirror * b.gx[j]! + cosine * b.gy[j]!];
      along += Math.abs(ax * bx + ay * by);
      squaresA += ax * ax + ay * ay;
      squaresB += bx * bx + by * by;
      count++;
    }
  if (count === 0) return { look: 0, shape: 0 };
  // half of a difference in overall colour is forgiven: light can be matched, content cannot
  const shift = [0, 1, 2].map((k) => (0.5 * (means[k]! - means[k + 3]!)) / count) as [number, number, number];
  for (let n = 0; n < count; n++) {
    const [i, j] = [4 * met[2 * n]!, 4 * met[2 * n + 1]!];
    for (let k = 0; k < 3; k++) differs += Math.abs(a.rgba[i + k]! - b.rgba[j + k]! - shift[k]!);
  }
  const covered = Math.min(1, count / asked);
  const mean = differs / (3 * count);
  const look = Math.exp((-mean / HALF_LOOK) * Math.LN2);
  const shape = squaresA > 0 && squaresB > 0 ? along / Math.sqrt(squaresA * squaresB) : 0;
  return { look: look * covered, shape: shape * covered };
}

/** Pixels a frame at which a difference in motion halves the likeness, beside a third of the motion itself. */
const HALF_MOTION = 2;
/** Motion under which a direction says nothing, pixels a frame. */
const STILL = 0.4;

function motionAlike(
  { motion: a }: FrameSigns,
  { motion: b }: FrameSigns,
  { scale, turn, flip }: Placement,
): Record<'motion' | 'direction', number> {
  const mean = placed({ scale, turn, dx: 0, dy: 0, flip }, { x: b.u, y: b.v });
  const strengthB = b.strength * scale;
  const size = Math.max(a.strength, strengthB);
  const away = Math.hypot(mean.x - a.u, mean.y - a.v) + Math.abs(strengthB - a.strength);
  const motion = 1 / (1 + away / (HALF_MOTION + size / 3));
  const [la, lb] = [Math.hypot(a.u, a.v), Math.hypot(mean.x, mean.y)];
  const along = la > 0 && lb > 0 ? (a.u * mean.x + a.v * mean.y) / (la * lb) : 0;
  const told = Math.min(1, la / STILL) * Math.min(1, lb / STILL);
  return { motion, direction: 0.5 + 0.5 * along * told };
}

/** Where the eye is on a frame of a shot, from the centre, in pixels of the signs' pictures; null where that is not marked. */
export type Interest = (index: number) => Point | null;

/** The map with how near both shots' places of interest come to each other in each pair. */
export function withInterest(map: MatchMap, a: Interest, b: Interest): MatchMap {
  const interest = new Uint8Array(map.rows * map.columns);
  for (let row = 0; row < map.rows; row++) {
    const p = a(row);
    if (p === null) continue;
    for (let column = 0; column < map.columns; column++) {
      const q = b(column);
      const placement = q === null ? null : placementAt(map, row, column);
      if (q === null || placement === null) continue;
      const to = placed(placement, q);
      interest[row * map.columns + column] = Math.round(255 * Math.exp(-Math.hypot(to.x - p.x, to.y - p.y) / (0.12 * SIGNS_WIDTH)));
    }
  }
  return { ...map, parts: { ...map.parts, interest } };
}

/** The whole score of each pair under these weights, 0..1. */
export function scoresOf({ parts, rows, columns }: MatchMap, weights: MatchWeights): Float32Array {
  const out = new Float32Array(rows * columns);
  const total = MATCH_PARTS.reduce((sum, p) => sum + weights[p], 0);
  if (total <= 0) return out;
  for (const part of MATCH_PARTS) {
    const weight = weights[part] / total / 255;
    if (weight === 0) continue;
    const values = parts[part];
    for (let i = 0; i < out.length; i++) out[i]! += weight * values[i]!;
  }
  return out;
}

export interface MatchedPair {
  readonly row: number;
  readonly column: number;
  readonly score: number;
}

/** Frames by which pairs keep apart along both shots. */
const APART = 8;

/** The best pairs of a map, apart from each other, best first. */
export function bestPairs(map: MatchMap, scores: Float32Array, most = 12): MatchedPair[] {
  const { rows, columns } = map;
  const order = [...scores.keys()].sort((x, y) => scores[y]! - scores[x]!);
  const found: MatchedPair[] = [];
  for (const i of order) {
    const [row, column] = [Math.floor(i / columns), i % columns];
    if (row >= rows || found.some((f) => Math.abs(f.row - row) < APART && Math.abs(f.column - column) < APART)) continue;
    found.push({ row, column, score: scores[i]! });
    if (found.length === most) break;
  }
  return found;
}

/** The placement of b over a at a pair, from the anchors, before it is made exact. */
export function placementAt(map: MatchMap, row: number, column: number): Placement | null {
  const anchor = nearestAnchor(map.anchors, row, column);
  return anchor === null ? null : carriedPlacement(anchor, row, column, map.pathA, map.pathB);
}

/** Sizes at which one picture may lie over another to be a cut. */
const SIZES = [0.4, 2.5] as const;
/** How alike both have to be as they lie, by edges and light, of which unlike photographs reach 0.4 by chance; and by colours or by shape. */
const LEAST_ALIKE = 0.5;
const LEAST_SEEN = 0.35;

/** Whether a pair could be a cut: both pictures are alike, not only in how they move, and neither is made tiny or huge. */
export function isCut({ parts, columns }: MatchMap, { row, column, placement: { scale }, likeness }: ExactPair): boolean {
  const i = row * columns + column;
  const seen = Math.max(parts.look[i]!, parts.shape[i]!) / 255;
  return likeness >= LEAST_ALIKE && seen >= LEAST_SEEN && scale >= SIZES[0] && scale <= SIZES[1];
}

/** Steps, in frames, by which the pictures themselves choose among the pairs around one, and how often at most. */
const STEPS = [6, 2, 1];
const MOST_STEPS = 12;

/** What covering all of the other picture, and moving alike, count beside how alike two pictures are. */
const COVERS = 0.2;
const MOVES = 0.02;

/** A pair made exact. */
export interface ExactPair {
  readonly row: number;
  readonly column: number;
  readonly placement: Placement;
  /** How alike both pictures are as they lie, −1..1. */
  readonly likeness: number;
  /** By which pairs are ranked: likeness, how much is covered, and how alike both move. */
  readonly worth: number;
}

/**
 * Makes a pair exact: of the pairs around it the one whose pictures lie over each other best and move alike, with its placement in the
 * signs' pixels. @throws RangeError when nothing tells how these shots lie over each other
 */
function refinePair(
  map: MatchMap,
  a: readonly FrameSigns[],
  b: readonly FrameSigns[],
  pair: Pick<MatchedPair, 'row' | 'column'>,
): ExactPair {
  const start = placementAt(map, pair.row, pair.column);
  if (start === null) throw new RangeError('refinePair: nothing tells how these shots lie over each other');
  const judged = (row: number, column: number, from: Placement): ExactPair => {
    const { placement, likeness, overlap } = alignTo(a[row]!.luma, b[column]!.luma, from);
    const i = row * map.columns + column;
    const moves = (map.parts.motion[i]! + map.parts.direction[i]!) / 510;
    return { row, column, placement, likeness, worth: likeness * (1 - COVERS + COVERS * overlap) + MOVES * moves };
  };
  let best = judged(pair.row, pair.column, start);
  // which frame of b goes with this one of a
  for (const step of STEPS)
    for (let n = 0; n < MOST_STEPS; n++) {
      const { column } = best;
      for (const by of [-step, step]) {
        if (b[column + by] === undefined) continue;
        const found = judged(pair.row, column + by, best.placement);
        if (found.worth > best.worth + 1e-4) best = found;
      }
      if (best.column === column) break;
    }
  return best;
}

/** The best pairs of a map made exact, those whose pictures lie over each other best first; a pair that two led to is told once. */
export function exactPairs(map: MatchMap, a: readonly FrameSigns[], b: readonly FrameSigns[]): readonly ExactPair[] {
  const refined = bestPairs(map, scoresOf(map, PLAIN_WEIGHTS)).map((pair) => refinePair(map, a, b, pair));
  return [...new Map(refined.map((p) => [`${p.row} ${p.column}`, p])).values()].sort((p, q) => q.worth - p.worth);
}
