import { createImage, shrinkImage, type Image } from '../image/image';

/** Where the crossing thing goes. */
export type Direction = 'left' | 'right' | 'up' | 'down';

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

const CHANNELS = 3;
const COARSE_WIDTH = 120;
/** Largest movement of the camera from frame to frame, pixels. */
const CAMERA_REACH = 3;
/** What a step of one pixel between neighbouring lines costs, in pixels that would be called wrongly. */
const BEND = 1.5;
/** Differences below this many levels of 255 are never taken for another thing. */
const LEAST_THRESHOLD = 9;
const FREE_SHARE = 0.03;
/** Share of the lines that must be covered, or free, for the whole frame to count as it. */
const MOST_LINES = 0.8;
/** With the shutter open for half of a frame, a blur reaches this share of a frame's movement beyond its middle. */
const BLUR_REACH = 0.2;
/** What it costs per pixel to stand elsewhere than the last steps foretell, and at most. */
const STRAY = 0.12;
const STRAY_MOST = 5;

/** One frame turned so that the thing moves left: three channels, one after the other. */
interface Turned {
  readonly width: number;
  readonly height: number;
  readonly data: Float32Array;
}

/** Turns an image so that movement in `direction` becomes movement to the left, and takes the grain off it. */
function turn({ width, height, data }: Image, direction: Direction): Turned {
  const upright = direction === 'left' || direction === 'right';
  const w = upright ? width : height;
  const h = upright ? height : width;
  const flip = direction === 'right' || direction === 'down';
  const out = new Float32Array(CHANNELS * w * h);
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      const along = flip ? w - 1 - x : x;
      const at = 4 * (upright ? y * width + along : along * width + y);
      for (let c = 0; c < CHANNELS; c++) out[c * w * h + i] = data[at + c]!;
    }
  return { width: w, height: h, data: blurred(out, w, h) };
}

/** Means of 3×3 pixels; edges repeat. */
function blurred(data: Float32Array, width: number, height: number): Float32Array {
  const out = new Float32Array(data.length);
  const size = width * height;
  for (let c = 0; c < CHANNELS; c++)
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        let sum = 0;
        for (let v = -1; v <= 1; v++) {
          const row = c * size + Math.max(0, Math.min(height - 1, y + v)) * width;
          for (let u = -1; u <= 1; u++) sum += data[row + Math.max(0, Math.min(width - 1, x + u))]!;
        }
        out[c * size + y * width + x] = sum / 9;
      }
  return out;
}

/** Mean difference per channel at one pixel, `plate` shifted by (dx, dy). */
function differenceAt(frame: Turned, plate: Turned, gain: number, x: number, y: number, dx: number, dy: number): number {
  const { width, height } = frame;
  const px = Math.max(0, Math.min(width - 1, x + dx));
  const py = Math.max(0, Math.min(height - 1, y + dy));
  const i = y * width + x;
  const j = py * width + px;
  const size = width * height;
  return (
    (Math.abs(frame.data[i]! - gain * plate.data[j]!) +
      Math.abs(frame.data[size + i]! - gain * plate.data[size + j]!) +
      Math.abs(frame.data[2 * size + i]! - gain * plate.data[2 * size + j]!)) /
    3
  );
}

interface Shift {
  readonly dx: number;
  readonly dy: number;
}

/** The camera's movement between a frame and the plate behind it, from what is free to the right of `edge`. */
function cameraShift(frame: Turned, plate: Turned, edge: Float32Array): Shift {
  const { width, height } = frame;
  let best: Shift = { dx: 0, dy: 0 };
  let least = Infinity;
  const points: number[] = [];
  for (let y = 1; y < height; y += 3)
    for (let x = Math.max(CAMERA_REACH, Math.ceil(edge[y]!) + 5); x < width - CAMERA_REACH; x += 3) points.push(y * width + x);
  if (points.length < (FREE_SHARE * width * height) / 9) return best;
  for (let dy = -CAMERA_REACH; dy <= CAMERA_REACH; dy++)
    for (let dx = -CAMERA_REACH; dx <= CAMERA_REACH; dx++) {
      let sum = 0;
      for (const i of points) sum += Math.min(30, differenceAt(frame, plate, 1, i % width, (i / width) | 0, dx, dy));
      sum *= 1 + 0.002 * (dx * dx + dy * dy); // where nothing tells, the camera stands still
      if (sum < least) [least, best] = [sum, { dx, dy }];
    }
  return best;
}

/** How much brighter the free part of a frame is than the plate behind it: the median of ratios. */
function exposureGain(frame: Turned, plate: Turned, { dx, dy }: Shift, edge: Float32Array): number {
  const { width, height } = frame;
  const ratios: number[] = [];
  for (let y = 2; y < height; y += 4)
    for (let x = Math.ceil(edge[y]!) + 5; x < width; x += 4) {
      const px = Math.max(0, Math.min(width - 1, x + dx));
      const py = Math.max(0, Math.min(height - 1, y + dy));
      const under = plate.data[width * height + py * width + px]!;
      if (under > 12) ratios.push(frame.data[width * height + y * width + x]! / under);
    }
  if (ratios.length < 20) return 1;
  ratios.sort((a, b) => a - b);
  return Math.max(0.7, Math.min(1.4, ratios[ratios.length >> 1]!));
}

const COLOUR_BITS = 3;
const COLOURS = 1 << (CHANNELS * COLOUR_BITS);

/**
 * Which colours the crossing thing has and which the free background: where both are dark, that a pixel agrees with the
 * background says little.
 */
class Colours {
  private readonly thing = new Float32Array(COLOURS).fill(0.01);
  private readonly free = new Float32Array(COLOURS).fill(0.01);
  private things = 0.01 * COLOURS;
  private frees = 0.01 * COLOURS;

  static binOf({ width, height, data }: Turned, i: number): number {
    const size = width * height;
    const down = 8 - COLOUR_BITS;
    return ((data[i]! >> down) << (2 * COLOUR_BITS)) | ((data[size + i]! >> down) << COLOUR_BITS) | (data[2 * size + i]! >> down);
  }

  /** 0..1: how much agreement with the background at a colour counts. */
  weight(bin: number): number {
    const thing = this.thing[bin]! / this.things;
    const free = this.free[bin]! / this.frees;
    return free / (free + thing);
  }

  learn(frame: Turned, signs: Float32Array, edge: Float32Array): void {
    const { width, height } = frame;
    for (let y = 0; y < height; y += 2)
      for (let x = 0; x < width; x += 2) {
        const i = y * width + x;
        const bin = Colours.binOf(frame, i);
        if (x < edge[y]! - 3 && signs[i]! > 0) [this.thing[bin], this.things] = [this.thing[bin]! + 1, this.things + 1];
        else if (x > edge[y]! + 3) [this.free[bin], this.frees] = [this.free[bin]! + 1, this.frees + 1];
      }
  }
}

/**
 * For every pixel how surely it is the crossing thing (+1) or the free background (−1): the smallest difference to the
 * plate within a pixel around, against `threshold`.
 */
function evidence(
  frame: Turned,
  plate: Turned,
  { dx, dy }: Shift,
  gain: number,
  threshold: number,
  colours: Colours,
  out: Float32Array,
): void {
  const { width, height } = frame;
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      let least = Infinity;
      for (let v = -1; v <= 1; v++)
        for (let u = -1; u <= 1; u++) least = Math.min(least, differenceAt(frame, plate, gain, x, y, dx + u, dy + v));
      const sign = Math.max(-1, Math.min(1, (least - threshold) / threshold));
      out[i] = sign < 0 ? sign * colours.weight(Colours.binOf(frame, i)) : sign;
    }
}

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

/** The plate behind the next earlier frame: what is free there is learned anew, the rest is what was known, moved along. */
function learn(frame: Turned, plate: Turned, { dx, dy }: Shift, edge: Float32Array): Turned {
  const { width, height } = frame;
  const size = width * height;
  const data = new Float32Array(plate.data.length);
  for (let y = 0; y < height; y++) {
    const row = Math.max(0, Math.min(height - 1, y + dy)) * width;
    const free = edge[y]! + 2;
    for (let x = 0; x < width; x++) {
      const j = row + Math.max(0, Math.min(width - 1, x + dx));
      const i = y * width + x;
      const fresh = x >= free ? 0.6 : 0;
      for (let c = 0; c < CHANNELS; c++)
        data[c * size + i] = plate.data[c * size + j]! + fresh * (frame.data[c * size + i]! - plate.data[c * size + j]!);
    }
  }
  return { width, height, data };
}

interface Trail {
  /** By frame, latest first. */
  readonly edges: readonly CrossingEdge[];
  /** The latest frame on which everything is covered; null when there is none. */
  readonly allCovered: number | null;
  readonly worth: number;
}

/** Goes back in time from a last frame that is free, with the plate that each frame teaches. */
function trail(frames: readonly Image[], direction: Direction): Trail {
  const last = frames.length - 1;
  let plate = turn(frames[last]!, direction);
  const { width, height } = plate;
  const signs = new Float32Array(width * height);
  let edge = new Float32Array(height);
  const before = last > 0 ? turn(frames[last - 1]!, direction) : plate;
  const threshold = noiseThreshold(plate, before);
  const edges: CrossingEdge[] = [];
  const colours = new Colours();
  let step = 0;
  let worth = 0;
  let met = false;
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
      edges.push({ frame, at: found });
      worth += value * agreement(edge, found);
      met = true;
    } else if (whole && met) return { edges, allCovered: frame, worth };
    // a thing that does not go on the way it came is none that crosses
    else if (none && met) return { edges, allCovered: null, worth };
    plate = learn(here, plate, shift, found);
    colours.learn(here, signs, found);
    const steps = Array.from(found, (e, y) => e - edge[y]!).filter((_, y) => edge[y]! > 0 && found[y]! < width);
    if (steps.length > 0) step = Math.max(0, steps.sort((a, b) => a - b)[steps.length >> 1]!);
    edge = found;
  }
  return { edges, allCovered: null, worth };
}

/** What two free frames in a row differ by, several times over. */
function noiseThreshold(a: Turned, b: Turned): number {
  const all: number[] = [];
  for (let y = 1; y < a.height; y += 3) for (let x = 1; x < a.width; x += 3) all.push(differenceAt(a, b, 1, x, y, 0, 0));
  all.sort((p, q) => p - q);
  return Math.max(LEAST_THRESHOLD, 4 * all[all.length >> 1]!);
}

/** Largest distance from the smooth curve, and the share of lines within it that make an edge a smooth one. */
const SMOOTH_REACH = 5;
const SMOOTH_SHARE = 0.7;

/**
 * Where most lines agree on a smooth curve, the others, which see nothing of the edge, take its place; a ragged edge stays
 * as it is. Lines at either end of the way say only that the edge is beyond.
 */
function straightened(at: Float32Array, across: number): Float32Array {
  const lines = Array.from(at.keys()).filter((y) => at[y]! > 0 && at[y]! < across);
  if (lines.length < 0.3 * at.length) return at;
  const middle = [...lines.map((y) => at[y]!)].sort((a, b) => a - b)[lines.length >> 1]!;
  let near = lines.filter((y) => Math.abs(at[y]! - middle) < 0.15 * across);
  let curve = fitParabola(near, at);
  for (let round = 0; round < 4; round++) {
    near = lines.filter((y) => Math.abs(at[y]! - curve(y)) < SMOOTH_REACH);
    if (near.length < SMOOTH_SHARE * lines.length) return at;
    curve = fitParabola(near, at);
  }
  return at.map((e, y) => {
    const wanted = curve(y);
    const beyond = (e <= 0 && wanted <= 0) || (e >= across && wanted >= across);
    return beyond || Math.abs(e - wanted) >= SMOOTH_REACH ? wanted : e;
  });
}

/** The parabola through `lines` of `at` by least squares. */
function fitParabola(lines: readonly number[], at: Float32Array): (y: number) => number {
  const half = at.length / 2;
  const m = [0, 0, 0, 0, 0];
  const v = [0, 0, 0];
  for (const y of lines) {
    const t = (y - half) / half;
    for (let k = 0, power = 1; k < 5; k++, power *= t) {
      m[k]! += power;
      if (k < 3) v[k]! += power * at[y]!;
    }
  }
  m[2]! += 1e-3;
  m[4]! += 1e-3 * lines.length; // hardly bent unless the lines say so
  const [a, b, c] = solve3([m[0]!, m[1]!, m[2]!, m[1]!, m[2]!, m[3]!, m[2]!, m[3]!, m[4]!], v as [number, number, number]);
  return (y) => {
    const t = (y - half) / half;
    return a + t * (b + t * c);
  };
}

/** Solves a 3×3 system, rows first, by Cramer's rule. */
function solve3(m: readonly number[], [p, q, r]: readonly [number, number, number]): [number, number, number] {
  const [a, b, c, d, e, f, g, h, i] = m as [number, number, number, number, number, number, number, number, number];
  const det = (x: number, y: number, z: number, s: number, t: number, u: number, k: number, l: number, n: number): number =>
    x * (t * n - u * l) - y * (s * n - u * k) + z * (s * l - t * k);
  const whole = det(a, b, c, d, e, f, g, h, i) || 1e-12;
  return [det(p, b, c, q, e, f, r, h, i) / whole, det(a, p, c, d, q, f, g, r, i) / whole, det(a, b, p, d, e, q, g, h, r) / whole];
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
    if (edges.length >= 2 && worth > best) [best, direction] = [worth, way];
  }
  if (direction === null) return null;
  const { edges, allCovered } = trail(frames, direction);
  if (edges.length < 2) return null;
  const steps = middleSteps(edges);
  const length = direction === 'left' || direction === 'right' ? first.width : first.height;
  const flip = direction === 'right' || direction === 'down';
  const lead = allCovered === null ? null : trail([...frames].reverse(), OPPOSITE[direction]).allCovered;
  const from = lead === null ? null : frames.length - 1 - lead;
  return {
    direction,
    edges: edges
      .map(({ frame, at }, i) => {
        const sharp = straightened(at, length).map((e) => e - BLUR_REACH * steps[i]!);
        return { frame, at: flip ? sharp.map((e) => length - e) : sharp };
      })
      .reverse(),
    covered: allCovered === null || from === null || from > allCovered ? null : { from, to: allCovered },
  };
}
