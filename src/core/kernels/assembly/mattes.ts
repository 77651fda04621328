import { times } from './pixels';

// Coverage, a byte a pixel.

const FULL: v128 = i8x16.splat(-1);

/** Turns `n` bytes of coverage around. */
export function invertCoverage(coverage: usize, n: i32): void {
  let i: usize = 0;
  for (; i + 16 <= <usize>n; i += 16) v128.store(coverage + i, v128.xor(v128.load(coverage + i), FULL));
  for (; i < <usize>n; i++) store<u8>(coverage + i, 255 - load<u8>(coverage + i));
}

/** True when none of `n` bytes covers anything. */
function isEmpty(coverage: usize, n: i32): bool {
  let i: usize = 0;
  for (; i + 16 <= <usize>n; i += 16) if (v128.any_true(v128.load(coverage + i))) return false;
  for (; i < <usize>n; i++) if (load<u8>(coverage + i) != 0) return false;
  return true;
}

/** Writes the least rectangle outside of which nothing is covered into `out`, as left, top, right, bottom of 32 bits; all 0 where nothing is. */
export function coveredPart(coverage: usize, width: i32, height: i32, out: usize): void {
  let left = width;
  let top = height;
  let right = 0;
  let bottom = 0;
  for (let y = 0; y < height; y++) {
    const row = coverage + <usize>(y * width);
    if (isEmpty(row, width)) continue;
    if (top == height) top = y;
    bottom = y + 1;
    let x = 0;
    while (x < left && load<u8>(row + x) == 0) x++;
    left = min<i32>(left, x);
    x = width;
    while (x > right && load<u8>(row + x - 1) == 0) x--;
    right = max<i32>(right, x);
  }
  const found = bottom > 0;
  store<i32>(out, found ? left : 0);
  store<i32>(out, found ? top : 0, 4);
  store<i32>(out, found ? right : 0, 8);
  store<i32>(out, found ? bottom : 0, 12);
}

/** Ways in which mattes are joined, by number; any other: either of them covers. */
const INTERSECT: i32 = 0;
const SUBTRACT: i32 = 1;

/** Joins `n` bytes of a matte to what `into` covers. */
export function joinCoverage(how: i32, matte: usize, n: i32, into: usize): void {
  let i: usize = 0;
  for (; i < <usize>n; i++) {
    // sixteen at once where the matte changes nothing
    if ((i & 15) == 0 && i + 16 <= <usize>n) {
      const covers = v128.load(matte + i);
      const unchanged = how == INTERSECT ? i8x16.all_true(i8x16.eq(covers, FULL)) : !v128.any_true(covers);
      if (unchanged) {
        i += 15;
        continue;
      }
    }
    const own = <i32>load<u8>(into + i);
    const other = <i32>load<u8>(matte + i);
    const both = how == INTERSECT ? times(own, other) : how == SUBTRACT ? times(own, 255 - other) : 255 - times(255 - own, 255 - other);
    store<u8>(into + i, <u8>both);
  }
}

/**
 * Draws stored coverage into `out`: its pixel (x, y) shows place (a·x + b·y + c, d·x + e·y + f) of it, bilinear, counted in pixels from the first
 * one's centre, for pixels' own corners (x, y); outside it covers nothing.
 */
export function placeCoverage(
  stored: usize,
  width: i32,
  height: i32,
  a: f64,
  b: f64,
  c: f64,
  d: f64,
  e: f64,
  f: f64,
  outWidth: i32,
  outHeight: i32,
  out: usize,
): void {
  const lastX = <f64>(width - 1);
  const lastY = <f64>(height - 1);
  for (let y = 0; y < outHeight; y++, out += outWidth) {
    const startX = a * 0.5 + b * (<f64>y + 0.5) + c - 0.5;
    const startY = d * 0.5 + e * (<f64>y + 0.5) + f - 0.5;
    // columns outside of these show nothing
    const first = max<i32>(firstColumn(startX, a, lastX, outWidth), firstColumn(startY, d, lastY, outWidth));
    const end = max<i32>(first, min<i32>(endColumn(startX, a, lastX, outWidth), endColumn(startY, d, lastY, outWidth)));
    memory.fill(out, 0, first);
    memory.fill(out + end, 0, outWidth - end);
    for (let x = first; x < end; x++) {
      const px = startX + <f64>x * a;
      const py = startY + <f64>x * d;
      if (px < -0.5 || py < -0.5 || px > lastX + 0.5 || py > lastY + 0.5) {
        store<u8>(out + x, 0);
        continue;
      }
      const sx = max<f64>(0, min<f64>(lastX, px));
      const sy = max<f64>(0, min<f64>(lastY, py));
      const left = <i32>sx;
      const top = <i32>sy;
      const at = stored + <usize>(top * width + left);
      const right: usize = left < width - 1 ? 1 : 0;
      const below: usize = top < height - 1 ? <usize>width : 0;
      const p = <i32>load<u8>(at);
      const q = <i32>load<u8>(at + right);
      const r = <i32>load<u8>(at + below);
      const s = <i32>load<u8>(at + right + below);
      if (p == q && p == r && p == s) {
        store<u8>(out + x, <u8>p);
        continue;
      }
      const fx = sx - <f64>left;
      const upper = <f64>p + fx * <f64>(q - p);
      const lower = <f64>r + fx * <f64>(s - r);
      store<u8>(out + x, <u8>(upper + (sy - <f64>top) * (lower - upper) + 0.5));
    }
  }
}

/** The first column, 0..`width`, on which `start + x·step` may lie within half a pixel of 0..`last`. */
function firstColumn(start: f64, step: f64, last: f64, width: i32): i32 {
  if (abs(step) < 1e-12) return start < -0.501 || start > last + 0.501 ? width : 0;
  const at = (step > 0 ? -0.501 - start : last + 0.501 - start) / step;
  return <i32>max<f64>(0, min<f64>(<f64>width, Math.floor(at)));
}

/** The column past the last of those. */
function endColumn(start: f64, step: f64, last: f64, width: i32): i32 {
  if (abs(step) < 1e-12) return width;
  const at = (step > 0 ? last + 0.501 - start : -0.501 - start) / step;
  return <i32>max<f64>(0, min<f64>(<f64>width, Math.ceil(at) + 1));
}
