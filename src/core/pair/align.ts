import { solveSymmetric } from '../geometry/fit-map';
import { gradients, sampleBilinear } from '../image/plane';
import { createPlane, type Plane } from '../image/pixels';
import type { Placement } from './placement';

/** A placement found from the pictures themselves, with how alike both are there, −1..1, and how much of a is covered, 0..1. */
export interface Aligned {
  readonly placement: Placement;
  readonly likeness: number;
  readonly overlap: number;
}

const ROUNDS = 12;
/** About how many pixels are asked. */
const ASKED = 6000;
/** Differences beyond this many standard deviations count for less. */
const ROBUST = 1.2;
/** Least share of a that b must cover. */
const LEAST_OVERLAP = 0.15;

/**
 * Aligns luma plane `b` to `a` from a placement that is nearly right: Gauss–Newton steps on scale, turn and shift that make both as alike
 * as can be whatever their light and contrast (Evangelidis & Psarakis 2008), what differs in content counting less.
 */
export function alignTo(a: Plane, b: Plane, start: Placement): Aligned {
  const gx = createPlane(b.width, b.height);
  const gy = createPlane(b.width, b.height);
  gradients(b, gx, gy);
  let best: Aligned = { placement: start, ...likenessOf(a, b, start) };
  let now = start;
  for (let round = 0; round < ROUNDS; round++) {
    const next = stepped(a, b, gx, gy, now);
    if (next === null) break;
    now = next;
    const judged = likenessOf(a, b, now);
    if (judged.likeness > best.likeness) best = { placement: now, ...judged };
    else if (round > 3) break;
  }
  return best;
}

const strideFor = (a: Plane): number => Math.max(1, Math.floor(Math.sqrt((a.width * a.height) / ASKED)));

interface Samples {
  readonly count: number;
  readonly asked: number;
  readonly xs: Float32Array;
  readonly ys: Float32Array;
  readonly va: Float32Array;
  readonly vb: Float32Array;
  readonly ps: Float32Array;
  readonly qs: Float32Array;
}

/** Values of both under a placement where b covers a, every few pixels. */
function samplesOf(a: Plane, b: Plane, { scale, turn, dx, dy, flip }: Placement): Samples {
  const stride = strideFor(a);
  const room = Math.ceil(a.width / stride) * Math.ceil(a.height / stride);
  const [xs, ys, va, vb, ps, qs] = Array.from({ length: 6 }, () => new Float32Array(room)) as [
    Float32Array,
    Float32Array,
    Float32Array,
    Float32Array,
    Float32Array,
    Float32Array,
  ];
  const [c, s] = [Math.cos(turn) / scale, Math.sin(turn) / scale];
  let count = 0;
  let asked = 0;
  for (let y = 0; y < a.height; y += stride)
    for (let x = 0; x < a.width; x += stride, asked++) {
      const [px, py] = [x + 0.5 - a.width / 2 - dx, y + 0.5 - a.height / 2 - dy];
      const along = c * px + s * py;
      const q = -s * px + c * py + b.height / 2;
      const p = (flip ? -along : along) + b.width / 2;
      if (p < 0.5 || q < 0.5 || p > b.width - 0.5 || q > b.height - 0.5) continue;
      xs[count] = x + 0.5 - a.width / 2;
      ys[count] = y + 0.5 - a.height / 2;
      ps[count] = p;
      qs[count] = q;
      va[count] = a.data[y * a.width + x]!;
      vb[count] = sampleBilinear(b, p, q);
      count++;
    }
  return { count, asked, xs, ys, va, vb, ps, qs };
}

interface Light {
  readonly mean: number;
  readonly deviation: number;
}

function lightOf(values: Float32Array, count: number): Light {
  let [sum, squares] = [0, 0];
  for (let i = 0; i < count; i++) {
    sum += values[i]!;
    squares += values[i]! * values[i]!;
  }
  const mean = sum / Math.max(1, count);
  return { mean, deviation: Math.sqrt(Math.max(1e-6, squares / Math.max(1, count) - mean * mean)) };
}

/** How alike both are under a placement: their correlation where they overlap. */
export function likenessOf(a: Plane, b: Plane, placement: Placement): { readonly likeness: number; readonly overlap: number } {
  const { count, asked, va, vb } = samplesOf(a, b, placement);
  if (count < LEAST_OVERLAP * asked) return { likeness: -1, overlap: count / asked };
  const [la, lb] = [lightOf(va, count), lightOf(vb, count)];
  let sum = 0;
  for (let i = 0; i < count; i++) sum += (va[i]! - la.mean) * (vb[i]! - lb.mean);
  // flat pictures are alike by chance
  const floor = 4;
  return { likeness: sum / count / (Math.max(floor, la.deviation) * Math.max(floor, lb.deviation)), overlap: count / asked };
}

/** One step towards a better placement; null where there is none. */
function stepped(a: Plane, b: Plane, gx: Plane, gy: Plane, placement: Placement): Placement | null {
  const { scale, turn, dx, dy, flip } = placement;
  const { count, asked, xs, ys, va, vb, ps, qs } = samplesOf(a, b, placement);
  if (count < LEAST_OVERLAP * asked) return null;
  const [la, lb] = [lightOf(va, count), lightOf(vb, count)];
  const gain = la.deviation / lb.deviation;
  const [c, s] = [Math.cos(turn) / scale, Math.sin(turn) / scale];
  const matrix = new Float64Array(16);
  const right = new Float64Array(4);
  const row = new Float64Array(4);
  const most = ROBUST * la.deviation;
  for (let i = 0; i < count; i++) {
    const rest = va[i]! - la.mean - gain * (vb[i]! - lb.mean);
    const weight = 1 / (1 + (rest * rest) / (most * most));
    const slopeP = gain * sampleBilinear(gx, ps[i]!, qs[i]!) * (flip ? -1 : 1);
    const slopeQ = gain * sampleBilinear(gy, ps[i]!, qs[i]!);
    const [px, py] = [xs[i]! - dx, ys[i]! - dy];
    // how b's place moves with the logarithm of the scale, the turn and the shift
    const [u, v] = [c * px + s * py, -s * px + c * py];
    row[0] = -(slopeP * u + slopeQ * v);
    row[1] = slopeP * v - slopeQ * u;
    row[2] = -(slopeP * c - slopeQ * s);
    row[3] = -(slopeP * s + slopeQ * c);
    for (let r = 0; r < 4; r++) {
      right[r]! += weight * row[r]! * rest;
      for (let k = 0; k <= r; k++) matrix[4 * r + k]! += weight * row[r]! * row[k]!;
    }
  }
  for (let r = 0; r < 4; r++) {
    matrix[5 * r]! *= 1.001;
    for (let k = r + 1; k < 4; k++) matrix[4 * r + k] = matrix[4 * k + r]!;
  }
  if (!solveSymmetric(matrix, right, 4)) return null;
  const grown = Math.max(-0.15, Math.min(0.15, right[0]!));
  return { scale: scale * Math.exp(grown), turn: turn + right[1]!, dx: dx + right[2]!, dy: dy + right[3]!, flip };
}
