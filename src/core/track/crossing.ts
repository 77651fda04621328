import { createImage, type Image } from '../image/pixels';
import { shrinkImage } from '../image/image';
import { Colours, evidence } from './crossing-evidence';
import { blurOffset } from './edge-blur';
import { cameraShift, exposureGain, learnPlate, noiseThreshold } from './free-plate';
import { straightened } from './smooth-edge';
import { turn, type Direction } from './turned-frame';

/** The trailing edge on one frame. */
export interface CrossingEdge {
  readonly frame: number;
  /**
   * Where it stands on each line along the movement (a row for left and right, a column for up and down), in pixels of
   * the frames given; beyond the frame's far side while nothing is free yet, beyond the near one when all is.
   */
  readonly at: Float32Array;
}

/** Something that crosses the picture and, on its way, hides what was there before. */
export interface Crossing {
  readonly direction: Direction;
  /** Rising frames, from the first on which a part is free again to the last on which a part is still covered. */
  readonly edges: readonly CrossingEdge[];
  /** First and last frame on which it covers everything; null when it never does. */
  readonly covered: { readonly from: number; readonly to: number } | null;
}

const COARSE_WIDTH = 120;
/** What a step of one pixel between neighbouring lines costs, in pixels that would be called wrongly. */
const BEND = 1.5;
/** Share of the lines that must be covered, or free, for the whole frame to count as it. */
const MOST_LINES = 0.8;
/** Where no frame tells, a blur is taken to reach this share of a frame's movement beyond its middle, as with a shutter open for half of it. */
const BLUR_REACH = 0.2;
/** Movement from which a blur is told by its share of that, pixels a frame. */
const FAST = 3;
/** What it costs per pixel to stand elsewhere than the last steps foretell, and at most. */
const STRAY = 0.12;
const STRAY_MOST = 5;

/**
 * The edge that parts `signs` best, the thing to its left, the background to its right, and does not stray far from
 * where it is `foretold`. @returns what it is worth over calling all one thing
 */
function bestEdge(signs: Float32Array, width: number, height: number, foretold: Float32Array, out: Float32Array): number {
  const states = width + 1;
  const best = new Float32Array(states);
  const from = new Int16Array(states * height);
  const reach = new Float32Array(states);
  const origin = new Int16Array(states);
  let allThing = 0;
  for (let y = 0; y < height; y++) {
    // the best of the line before for every state here, its bend paid
    for (let e = 0; e < states; e++) [reach[e], origin[e]] = [best[e]!, e];
    if (y > 0) {
      for (let e = 1; e < states; e++) if (reach[e - 1]! - BEND > reach[e]!) [reach[e], origin[e]] = [reach[e - 1]! - BEND, origin[e - 1]!];
      for (let e = states - 2; e >= 0; e--)
        if (reach[e + 1]! - BEND > reach[e]!) [reach[e], origin[e]] = [reach[e + 1]! - BEND, origin[e + 1]!];
    }
    let total = 0;
    for (let x = 0; x < width; x++) total += signs[y * width + x]!;
    allThing += total;
    let left = 0;
    for (let e = 0; e < states; e++) {
      best[e] = reach[e]! + 2 * left - total - Math.min(STRAY_MOST, STRAY * Math.abs(e - foretold[y]!));
      from[y * states + e] = origin[e]!;
      if (e < width) left += signs[y * width + e]!;
    }
  }
  let e = 0;
  for (let k = 1; k < states; k++) if (best[k]! > best[e]!) e = k;
  const worth = best[e]! - Math.abs(allThing);
  for (let y = height - 1; y >= 0; y--) {
    out[y] = e;
    e = from[y * states + e]!;
  }
  return worth / (width * height);
}

/** An edge as it was found, with how far behind it the middle of its blur lies; null where that cannot be told. */
interface FoundEdge extends CrossingEdge {
  readonly blur: number | null;
}

interface Trail {
  /** By frame, latest first. */
  readonly edges: readonly FoundEdge[];
  /** The latest frame on which everything is covered; null when there is none. */
  readonly allCovered: number | null;
  readonly worth: number;
}

/** Goes back in time from a last frame that is free, with the plate that each frame teaches, to what crosses last. */
function trail(frames: readonly Image[], direction: Direction): Trail {
  const last = frames.length - 1;
  let plate = turn(frames[last]!, direction);
  const { width, height } = plate;
  const signs = new Float32Array(width * height);
  let edge = new Float32Array(height);
  const before = last > 0 ? turn(frames[last - 1]!, direction) : plate;
  const threshold = noiseThreshold(plate, before);
  let edges: FoundEdge[] = [];
  const colours = new Colours();
  let step = 0;
  let worth = 0;
  for (let frame = last - 1; frame >= 0; frame--) {
    const here = turn(frames[frame]!, direction);
    const shift = cameraShift(here, plate, edge);
    const gain = exposureGain(here, plate, shift, edge);
    evidence(here, plate, shift, gain, threshold, colours, signs);
    const found = new Float32Array(height);
    const foretold = edge.map((e) => (e <= 0 ? 0 : Math.min(width, e + step)));
    const value = bestEdge(signs, width, height, foretold, found);
    const whole = found.filter((e) => e >= 0.97 * width).length >= MOST_LINES * height;
    const none = found.filter((e) => e <= 0.03 * width).length >= MOST_LINES * height;
    if (!whole && !none) {
      const own = goneBy(edge, found, width);
      const blur = own === null ? null : blurOffset(here, plate, shift, gain, straightened(found, width), own);
      edges.push({ frame, at: found, blur });
      worth += value * agreement(edge, found);
    } else if (edges.length > 0) {
      if (goesAcross(edges, width)) return { edges: pass(edges), allCovered: whole ? frame : null, worth };
      // what stirs at one side and does not go on the way it came is none that crosses: further back something may
      [edges, worth] = [[], 0];
    }
    plate = learnPlate(here, plate, shift, found);
    colours.learn(here, signs, found);
    step = goneBy(edge, found, width) ?? step;
    edge = found;
  }
  return goesAcross(edges, width) ? { edges: pass(edges), allCovered: null, worth } : { edges: [], allCovered: null, worth: 0 };
}

/** How far an edge has come from one frame to the one before it, in the middle of the lines on which both are in sight; null without any. */
function goneBy(later: Float32Array, earlier: Float32Array, width: number): number | null {
  const steps = Array.from(earlier, (e, y) => e - later[y]!).filter((_, y) => later[y]! > 0 && earlier[y]! < width);
  return steps.length === 0 ? null : Math.max(0, steps.sort((a, b) => a - b)[steps.length >> 1]!);
}

const middleAt = ({ at }: CrossingEdge): number => [...at].sort((a, b) => a - b)[at.length >> 1]!;

/** Share of a pass's own speed below which an edge at the side where it leaves stands still. */
const STILL = 0.2;

/** Without the latest edges that stand where the thing left: what stirs there afterwards is none of it. Latest first, of what goes across. */
function pass(edges: readonly FoundEdge[]): readonly FoundEdge[] {
  const middles = edges.map(middleAt);
  const steps = middles.map((m, i) => (middles[i + 1] ?? m) - m);
  const speed = Math.max(...steps);
  const begins = steps.findIndex((s) => s > STILL * speed);
  return edges.slice(Math.max(0, begins));
}

/** How far each edge stands from the next later one, in the middle of its lines; the latest takes its neighbour's step. */
function middleSteps(edges: readonly CrossingEdge[]): number[] {
  const steps = edges.map(({ at }, i) => {
    const later = edges[Math.max(0, i - 1)]!.at;
    const all = Array.from(at, (e, y) => e - later[y]!).sort((a, b) => a - b);
    return Math.max(0, all[all.length >> 1]!);
  });
  steps[0] = steps[1] ?? 0;
  return steps;
}

/** How far the middle of the blur lies behind the edge, as a share of its movement in a frame: one for all, as the shutter is. */
function blurShare(edges: readonly FoundEdge[], steps: readonly number[]): number {
  const shares = edges.flatMap(({ blur }, i) => (blur === null || steps[i]! < FAST ? [] : [blur / steps[i]!])).sort((a, b) => a - b);
  return shares[shares.length >> 1] ?? BLUR_REACH;
}

/** Shares of the way across: what crosses has its edge beyond the first at some time, and short of the second at another. */
const FAR = 0.6;
const NEAR = 0.3;

/** True when the edges go through most of the picture; what only stirs at one side of it, or goes by as the camera pans, does not. */
function goesAcross(edges: readonly CrossingEdge[], length: number): boolean {
  const middles = edges.map((e) => middleAt(e) / length);
  return edges.length >= 2 && Math.max(...middles) >= FAR && Math.min(...middles) <= NEAR;
}

const OPPOSITE: Record<Direction, Direction> = { left: 'right', right: 'left', up: 'down', down: 'up' };

/** Share of the lines that go on together from one edge to the one before it in time; 0 when nothing moves. */
function agreement(later: Float32Array, earlier: Float32Array): number {
  const steps = Array.from(earlier, (e, y) => e - later[y]!);
  const middle = [...steps].sort((a, b) => a - b)[steps.length >> 1]!;
  if (middle < 0.5) return 0;
  return steps.filter((s) => Math.abs(s - middle) < 2 + 0.3 * middle).length / steps.length;
}

function shrunk(image: Image, width: number): Image {
  if (image.width <= width) return image;
  const out = createImage(width, Math.max(1, Math.round((image.height * width) / image.width)));
  shrinkImage(image, out);
  return out;
}

/**
 * Finds what crosses the picture and its trailing edge. The last of `frames` must be free of it again; they are small
 * pictures (up to about 320 pixels wide), all of one size, in order.
 *
 * Going back in time from the free end, each frame is compared with the background as the later ones have shown it,
 * the camera's own movement and exposure taken out; dynamic programming over lines finds the edge that parts what
 * agrees from what does not. All four directions are tried on smaller pictures and the best is gone through once more.
 * @returns null when nothing crosses. @throws RangeError for fewer than three frames or frames of several sizes.
 */
export function findCrossing(frames: readonly Image[]): Crossing | null {
  const [first] = frames;
  if (first === undefined || frames.length < 3) throw new RangeError('findCrossing: needs three frames or more');
  if (frames.some((f) => f.width !== first.width || f.height !== first.height))
    throw new RangeError('findCrossing: frames of several sizes');
  const small = frames.map((f) => shrunk(f, COARSE_WIDTH));
  let direction: Direction | null = null;
  let best = 0;
  for (const way of ['left', 'right', 'up', 'down'] as const) {
    const { edges, worth } = trail(small, way);
    if (edges.length > 0 && worth > best) [best, direction] = [worth, way];
  }
  if (direction === null) return null;
  const { edges, allCovered } = trail(frames, direction);
  const length = direction === 'left' || direction === 'right' ? first.width : first.height;
  if (edges.length === 0) return null;
  const steps = middleSteps(edges);
  const share = blurShare(edges, steps);
  const flip = direction === 'right' || direction === 'down';
  const lead = allCovered === null ? null : trail([...frames].reverse(), OPPOSITE[direction]).allCovered;
  const from = lead === null ? null : frames.length - 1 - lead;
  return {
    direction,
    edges: edges
      .map(({ frame, at }, i) => {
        const sharp = straightened(at, length).map((e) => e - share * steps[i]!);
        return { frame, at: flip ? sharp.map((e) => length - e) : sharp };
      })
      .reverse(),
    covered: allCovered === null || from === null || from > allCovered ? null : { from, to: allCovered },
  };
}
