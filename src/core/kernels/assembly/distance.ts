import { at, double, put, putDouble } from './numbers';

const FAR: f32 = 1e6;
const DIAGONAL: f32 = 1.4142135;

function isInside(inside: usize, i: i32): bool {
  return load<u8>(inside + <usize>i) != 0;
}

/**
 * Signed distance to the edge of `inside` (a byte a pixel, 0 or 1), positive inside; half a pixel at the edge pixels.
 * Distances grow along rows, columns and diagonals (Borgefors 1986), at most 8 % too long, in two sweeps.
 */
export function signedDistance(inside: usize, width: i32, height: i32, out: usize): void {
  const n = width * height;
  for (let i = 0; i < n; i++) put(out, i, FAR);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    for (let i = row + 1; i < row + width; i++) if (isInside(inside, i) != isInside(inside, i - 1)) markEdge(out, i, i - 1);
    if (y == 0) continue;
    for (let i = row; i < row + width; i++) if (isInside(inside, i) != isInside(inside, i - width)) markEdge(out, i, i - width);
  }
  for (let y = 0; y < height; y++) {
    const row = y * width;
    if (y > 0) growFrom(out, row, -width, width);
    let d = at(out, row);
    for (let i = row + 1; i < row + width; i++) put(out, i, (d = min<f32>(d + 1, at(out, i))));
  }
  for (let y = height - 1; y >= 0; y--) {
    const row = y * width;
    if (y + 1 < height) growFrom(out, row, width, width);
    let d = at(out, row + width - 1);
    for (let i = row + width - 2; i >= row; i--) put(out, i, (d = min<f32>(d + 1, at(out, i))));
  }
  for (let i = 0; i < n; i++) if (!isInside(inside, i)) put(out, i, -at(out, i));
}

function markEdge(out: usize, i: i32, j: i32): void {
  put(out, i, 0.5);
  put(out, j, 0.5);
}

/** Lets the row that starts at `row` take distances from the one `other` pixels on. */
function growFrom(out: usize, row: i32, other: i32, width: i32): void {
  const end = row + width - 1;
  let before: f32 = FAR;
  let straight = at(out, row + other);
  for (let i = row; i <= end; i++) {
    const after = i < end ? at(out, i + other + 1) : FAR;
    const d = min<f32>(straight + 1, min<f32>(before, after) + DIAGONAL);
    if (d < at(out, i)) put(out, i, d);
    before = straight;
    straight = after;
  }
}

/** Without a pixel to be near to, everything is as far as this. */
const NOWHERE: f64 = 1e12;

/**
 * Squared distance of every pixel to the nearest one whose byte in `inside` is `value`, by lower envelopes of parabolas along
 * rows and two sweeps along columns (Felzenszwalb & Huttenlocher 2012). Exact. `scratch` holds six numbers a pixel of
 * a row and 8 more.
 */
export function squaredDistances(inside: usize, value: i32, width: i32, height: i32, out: usize, scratch: usize): void {
  const bytes = (<usize>width) << 2;
  for (let y = 0; y < height; y++) {
    for (let x = 0, i = y * width; x < width; x++, i++) {
      const before = y > 0 ? at(out, i - width) : FAR;
      put(out, i, <i32>load<u8>(inside + <usize>i) == value ? 0 : before + 1);
    }
  }
  for (let y = height - 1; y >= 0; y--) {
    for (let x = 0, i = y * width; x < width; x++, i++) {
      if (y + 1 < height) put(out, i, min<f32>(at(out, i), at(out, i + width) + 1));
    }
  }
  const line = scratch;
  const borders = line + 2 * bytes;
  const places = borders + 2 * bytes + 16;
  for (let y = 0; y < height; y++) {
    const row = y * width;
    for (let x = 0; x < width; x++) {
      const d: f64 = at(out, row + x);
      putDouble(line, x, min<f64>(NOWHERE, d * d));
    }
    let k = 0;
    store<i32>(places, 0);
    putDouble(borders, 0, -Infinity);
    putDouble(borders, 1, Infinity);
    for (let q = 1; q < width; q++) {
      const height = double(line, q) + <f64>q * <f64>q;
      let s: f64 = 0;
      while (true) {
        const p = load<i32>(places + ((<usize>k) << 2));
        s = (height - (double(line, p) + <f64>p * <f64>p)) / <f64>(2 * (q - p));
        if (s > double(borders, k) || k == 0) break;
        k--;
      }
      k++;
      store<i32>(places + ((<usize>k) << 2), q);
      putDouble(borders, k, s);
      putDouble(borders, k + 1, Infinity);
    }
    k = 0;
    for (let q = 0; q < width; q++) {
      while (double(borders, k + 1) < <f64>q) k++;
      const p = load<i32>(places + ((<usize>k) << 2));
      const away = <f64>(q - p);
      put(out, row + q, <f32>min<f64>(NOWHERE, away * away + double(line, p)));
    }
  }
}
