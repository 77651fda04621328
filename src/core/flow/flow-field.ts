import type { Pointer } from '../kernels/kernel-exports';
import { beginCall, kernels, NOTHING, putDoubles, reserve, takeDoubles } from '../kernels/kernels';
import { putEmptyField, putField, takeMotion, type FlowField } from './field';

/** Cells of a grid or pixels of a picture: first, and one past the last. */
export interface Region {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

/** A field of the cells in `region` that stands still. */
export function emptyField({ left, top, right, bottom }: Region, step: number): FlowField {
  const [width, height] = [right - left, bottom - top];
  const n = width * height;
  return { left, top, width, height, step, u: new Float32Array(n), v: new Float32Array(n), trust: new Float32Array(n) };
}

type Numbers = Float32Array<ArrayBuffer>;

/** A field of the same cells with another motion. Spelt out: objects that are all made alike keep the loops over them fast. */
export function withMotion({ left, top, width, height, step }: FlowField, u: Numbers, v: Numbers, trust: Numbers): FlowField {
  return { left, top, width, height, step, u, v, trust };
}

/** Flow at full-size position (x, y), bilinear. Writes u and v to `out`. */
export function flowAt(field: FlowField, x: number, y: number, out: Float64Array): void {
  const { width, height, step, u, v } = field;
  const px = clamp(x / step - 0.5 - field.left, width - 1);
  const py = clamp(y / step - 0.5 - field.top, height - 1);
  const left = px | 0;
  const top = py | 0;
  const right = left + 1 < width ? 1 : 0;
  const below = top + 1 < height ? width : 0;
  const fx = px - left;
  const fy = py - top;
  const i = top * width + left;
  const a = (1 - fx) * (1 - fy);
  const b = fx * (1 - fy);
  const c = (1 - fx) * fy;
  const d = fx * fy;
  out[0] = a * u[i]! + b * u[i + right]! + c * u[i + below]! + d * u[i + below + right]!;
  out[1] = a * v[i]! + b * v[i + right]! + c * v[i + below]! + d * v[i + below + right]!;
}

/** Flow at the centres of the pixels from (left, row) on, as many as `u` and `v` hold, which it is written to. */
export function flowAlongRow(field: FlowField, left: number, row: number, u: Float32Array, v: Float32Array): void {
  const { width, height, step, u: fromU, v: fromV } = field;
  const inverse = 1 / step;
  const py = clamp((row + 0.5) * inverse - 0.5 - field.top, height - 1);
  const upper = (py | 0) * width;
  const lower = (py | 0) + 1 < height ? upper + width : upper;
  const fy = py - (py | 0);
  const start = (left + 0.5) * inverse - 0.5 - field.left;
  for (let k = 0; k < u.length; k++) {
    const px = clamp(start + k * inverse, width - 1);
    const column = px | 0;
    const next = column + 1 < width ? column + 1 : column;
    const fx = px - column;
    const a = fromU[upper + column]! + fx * (fromU[upper + next]! - fromU[upper + column]!);
    const b = fromU[lower + column]! + fx * (fromU[lower + next]! - fromU[lower + column]!);
    const c = fromV[upper + column]! + fx * (fromV[upper + next]! - fromV[upper + column]!);
    const d = fromV[lower + column]! + fx * (fromV[lower + next]! - fromV[lower + column]!);
    u[k] = a + fy * (b - a);
    v[k] = c + fy * (d - c);
  }
}

const clamp = (value: number, most: number): number => (value < 0 ? 0 : value > most ? most : value);

/** u = a·x + b·y + c and v = d·x + e·y + f at full-size position (x, y), in the order a, b, c, d, e, f. */
export type AffineMotion = Float64Array;

/**
 * The affine motion most of the trusted cells share, by iteratively reweighted least squares. Without enough trust the
 * terms that cannot be told stay 0.
 */
export function sharedMotion(field: FlowField): AffineMotion {
  const motion = new Float64Array(6);
  beginCall();
  takeDoubles(layShared(putField(field)), motion);
  return motion;
}

/** The same within a call, for the field that lies at `field`; where its motion lies then. */
export function layShared(field: Pointer): Pointer {
  const motion = reserve(6, 8);
  kernels.sharedMotion(field, motion);
  return motion;
}

/** A field of the same cells as `like` that moves by `motion` everywhere. */
export function fieldOf(motion: AffineMotion, like: FlowField): FlowField {
  const n = like.u.length;
  const out = withMotion(like, new Float32Array(n), new Float32Array(n), new Float32Array(n));
  beginCall();
  const field = putEmptyField(like);
  kernels.addMotion(field, putDoubles(motion), 1);
  takeMotion(field, out);
  return out;
}

/**
 * Fills cells without trust from those around and smooths the rest a little, by a pull–push pyramid (Gortler et al.
 * 1996). That is done to what differs from `base`, which so goes on where nothing is known; null is standing still.
 */
export function fillField(field: FlowField, base: AffineMotion | null): void {
  beginCall();
  const inside = putField(field);
  layFilled(inside, field.u.length, base === null ? NOTHING : putDoubles(base));
  takeMotion(inside, field);
}

/** The same within a call, for a field of `cells` cells that lies at `field`; `base` lies there too, or is `NOTHING`. */
export function layFilled(field: Pointer, cells: number, base: Pointer): void {
  if (base !== NOTHING) kernels.addMotion(field, base, -1);
  kernels.pullPush(field, reserve(8 * cells + 256));
  if (base !== NOTHING) kernels.addMotion(field, base, 1);
}

/** `field` with what it says of the pixels marked 1 in `mask`, a picture `width` wide, filled in anew from around. */
export function filledOver(field: FlowField, mask: Uint8Array, width: number): FlowField {
  const { left, top, step } = field;
  const out = withMotion(field, field.u.slice(), field.v.slice(), field.trust.slice());
  for (let row = 0, i = 0; row < field.height; row++) {
    const y = Math.floor((top + row + 0.5) * step) * width;
    for (let column = 0; column < field.width; column++, i++) {
      if (mask[y + Math.min(width - 1, Math.floor((left + column + 0.5) * step))] === 1) out.trust[i] = 0;
    }
  }
  fillField(out, sharedMotion(out));
  return out;
}

/**
 * The motion the other way: for the places of the later picture inside `region` (full-size pixels), where they came
 * from, on cells twice as large. Solves p + flow(p) = q for each place q by Newton steps.
 */
export function invertField(field: FlowField, region: Region): FlowField {
  const step = 2 * field.step;
  const out = emptyField(
    {
      left: Math.floor(region.left / step) - 1,
      top: Math.floor(region.top / step) - 1,
      right: Math.ceil(region.right / step) + 1,
      bottom: Math.ceil(region.bottom / step) + 1,
    },
    step,
  );
  beginCall();
  const inverse = putEmptyField(out);
  kernels.invertField(putField(field), inverse);
  takeMotion(inverse, out);
  return out;
}

/** A field found on pictures half the size, in the pixels of the full-size ones. */
export function doubled({ left, top, width, height, step, u, v, trust }: FlowField): FlowField {
  const twice = { left, top, width, height, step: 2 * step, u: u.slice(), v: v.slice(), trust };
  for (let i = 0; i < u.length; i++) {
    twice.u[i]! *= 2;
    twice.v[i]! *= 2;
  }
  return twice;
}

/** The motion that does `first`, then `second`, on the cells of `first`. The origin of `second` lies at (x, y) of `first`'s picture. */
export function chainFields(first: FlowField, second: FlowField, x = 0, y = 0): FlowField {
  const out = withMotion(first, first.u.slice(), first.v.slice(), first.trust);
  beginCall();
  const chained = putField(out);
  kernels.chainFields(chained, putField(second), x, y, chained);
  takeMotion(chained, out);
  return out;
}
