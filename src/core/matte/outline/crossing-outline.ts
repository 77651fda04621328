import type { Crossing } from '../../track/crossing';
import type { Direction } from '../../track/turned-frame';
import { corner, type Outline, type OutlineKey, type OutlinePoint } from './outline';

/** Points along the edge. */
const POINTS = 7;
/** How far a keyframe left out may be from where its neighbours put the edge, as a share of the medium's longer side. */
const TOLERANCE = 0.0022;
/** How far the outline reaches beyond the frame, as a share of its side. */
const BEYOND = 0.35;
/** How far outside the frame the edge stands on the first and last keyframe, as a share of its way. */
const OUTSIDE = 0.03;

/** Mean of the edge around a place along it, read from the lines it has; extended straight beyond them. */
function edgeNear(at: Float32Array, place: number, reach: number): number {
  const line = place * at.length;
  let sum = 0;
  let weight = 0;
  for (let y = Math.max(0, Math.floor(line - reach)); y < Math.min(at.length, line + reach); y++) {
    const w = 1 - Math.abs(y + 0.5 - line) / (reach + 1);
    if (w <= 0) continue;
    sum += w * at[y]!;
    weight += w;
  }
  return weight === 0 ? at[place < 0.5 ? 0 : at.length - 1]! : sum / weight;
}

/** The edge's points on one frame, along the movement, in shares of the frame (0 its start, 1 its end). */
function edgePoints(at: Float32Array, length: number): number[] {
  return Array.from({ length: POINTS }, (_, i) => edgeNear(at, i / (POINTS - 1), at.length / POINTS) / length);
}

/** Takes out a frame's jitter: the middle of three, then their weighted mean. */
function steadied(rows: readonly (readonly number[])[]): number[][] {
  const at = (i: number, k: number): number => rows[Math.max(0, Math.min(rows.length - 1, i))]![k]!;
  const middles = rows.map((row, i) => row.map((_, k) => [at(i - 1, k), at(i, k), at(i + 1, k)].sort((a, b) => a - b)[1]!));
  // the ends have no neighbour on one side; their median would be a repetition
  if (rows.length > 1) [middles[0], middles[middles.length - 1]] = [[...rows[0]!], [...rows.at(-1)!]];
  return middles.map((row, i) =>
    i === 0 || i === middles.length - 1 ? row : row.map((v, k) => 0.25 * middles[i - 1]![k]! + 0.5 * v + 0.25 * middles[i + 1]![k]!),
  );
}

/** Frames that have to be keyframes so that straight movement between them stays within `tolerance` (shares). */
function keyFramesOf(rows: readonly (readonly number[])[], tolerance: number): number[] {
  const keep = new Set([0, rows.length - 1]);
  const split = (from: number, to: number): void => {
    let worst = tolerance;
    let at = -1;
    for (let i = from + 1; i < to; i++) {
      const t = (i - from) / (to - from);
      rows[i]!.forEach((v, k) => {
        const off = Math.abs(v - (rows[from]![k]! * (1 - t) + rows[to]![k]! * t));
        if (off > worst) [worst, at] = [off, i];
      });
    }
    if (at < 0) return;
    keep.add(at);
    split(from, at);
    split(at, to);
  };
  split(0, rows.length - 1);
  return [...keep].sort((a, b) => a - b);
}

const isUpright = (direction: Direction): boolean => direction === 'left' || direction === 'right';
/** Towards smaller coordinates. */
const goesBack = (direction: Direction): boolean => direction === 'left' || direction === 'up';

/** The outline of the hole behind an edge, out to beyond the frame. `way` is how far the edge has come on each of its points. */
function holePoints(way: readonly number[], direction: Direction, width: number, height: number): OutlinePoint[] {
  const [along, across] = isUpright(direction) ? [width, height] : [height, width];
  const place = (u: number, c: number): OutlinePoint => {
    const a = ((goesBack(direction) ? 1 - u : u) - 0.5) * along;
    const b = (c - 0.5) * across;
    const tenth = (n: number): number => Math.round(10 * n) / 10;
    return isUpright(direction) ? corner(tenth(a), tenth(b)) : corner(tenth(b), tenth(a));
  };
  const step = 1 / (POINTS - 1);
  const first = way[0]! + ((way[0]! - way[1]!) * BEYOND) / step;
  const last = way.at(-1)! + ((way.at(-1)! - way.at(-2)!) * BEYOND) / step;
  const behind = Math.min(0, first, last, ...way) - BEYOND; // behind the whole edge, or the hole would fold over itself
  return [
    place(first, -BEYOND),
    ...way.map((u, i) => place(u, i * step)),
    place(last, 1 + BEYOND),
    place(behind, 1 + BEYOND),
    place(behind, -BEYOND),
  ];
}

/**
 * The hole that a crossing thing leaves behind: a closed outline that lies outside the frame before anything is free and
 * covers the whole frame once all is, with keyframes where the edge's movement changes. Medium pixels from the centre.
 * @param lengthPx length of the crossing's frames along its movement; @param frameOffset medium frame of its frame 0
 */
export function crossingOutline(crossing: Crossing, lengthPx: number, frameOffset: number, width: number, height: number): Outline {
  const { direction, edges } = crossing;
  const places = steadied(edges.map((e) => edgePoints(e.at, lengthPx)));
  // from here on by how far the edge has come: 0 where it enters the frame, 1 where it leaves
  const ways = goesBack(direction) ? places.map((row) => row.map((v) => 1 - v)) : places;
  const began = ways[0]!;
  const ended = ways.at(-1)!;
  const few = Math.min(3, ways.length - 1);
  const speed = (from: readonly number[], to: readonly number[]): number => Math.max(0.005, (middleOf(to) - middleOf(from)) / few);
  const speedIn = speed(began, ways[few]!);
  const speedOut = speed(ways[ways.length - 1 - few]!, ended);
  const before = Math.max(0, Math.ceil((Math.max(...began) + OUTSIDE) / speedIn));
  const after = Math.max(0, Math.ceil((1 + OUTSIDE - Math.min(...ended)) / speedOut));
  const all = [
    ...Array.from({ length: before }, (_, i) => began.map((u) => u - speedIn * (before - i))),
    ...ways,
    ...Array.from({ length: after }, (_, i) => ended.map((u) => u + speedOut * (i + 1))),
  ];
  const firstFrame = frameOffset + edges[0]!.frame - before;
  const along = isUpright(direction) ? width : height;
  return {
    closed: true,
    keys: keyFramesOf(all, (TOLERANCE * Math.max(width, height)) / along).map((i): OutlineKey => ({
      frame: firstFrame + i,
      ease: 'straight',
      points: holePoints(all[i]!, direction, width, height),
    })),
  };
}

const middleOf = (row: readonly number[]): number => row[row.length >> 1]!;
