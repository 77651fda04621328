/** Cells of a grid or pixels of a picture: first, and one past the last. */
export interface Region {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

/**
 * Motion on a grid over part of a picture: where each place went, in full-size pixels. Cell (i, j) stands for the
 * point ((left + i + 0.5)·step, (top + j + 0.5)·step); beyond the part, its edge cells repeat.
 */
export interface FlowField {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
  /** Full-size pixels per cell. */
  readonly step: number;
  readonly u: Float32Array<ArrayBuffer>;
  readonly v: Float32Array<ArrayBuffer>;
  /** How well the place was matched, 0 (filled in from around) to 1. */
  readonly trust: Float32Array<ArrayBuffer>;
}

/** A field of the cells in `region` that stands still. */
export function emptyField({ left, top, right, bottom }: Region, step: number): FlowField {
  const [width, height] = [right - left, bottom - top];
  const n = width * height;
  return { left, top, width, height, step, u: new Float32Array(n), v: new Float32Array(n), trust: new Float32Array(n) };
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

interface Sums {
  readonly width: number;
  readonly height: number;
  readonly u: Float32Array;
  readonly v: Float32Array;
  readonly w: Float32Array;
}

/** Weight of what lies around against a cell's own full trust. */
const AROUND = 0.08;

function halveSums(from: Sums): Sums {
  const width = (from.width + 1) >> 1;
  const height = (from.height + 1) >> 1;
  const n = width * height;
  const to = { width, height, u: new Float32Array(n), v: new Float32Array(n), w: new Float32Array(n) };
  for (let y = 0; y < from.height; y++) {
    const row = (y >> 1) * width;
    for (let x = 0, i = y * from.width; x < from.width; x++, i++) {
      const o = row + (x >> 1);
      to.u[o]! += from.u[i]!;
      to.v[o]! += from.v[i]!;
      to.w[o]! += from.w[i]!;
    }
  }
  return to;
}

/** Motions further than this from the common one, in pixels, count half in the next round. */
const COMMON_SCALE = 2.5;

/** u = a·x + b·y + c and v = d·x + e·y + f at full-size position (x, y), in the order a, b, c, d, e, f. */
export type AffineMotion = Float64Array;

/**
 * The affine motion most of the trusted cells share, by iteratively reweighted least squares. Without enough trust the
 * terms that cannot be told stay 0.
 */
export function sharedMotion(field: FlowField): AffineMotion {
  const motion = sharedInCells(field);
  // from cells counted from the field's centre to full-size pixels
  for (const o of [0, 3]) {
    motion[o]! /= field.step;
    motion[o + 1]! /= field.step;
    motion[o + 2]! -=
      motion[o]! * (field.left + field.width / 2) * field.step + motion[o + 1]! * (field.top + field.height / 2) * field.step;
  }
  return motion;
}

/** The same with x and y in cells from the field's centre. */
function sharedInCells(field: FlowField): Float64Array {
  const { width, height, u, v, trust } = field;
  const out = new Float64Array(6);
  const stride = Math.max(1, Math.floor(Math.sqrt((width * height) / 4000)));
  const scale = 2 / Math.max(width, height);
  for (let round = 0; round < 5; round++) {
    let [w0, sx, sy, xx, xy, yy] = [1e-9, 0, 0, 0, 0, 0];
    const right = new Float64Array(6);
    for (let row = 0; row < height; row += stride) {
      for (let column = 0, i = row * width; column < width; column += stride, i += stride) {
        let w = trust[i]!;
        if (w < 0.02) continue;
        const x = column + 0.5 - width / 2;
        const y = row + 0.5 - height / 2;
        if (round > 0) {
          const du = u[i]! - (out[0]! * x + out[1]! * y + out[2]!);
          const dv = v[i]! - (out[3]! * x + out[4]! * y + out[5]!);
          w /= 1 + (du * du + dv * dv) / (COMMON_SCALE * COMMON_SCALE);
        }
        const px = x * scale;
        const py = y * scale;
        w0 += w;
        sx += w * px;
        sy += w * py;
        xx += w * px * px;
        xy += w * px * py;
        yy += w * py * py;
        right[0]! += w * px * u[i]!;
        right[1]! += w * py * u[i]!;
        right[2]! += w * u[i]!;
        right[3]! += w * px * v[i]!;
        right[4]! += w * py * v[i]!;
        right[5]! += w * v[i]!;
      }
    }
    // centred second moments, held up where the trusted cells lie in a line or a spot
    const hold = 0.02 * w0 + 1;
    const cxx = xx - (sx * sx) / w0 + hold;
    const cxy = xy - (sx * sy) / w0;
    const cyy = yy - (sy * sy) / w0 + hold;
    const determinant = cxx * cyy - cxy * cxy;
    for (const o of [0, 3]) {
      const bx = right[o]! - (sx * right[o + 2]!) / w0;
      const by = right[o + 1]! - (sy * right[o + 2]!) / w0;
      const a = (cyy * bx - cxy * by) / determinant;
      const b = (cxx * by - cxy * bx) / determinant;
      out[o] = a * scale;
      out[o + 1] = b * scale;
      out[o + 2] = (right[o + 2]! - a * sx - b * sy) / w0;
    }
  }
  return out;
}

/** Adds a motion, or takes it away with `sign` -1, in every cell. */
function addMotion({ left, top, width, height, step, u, v }: FlowField, [a, b, c, d, e, f]: AffineMotion, sign: number): void {
  for (let row = 0, i = 0; row < height; row++) {
    const y = (top + row + 0.5) * step;
    const startU = sign * (b! * y + c!);
    const startV = sign * (e! * y + f!);
    for (let column = 0; column < width; column++, i++) {
      const x = sign * (left + column + 0.5) * step;
      u[i]! += startU + a! * x;
      v[i]! += startV + d! * x;
    }
  }
}

/** A field of the same cells as `like` that moves by `motion` everywhere. */
export function fieldOf(motion: AffineMotion, like: FlowField): FlowField {
  const n = like.u.length;
  const out = { ...like, u: new Float32Array(n), v: new Float32Array(n), trust: new Float32Array(n) };
  addMotion(out, motion, 1);
  return out;
}

/** Lowers the trust of cells that move otherwise than by `expected`; half of it stays at a difference of `half` pixels. */
export function doubtUnexpected(field: FlowField, [a, b, c, d, e, f]: AffineMotion, half: number): void {
  const { left, top, width, height, step, u, v, trust } = field;
  for (let row = 0, i = 0; row < height; row++) {
    const y = (top + row + 0.5) * step;
    for (let column = 0; column < width; column++, i++) {
      const x = (left + column + 0.5) * step;
      const du = u[i]! - (a! * x + b! * y + c!);
      const dv = v[i]! - (d! * x + e! * y + f!);
      const off = (du * du + dv * dv) / (half * half);
      trust[i]! /= 1 + off * off;
    }
  }
}

/**
 * Fills cells without trust from those around and smooths the rest a little, by a pull–push pyramid (Gortler et al.
 * 1996). That is done to what differs from `base`, which so goes on where nothing is known; null is standing still.
 */
export function fillField(field: FlowField, base: AffineMotion | null): void {
  if (base !== null) addMotion(field, base, -1);
  pullPush(field);
  if (base !== null) addMotion(field, base, 1);
}

/** `field` with what it says of the pixels marked 1 in `mask`, a picture `width` wide, filled in anew from around. */
export function filledOver(field: FlowField, mask: Uint8Array, width: number): FlowField {
  const { left, top, step } = field;
  const out = { ...field, u: field.u.slice(), v: field.v.slice(), trust: field.trust.slice() };
  for (let row = 0, i = 0; row < field.height; row++) {
    const y = Math.floor((top + row + 0.5) * step) * width;
    for (let column = 0; column < field.width; column++, i++) {
      if (mask[y + Math.min(width - 1, Math.floor((left + column + 0.5) * step))] === 1) out.trust[i] = 0;
    }
  }
  fillField(out, sharedMotion(out));
  return out;
}

function pullPush(field: FlowField): void {
  const { width, height, u, v, trust } = field;
  const [su, sv] = [new Float32Array(u.length), new Float32Array(u.length)];
  for (let i = 0; i < trust.length; i++) {
    su[i] = u[i]! * trust[i]!;
    sv[i] = v[i]! * trust[i]!;
  }
  const levels: Sums[] = [{ width, height, u: su, v: sv, w: trust }];
  while (levels.at(-1)!.width > 1 || levels.at(-1)!.height > 1) levels.push(halveSums(levels.at(-1)!));
  const top = levels.at(-1)!;
  const base = Math.max(1e-9, top.w[0]!);
  let below = { width: 1, height: 1, u: Float32Array.of(top.u[0]! / base), v: Float32Array.of(top.v[0]! / base) };
  for (let l = levels.length - 2; l >= 0; l--) {
    const { width: w, height: h, u: su, v: sv, w: sw } = levels[l]!;
    const nu = l === 0 ? u : new Float32Array(w * h);
    const nv = l === 0 ? v : new Float32Array(w * h);
    for (let y = 0, i = 0; y < h; y++) {
      const py = Math.max(0, Math.min(below.height - 1, y / 2 - 0.25));
      const row = (py | 0) * below.width;
      const fy = py - (py | 0);
      const down = (py | 0) + 1 < below.height ? below.width : 0;
      for (let x = 0; x < w; x++, i++) {
        const px = Math.max(0, Math.min(below.width - 1, x / 2 - 0.25));
        const fx = px - (px | 0);
        const o = row + (px | 0);
        const right = (px | 0) + 1 < below.width ? 1 : 0;
        const upperU = below.u[o]! + fx * (below.u[o + right]! - below.u[o]!);
        const lowerU = below.u[o + down]! + fx * (below.u[o + down + right]! - below.u[o + down]!);
        const upperV = below.v[o]! + fx * (below.v[o + right]! - below.v[o]!);
        const lowerV = below.v[o + down]! + fx * (below.v[o + down + right]! - below.v[o + down]!);
        const weight = sw[i]! + AROUND;
        nu[i] = (su[i]! + AROUND * (upperU + fy * (lowerU - upperU))) / weight;
        nv[i] = (sv[i]! + AROUND * (upperV + fy * (lowerV - upperV))) / weight;
      }
    }
    below = { width: w, height: h, u: nu, v: nv };
  }
}

/** Newton steps that settle a motion from a neighbour's, and from none. */
const FROM_NEAR = 3;
const FROM_NOTHING = 12;
/** Where a motion folds the picture more than this, its slope leads nowhere. */
const LEAST_AREA = 0.2;

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
  const [at, right, below] = [new Float64Array(2), new Float64Array(2), new Float64Array(2)];
  for (let y = 0, i = 0; y < out.height; y++) {
    for (let x = 0; x < out.width; x++, i++) {
      const qx = (out.left + x + 0.5) * step;
      const qy = (out.top + y + 0.5) * step;
      // its neighbour's motion is nearly its own
      const near = x > 0 ? i - 1 : i - out.width;
      let px = qx + (near < 0 ? 0 : out.u[near]!);
      let py = qy + (near < 0 ? 0 : out.v[near]!);
      for (let round = near < 0 ? FROM_NOTHING : FROM_NEAR; round > 0; round--) {
        flowAt(field, px, py, at);
        flowAt(field, px + field.step, py, right);
        flowAt(field, px, py + field.step, below);
        const missX = px + at[0]! - qx;
        const missY = py + at[1]! - qy;
        const a = 1 + (right[0]! - at[0]!) / field.step;
        const b = (below[0]! - at[0]!) / field.step;
        const c = (right[1]! - at[1]!) / field.step;
        const d = 1 + (below[1]! - at[1]!) / field.step;
        const area = a * d - b * c;
        px -= area > LEAST_AREA ? (d * missX - b * missY) / area : missX;
        py -= area > LEAST_AREA ? (a * missY - c * missX) / area : missY;
      }
      out.u[i] = px - qx;
      out.v[i] = py - qy;
    }
  }
  return out;
}

/** A field found on pictures half the size, in the pixels of the full-size ones. */
export const doubled = (field: FlowField): FlowField => ({
  ...field,
  step: 2 * field.step,
  u: field.u.map((v) => 2 * v),
  v: field.v.map((v) => 2 * v),
});

/** The motion that does `first`, then `second`, on the cells of `first`. The origin of `second` lies at (x, y) of `first`'s picture. */
export function chainFields(first: FlowField, second: FlowField, x = 0, y = 0): FlowField {
  const { left, top, width, height, step, u, v } = first;
  const out = { ...first, u: new Float32Array(u.length), v: new Float32Array(u.length) };
  const at = new Float64Array(2);
  for (let row = 0, i = 0; row < height; row++) {
    for (let column = 0; column < width; column++, i++) {
      flowAt(second, (left + column + 0.5) * step + u[i]! - x, (top + row + 0.5) * step + v[i]! - y, at);
      out.u[i] = u[i]! + at[0]!;
      out.v[i] = v[i]! + at[1]!;
    }
  }
  return out;
}
