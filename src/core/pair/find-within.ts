import { boxBlur, gradients, resizePlane, sampleBilinear } from '../image/plane';
import { createPlane, type Plane } from '../image/pixels';
import { IN_PLACE, placed, placedBack, type Placement } from './placement';

/** Width at which the nearer picture is looked for, whatever its size in the wider one. */
const SOUGHT = 32;
/** How large the nearer picture may be in the wider one, and by how much the sizes that are tried differ. */
const [SMALLEST, LARGEST, STEP] = [0.1, 0.9, 1.12];
/** Turns that are tried where an upright picture is not found so well, radians clockwise; less is found by refining. */
const TURNS = [-12, -6, 6, 12].map((degrees) => (degrees * Math.PI) / 180);
const FOUND_WELL = 0.6;
/** Of a picture that is turned, the share that has no empty corners. */
const INNER = 0.7;
/** Pixels from one place that is tried to the next; about so many of the best all are. */
const STRIDE = 2;
const NEAR_BEST = 400;
/** Places that are looked at more closely. */
const REFINED = 8;
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

/** The middle of a picture, `share` of its width, as it looks turned clockwise. */
function turnedMiddle(of: Plane, turn: number, share: number): Plane {
  const out = createPlane(Math.round(share * of.width), Math.round(share * of.height));
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  for (let y = 0, i = 0; y < out.height; y++)
    for (let x = 0; x < out.width; x++, i++) {
      const [u, v] = [x + 0.5 - out.width / 2, y + 0.5 - out.height / 2];
      out.data[i] = sampleBilinear(of, c * u + s * v + of.width / 2, c * v - s * u + of.height / 2);
    }
  return out;
}

/** The places at which `near`, made smaller and turned, is most like a part of `wide`; pixels of both at their own size. */
const candidatesOf = (wide: Plane, near: Plane, turns: readonly number[]): readonly Candidate[] =>
  turns
    .flatMap((turn) => (turn === 0 ? candidatesAt(wide, near, 0, 1) : candidatesAt(wide, turnedMiddle(near, turn, INNER), turn, INNER)))
    .sort((a, b) => b.score - a.score)
    .slice(0, REFINED);

/** The places of a picture that is turned already; sizes are those of the whole, of which it is `share`. */
function candidatesAt(wide: Plane, near: Plane, turn: number, share: number): readonly Candidate[] {
  const soughtWidth = Math.round(SOUGHT * share);
  const height = Math.max(2, Math.round((soughtWidth * near.height) / near.width));
  const sought = lookOf(resized(near, soughtWidth, height)).map(normalised);
  const found: Candidate[] = [];
  for (let size = SMALLEST; size <= LARGEST; size *= STEP) {
    const width = Math.round((soughtWidth * wide.width) / (size * near.width));
    const down = Math.round((width * wide.height) / wide.width);
    if (width > wide.width || width < soughtWidth || down < height) continue;
    const ground = lookOf(resized(wide, width, down));
    const [across, rows] = [width - soughtWidth + 1, down - height + 1];
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
      if (taken.length >= REFINED || taken.some((t) => Math.hypot(t.x - x, t.y - y) < APART * soughtWidth)) continue;
      taken.push({ x, y });
      found.push({
        score: scores[at]!,
        placement: {
          ...IN_PLACE,
          turn,
          scale: (soughtWidth * perPixel) / near.width,
          dx: (x + soughtWidth / 2 - width / 2) * perPixel,
          dy: (y + height / 2 - down / 2) * perPixel,
        },
      });
    }
  }
  return found.sort((a, b) => b.score - a.score).slice(0, REFINED);
}

/** A round of refining: the width at which it is judged, the first and the last step, and how many places go through it. */
interface Round {
  readonly across: number;
  readonly first: number;
  readonly last: number;
  readonly places: number;
}
const ROUNDS: readonly Round[] = [
  { across: 48, first: 1, last: 0.25, places: REFINED },
  { across: 112, first: 0.5, last: 0.06, places: 2 },
];

/** What of a wider picture lies under a nearer one of `width` pixels across. */
function partUnder(wide: Plane, nearWidth: number, placement: Placement, width: number, height: number): Plane {
  const out = createPlane(width, height);
  const size = nearWidth / width;
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const at = placed(placement, { x: size * (x + 0.5 - width / 2), y: size * (y + 0.5 - height / 2) });
      out.data[i] = sampleBilinear(wide, at.x + wide.width / 2, at.y + wide.height / 2);
    }
  return out;
}

const alike = (a: Look, b: Look): number =>
  a.reduce((sum, plane, i) => sum + plane.data.reduce((dot, v, k) => dot + v * b[i]!.data[k]!, 0), 0) / a.length;

/** Refines a place by trying what lies about it, ever nearer. */
function refined(wide: Plane, near: Plane, { placement: start }: Candidate, { across, first, last }: Round): Candidate {
  const height = Math.round((across * near.height) / near.width);
  const sought = lookOf(resized(near, across, height)).map(normalised) as unknown as Look;
  const judge = (placement: Placement): Candidate => ({
    placement,
    score: alike(sought, lookOf(partUnder(wide, near.width, placement, across, height)).map(normalised) as unknown as Look),
  });
  let best = judge(start);
  for (let step = first; step > last; step /= 2)
    for (let better = true; better;) {
      better = false;
      const { placement: p } = best;
      const shift = (2.5 * step * p.scale * near.width) / across;
      const grown = 1 + 0.06 * step;
      const tries: Placement[] = [
        { ...p, scale: p.scale * grown },
        { ...p, scale: p.scale / grown },
        { ...p, dx: p.dx + shift },
        { ...p, dx: p.dx - shift },
        { ...p, dy: p.dy + shift },
        { ...p, dy: p.dy - shift },
        { ...p, turn: p.turn + 0.05 * step },
        { ...p, turn: p.turn - 0.05 * step },
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

const bestOf = (found: readonly Candidate[]): readonly Candidate[] => [...found].sort((a, b) => b.score - a.score);

/** The best place at some turns, refined round by round. */
const within = (wide: Plane, near: Plane, turns: readonly number[]): Found | undefined =>
  ROUNDS.reduce<readonly Candidate[]>(
    (found, round) => bestOf(found.slice(0, round.places).map((c) => refined(wide, near, c, round))),
    candidatesOf(wide, near, turns),
  )[0];

/**
 * Looks for one picture as a part of the other, smaller and turned by up to 15°: by correlation of the directions of edges over sizes and places, then
 * refined. Luma planes of one scale. Gives how b lies over a, whichever of the two is the wider view; null for pictures that are too small.
 */
export function findWithin(a: Plane, b: Plane): Found | null {
  const either = (turns: readonly number[]): readonly Found[] => {
    const [inA, inB] = [within(a, b, turns), within(b, a, turns)];
    return [...(inA === undefined ? [] : [inA]), ...(inB === undefined ? [] : [{ ...inB, placement: placedBack(inB.placement) }])];
  };
  const [upright] = bestOf(either([0]));
  if (upright === undefined || upright.score >= FOUND_WELL) return upright ?? null;
  return bestOf([upright, ...either(TURNS)])[0]!;
}
