import FFT from 'fft.js';
import { boxBlur, gradients } from '../image/plane';
import { createPlane, type Plane } from '../image/pixels';
import type { Placement } from './placement';

/** Sides of the square in which pictures are laid over each other; shifts of up to half of it are told apart. */
const SIDE = 64;
const SCALES = [0.5, 0.6, 0.72, 0.85, 1, 1.18, 1.4, 1.65, 2];
const TURNS = [-0.14, 0, 0.14];
/** Pixels of the square to one of the signs' picture. */
const SHRINK = 8;

/** Shapes of one picture, transformed once for each scale, turn and side it is tried at. */
export interface ShapeVariant {
  readonly scale: number;
  readonly turn: number;
  readonly flip: boolean;
  readonly spectrum: Float64Array;
}

const transform = new FFT(SIDE);
const line = new Float64Array(2 * SIDE);
const lineOut = new Float64Array(2 * SIDE);

/** Two-dimensional transform of interleaved complex numbers, in place. */
function transformed(data: Float64Array, backwards: boolean): void {
  for (let pass = 0; pass < 2; pass++)
    for (let k = 0; k < SIDE; k++) {
      const [start, step] = pass === 0 ? [2 * SIDE * k, 2] : [2 * k, 2 * SIDE];
      for (let i = 0; i < SIDE; i++) {
        line[2 * i] = data[start + i * step]!;
        line[2 * i + 1] = data[start + i * step + 1]!;
      }
      if (backwards) transform.inverseTransform(lineOut, line);
      else transform.transform(lineOut, line);
      for (let i = 0; i < SIDE; i++) {
        data[start + i * step] = lineOut[2 * i]!;
        data[start + i * step + 1] = lineOut[2 * i + 1]!;
      }
    }
}

/** What a picture shows at an eighth of the signs' size: how strong its edges are, and how bright it is; each free of its mean and of length 1. */
export interface Shape {
  readonly edges: Plane;
  readonly light: Plane;
}

export function shapeOf(luma: Plane): Shape {
  const gx = createPlane(luma.width, luma.height);
  const gy = createPlane(luma.width, luma.height);
  const soft = createPlane(luma.width, luma.height);
  boxBlur(luma, 2, soft);
  gradients(soft, gx, gy);
  const strength = createPlane(luma.width, luma.height);
  for (let i = 0; i < strength.data.length; i++) strength.data[i] = Math.sqrt(Math.hypot(gx.data[i]!, gy.data[i]!));
  return { edges: small(strength), light: small(luma) };
}

function small(plane: Plane): Plane {
  const width = Math.floor(plane.width / SHRINK);
  const height = Math.floor(plane.height / SHRINK);
  const out = createPlane(width, height);
  for (let y = 0; y < height * SHRINK; y++)
    for (let x = 0; x < width * SHRINK; x++)
      out.data[Math.floor(y / SHRINK) * width + Math.floor(x / SHRINK)]! += plane.data[y * plane.width + x]!;
  boxBlur(out, 1, out);
  let mean = 0;
  for (const v of out.data) mean += v / out.data.length;
  let squares = 0;
  for (let i = 0; i < out.data.length; i++) squares += (out.data[i]! -= mean) ** 2;
  const scale = squares > 0 ? 1 / Math.sqrt(squares) : 0;
  for (let i = 0; i < out.data.length; i++) out.data[i]! *= scale;
  return out;
}

/** A shape in its square, transformed: edges as real numbers, light as imaginary ones, so that both are correlated at once. */
function laid({ edges, light }: Shape, scale: number, turn: number, flip: boolean): Float64Array {
  const data = new Float64Array(2 * SIDE * SIDE);
  const [c, s] = [Math.cos(turn) / scale, Math.sin(turn) / scale];
  let squares = 0;
  for (let y = 0; y < SIDE; y++)
    for (let x = 0; x < SIDE; x++) {
      const [px, py] = [x + 0.5 - SIDE / 2, y + 0.5 - SIDE / 2];
      const along = c * px + s * py;
      const u = (flip ? -along : along) + edges.width / 2;
      const v = -s * px + c * py + edges.height / 2;
      if (u < 0.5 || v < 0.5 || u > edges.width - 0.5 || v > edges.height - 0.5) continue;
      const i = Math.floor(v) * edges.width + Math.floor(u);
      const o = 2 * (y * SIDE + x);
      data[o] = edges.data[i]!;
      data[o + 1] = light.data[i]!;
      squares += data[o] * data[o] + data[o + 1]! * data[o + 1]!;
    }
  const scaleBy = squares > 0 ? 1 / Math.sqrt(squares) : 0;
  for (let i = 0; i < data.length; i++) data[i]! *= scaleBy;
  transformed(data, false);
  return data;
}

/** A shape as the one that others are laid over. */
export const groundOf = (shape: Shape): Float64Array => laid(shape, 1, 0, false);

/** A shape at every scale and turn it may be laid over another at, mirrored too. */
export const variantsOf = (shape: Shape): ShapeVariant[] =>
  [false, true].flatMap((flip) =>
    SCALES.flatMap((scale) => TURNS.map((turn) => ({ scale, turn, flip, spectrum: laid(shape, scale, turn, flip) }))),
  );

const product = new Float64Array(2 * SIDE * SIDE);

/** The placement at which the edges of two pictures lie over each other best, by correlation, in pixels of the signs' picture. */
export function coarsePlace(ground: Float64Array, variants: readonly ShapeVariant[]): { placement: Placement; likeness: number } {
  let best = -Infinity;
  let placement: Placement = { scale: 1, turn: 0, dx: 0, dy: 0, flip: false };
  for (const { scale, turn, flip, spectrum } of variants) {
    for (let i = 0; i < product.length; i += 2) {
      const [a, b, c, d] = [ground[i]!, ground[i + 1]!, spectrum[i]!, spectrum[i + 1]!];
      product[i] = a * c + b * d;
      product[i + 1] = b * c - a * d;
    }
    transformed(product, true);
    // a mirror, a large turn and a large change of size are less likely than none
    const doubt = (flip ? 0.08 : 0) + 0.03 * Math.abs(Math.log(scale)) + 0.1 * Math.abs(turn);
    for (let i = 0; i < SIDE * SIDE; i++) {
      const value = product[2 * i]! - doubt;
      if (value <= best) continue;
      best = value;
      const wrap = (k: number): number => (k < SIDE / 2 ? k : k - SIDE);
      placement = { scale, turn, flip, dx: SHRINK * wrap(i % SIDE), dy: SHRINK * wrap(Math.floor(i / SIDE)) };
    }
  }
  return { placement, likeness: best };
}
