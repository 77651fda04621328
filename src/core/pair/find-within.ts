import { boxBlur, gradients, resizePlane, sampleBilinear } from '../image/plane';
import { createPlane, type Plane } from '../image/pixels';
import { IN_PLACE, placedBack, type Placement } from './placement';

/** Width at which the nearer picture is looked for, whatever its size in the wider one. */
const SOUGHT = 32;
/** How large the nearer picture may be in the wider one, and by how much the sizes that are tried differ. */
const [SMALLEST, LARGEST, STEP] = [0.1, 0.9, 1.12];
/** Pixels from one place that is tried to the next; about so many of the best all are. */
const STRIDE = 2;
const NEAR_BEST = 400;
/** Places that are looked at more closely. */
const REFINED = 6;
/** Of two places nearer to each other than this share of the sought picture only the better is. */
const APART = 0.3;

/** What is compared: which way edges go, across and down, strong ones not much more than weak ones. */
type Look = readonly [Plane, Plane];

function resized(plane: Plane, width: number, height: number): Plane {
  const out = createPlane(width, height);
  const soft = createPlane(plane.width, plane.height);
  // what a pixel of the smaller one covers
  boxBlur(plane, Math.max(0, Math.round((plane.width / width - 1) / 2)), soft);
  resizePlane(soft, out);
  return out;
}

function lookOf(plane: Plane): Look {
  const [gx, gy] = [createPlane(plane.width, plane.height), createPlane(plane.width, plane.height)];
  gradients(plane, gx, gy);
  for (let i = 0; i < gx.data.length; i++) {
    const strength = Math.sqrt(Math.hypot(gx.data[i]!, gy.data[i]!)) || 1;
    gx.data[i]! /= strength;
    gy.data[i]! /= strength;
  }
  return [gx, gy];
}

/** Values free of their mean, of length 1. */
function normalised({ width, height, data }: Plane): Plane {
  const mean = data.reduce((sum, v) => sum + v, 0) / data.length;
  const out = data.map((v) => v - mean);
  const length = Math.sqrt(out.reduce((sum, v) => sum + v * v, 0)) || 1;
  return { width, height, data: out.map((v) => v / length) };
}

/** Sums of a plane and of its squares over all that lies above and to the left. */
function sumsOf({ width, height, data }: Plane): { readonly plain: Float64Array; readonly squares: Float64Array; readonly stride: number } {
  const stride = width + 1;
  const [plain, squares] = [new Float64Array(stride * (height + 1)), new Float64Array(stride * (height + 1))];
  for (let y = 0; y < height; y++)
    for (let x = 0, row = 0, rowSquares = 0; x < width; x++) {
      const v = data[y * width + x]!;
      row += v;
      rowSquares += v * v;
      plain[(y + 1) * stride + x + 1] = plain[y * stride + x + 1]! + row;
      squares[(y + 1) * stride + x + 1] = squares[y * stride + x + 1]! + rowSquares;
    }
  return { plain, squares, stride };
}

/** The correlation of a sought picture with a ground, by the place of its upper left corner. */
function correlation(ground: Plane, sought: Plane): (x: number, y: number) => number {
  const { plain, squares, stride } = sumsOf(ground);
  const { width, height } = sought;
  return (x, y) => {
    const [above, below] = [y * stride + x, (y + height) * stride + x];
    const box = (sums: Float64Array): number => sums[below + width]! - sums[above + width]! - sums[below]! + sums[above]!;
    const spread = box(squares) - box(plain) ** 2 / (width * height);
    let sum = 0;
    for (let v = 0, o = 0; v < height; v++)
      for (let u = 0, row = (y + v) * ground.width + x; u < width; u++, o++) sum += ground.data[row + u]! * sought.data[o]!;
    // a flat place is like nothing
    return sum / Math.sqrt(Math.max(spread, width * height));
  };
}

interface Candidate {
  readonly score: number;
  readonly placement: Placement;
}

/** The places at which `near`, made smaller, is most like a part of `wide`; pixels of both at their own size. */
function candidatesOf(wide: Plane, near: Plane): readonly Candidate[] {
  const height = Math.max(2, Math.round((SOUGHT * near.height) / near.width));
  const sought = lookOf(resized(near, SOUGHT, height)).map(normalised);
  const found: Candidate[] = [];
  for (let size = SMALLEST; size <= LARGEST; size *= STEP) {
    const width = Math.round((SOUGHT * wide.width) / (size * near.width));
    const down = Math.round((width * wide.height) / wide.width);
    if (width > wide.width || width < SOUGHT || down < height) continue;
    const ground = lookOf(resized(wide, width, down));
    const [across, rows] = [width - SOUGHT + 1, down - height + 1];
    const [first, second] = [correlation(ground[0], sought[0]!), correlation(ground[1], sought[1]!)];
    const scores = new Float32Array(across * rows).fill(-1);
    const score = (x: number, y: number): void => {
      if (x < 0 || y < 0 || x >= across || y >= rows || scores[y * across + x]! > -1) return;
      scores[y * across + x] = (first(x, y) + second(x, y)) / 2;
    };
    const best = (count: number): number[] => [...scores.keys()].sort((a, b) => scores[b]! - scores[a]!).slice(0, count);
    for (let y = 0; y < rows; y += STRIDE) for (let x = 0; x < across; x += STRIDE) score(x, y);
    for (const at of best(NEAR_BEST))
      for (const dy of [-1, 0, 1]) for (const dx of [-1, 0, 1]) score((at % across) + dx, Math.floor(at / across) + dy);
    const perPixel = wide.width / width;
    const taken: { x: number; y: number }[] = [];
    for (const at of best(NEAR_BEST)) {
      const [x, y] = [at % across, Math.floor(at / across)];
      if (taken.length >= REFINED || taken.some((t) => Math.hypot(t.x - x, t.y - y) < APART * SOUGHT)) continue;
      taken.push({ x, y });
      found.push({
        score: scores[at]!,
        placement: {
          ...IN_PLACE,
          scale: (SOUGHT * perPixel) / near.width,
          dx: (x + SOUGHT / 2 - width / 2) * perPixel,
          dy: (y + height / 2 - down / 2) * perPixel,
        },
      });
    }
  }
  return found.sort((a, b) => b.score - a.score).slice(0, REFINED);
}

/** Width at which a place is refined. */
const FINE = 112;

/** What of a wider picture lies under a nearer one of `width` pixels across. */
function partUnder(wide: Plane, nearWidth: number, { scale, dx, dy }: Placement, width: number, height: number): Plane {
  const out = createPlane(width, height);
  const size = (scale * nearWidth) / width;
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++)
      out.data[i] = sampleBilinear(
        wide,
        size * (x + 0.5 - width / 2) + dx + wide.width / 2,
        size * (y + 0.5 - height / 2) + dy + wide.height / 2,
      );
  return out;
}

const alike = (a: Look, b: Look): number =>
  a.reduce((sum, plane, i) => sum + plane.data.reduce((dot, v, k) => dot + v * b[i]!.data[k]!, 0), 0) / a.length;

/** Refines a place by trying what lies about it, ever nearer. */
function refined(wide: Plane, near: Plane, { placement: start }: Candidate): Candidate {
  const height = Math.round((FINE * near.height) / near.width);
  const sought = lookOf(resized(near, FINE, height)).map(normalised) as unknown as Look;
  const judge = (placement: Placement): Candidate => ({
    placement,
    score: alike(sought, lookOf(partUnder(wide, near.width, placement, FINE, height)).map(normalised) as unknown as Look),
  });
  let best = judge(start);
  for (let step = 1; step > 0.06; step /= 2)
    for (let better = true; better;) {
      better = false;
      const { placement: p } = best;
      const shift = (2.5 * step * p.scale * near.width) / FINE;
      const grown = 1 + 0.06 * step;
      const tries: Placement[] = [
        { ...p, scale: p.scale * grown },
        { ...p, scale: p.scale / grown },
        { ...p, dx: p.dx + shift },
        { ...p, dx: p.dx - shift },
        { ...p, dy: p.dy + shift },
        { ...p, dy: p.dy - shift },
      ];
      for (const tried of tries.map(judge))
        if (tried.score > best.score + 1e-5) {
          best = tried;
          better = true;
        }
    }
  return best;
}

/** A place found, with how well the edges agree there, −1..1. */
export type Found = Candidate;

const within = (wide: Plane, near: Plane): Found | null =>
  candidatesOf(wide, near)
    .map((c) => refined(wide, near, c))
    .sort((a, b) => b.score - a.score)[0] ?? null;

/**
 * Looks for one picture as a part of the other, smaller and upright: by correlation of the directions of edges over sizes and places, then
 * refined. Luma planes of one scale. Gives how b lies over a, whichever of the two is the wider view; null for pictures that are too small.
 */
export function findWithin(a: Plane, b: Plane): Found | null {
  const [inA, inB] = [within(a, b), within(b, a)];
  if (inA === null || inB === null) return inA;
  return inA.score >= inB.score ? inA : { ...inB, placement: placedBack(inB.placement) };
}
