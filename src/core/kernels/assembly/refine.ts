import { colourAt } from './area';

/** Half width of the window in which coverage is explained by colour, in pixels of the coverage. */
const RADIUS = 2;
/** Variance of colour that may be noise, squared 8-bit steps. */
const NOISE: f32 = 40;
/** A determinant below this counts as this. */
const LEAST: f32 = 1e-3;

/** True where a pixel and the whole border of its window are covered fully, or not at all. */
function isEven(coverage: usize, width: i32, i: i32, left: i32, right: i32, top: i32, bottom: i32): bool {
  const value = load<u8>(coverage + <usize>i);
  if (value != 0 && value != 255) return false;
  for (let x = left; x <= right; x++)
    if (load<u8>(coverage + <usize>(top * width + x)) != value || load<u8>(coverage + <usize>(bottom * width + x)) != value) return false;
  for (let y = top; y <= bottom; y++)
    if (load<u8>(coverage + <usize>(y * width + left)) != value || load<u8>(coverage + <usize>(y * width + right)) != value) return false;
  return true;
}

/**
 * How `coverage` (a byte a pixel) rises with red, green and blue of `colours` (RGBA bytes): four floats a pixel to `slopes`, the
 * last one 0, and 1 to `known` (bytes, 0 before), around every pixel whose window holds an edge (He et al. 2013).
 * The others' slopes stay as they are.
 */
export function slopesAlongEdge(coverage: usize, colours: usize, width: i32, height: i32, slopes: usize, known: usize): void {
  for (let y = 0, i = 0; y < height; y++) {
    const top = max<i32>(0, y - RADIUS);
    const bottom = min<i32>(height - 1, y + RADIUS);
    for (let x = 0; x < width; x++, i++) {
      const left = max<i32>(0, x - RADIUS);
      const right = min<i32>(width - 1, x + RADIUS);
      if (isEven(coverage, width, i, left, right, top, bottom)) continue;
      // lanes: red, green, blue and coverage; sums of them and of their products with each colour
      let sum = f32x4.splat(0);
      let reds = f32x4.splat(0);
      let greens = f32x4.splat(0);
      let blues = f32x4.splat(0);
      for (let v = top; v <= bottom; v++) {
        for (let j = v * width + left, end = v * width + right; j <= end; j++) {
          const pixel = f32x4.replace_lane(colourAt(colours + ((<usize>j) << 2)), 3, <f32>load<u8>(coverage + <usize>j));
          sum = f32x4.add(sum, pixel);
          reds = f32x4.add(reds, f32x4.mul(pixel, v128.shuffle<f32>(pixel, pixel, 0, 0, 0, 0)));
          greens = f32x4.add(greens, f32x4.mul(pixel, v128.shuffle<f32>(pixel, pixel, 1, 1, 1, 1)));
          blues = f32x4.add(blues, f32x4.mul(pixel, v128.shuffle<f32>(pixel, pixel, 2, 2, 2, 2)));
        }
      }
      const share = f32x4.splat((1 as f32) / <f32>((bottom - top + 1) * (right - left + 1)));
      const mean = f32x4.mul(sum, share);
      reds = f32x4.sub(f32x4.mul(reds, share), f32x4.mul(mean, v128.shuffle<f32>(mean, mean, 0, 0, 0, 0)));
      greens = f32x4.sub(f32x4.mul(greens, share), f32x4.mul(mean, v128.shuffle<f32>(mean, mean, 1, 1, 1, 1)));
      blues = f32x4.sub(f32x4.mul(blues, share), f32x4.mul(mean, v128.shuffle<f32>(mean, mean, 2, 2, 2, 2)));
      const xx = f32x4.extract_lane(reds, 0) + NOISE;
      const xy = f32x4.extract_lane(reds, 1);
      const xz = f32x4.extract_lane(reds, 2);
      const yy = f32x4.extract_lane(greens, 1) + NOISE;
      const yz = f32x4.extract_lane(greens, 2);
      const zz = f32x4.extract_lane(blues, 2) + NOISE;
      const a = f32x4.extract_lane(reds, 3);
      const b = f32x4.extract_lane(greens, 3);
      const c = f32x4.extract_lane(blues, 3);
      // the covariance is inverted by its cofactors
      const cx = yy * zz - yz * yz;
      const cy = xz * yz - xy * zz;
      const cz = xy * yz - xz * yy;
      const inverse = (1 as f32) / max<f32>(LEAST, xx * cx + xy * cy + xz * cz);
      const dy = xx * zz - xz * xz;
      const dz = xy * xz - xx * yz;
      const ez = xx * yy - xy * xy;
      const o = slopes + ((<usize>i) << 4);
      store<f32>(o, inverse * (cx * a + cy * b + cz * c));
      store<f32>(o, inverse * (cy * a + dy * b + dz * c), 4);
      store<f32>(o, inverse * (cz * a + dz * b + ez * c), 8);
      store<f32>(o, 0, 12);
      store<u8>(known + <usize>i, 1);
    }
  }
}

/**
 * Enlarges `coverage` to `out` (bytes), at the size of `picture`: where `known`, mixed from its four pixels and raised by their
 * `slopes` for what the picture holds beyond `colours`, its smaller copy; elsewhere the pixel before it as it is.
 * `columns` and `rows` have, for each of the larger size, the pixel before it (an integer), `columnShares` and `rowShares`
 * how far it is to the next (a float).
 */
export function enlargeCoverage(
  coverage: usize,
  colours: usize,
  slopes: usize,
  known: usize,
  width: i32,
  height: i32,
  picture: usize,
  fullWidth: i32,
  fullHeight: i32,
  columns: usize,
  columnShares: usize,
  rows: usize,
  rowShares: usize,
  out: usize,
): void {
  for (let y = 0, o = 0; y < fullHeight; y++) {
    const row = load<i32>(rows + ((<usize>y) << 2));
    const below = row + 1 < height ? width : 0;
    const fy = load<f32>(rowShares + ((<usize>y) << 2));
    for (let x = 0; x < fullWidth; x++, o++) {
      const column = load<i32>(columns + ((<usize>x) << 2));
      const i = row * width + column;
      if (load<u8>(known + <usize>i) == 0) {
        store<u8>(out + <usize>o, load<u8>(coverage + <usize>i));
        continue;
      }
      const right = column + 1 < width ? 1 : 0;
      const fx = load<f32>(columnShares + ((<usize>x) << 2));
      const d = fx * fy;
      const b = fx - d;
      const c = fy - d;
      const a = (1 as f32) - fx - c;
      const upper = i + right;
      const lower = i + below;
      const last = lower + right;
      let shown = f32x4.mul(f32x4.splat(a), colourAt(colours + ((<usize>i) << 2)));
      shown = f32x4.add(shown, f32x4.mul(f32x4.splat(b), colourAt(colours + ((<usize>upper) << 2))));
      shown = f32x4.add(shown, f32x4.mul(f32x4.splat(c), colourAt(colours + ((<usize>lower) << 2))));
      shown = f32x4.add(shown, f32x4.mul(f32x4.splat(d), colourAt(colours + ((<usize>last) << 2))));
      let rise = f32x4.mul(f32x4.splat(a), v128.load(slopes + ((<usize>i) << 4)));
      rise = f32x4.add(rise, f32x4.mul(f32x4.splat(b), v128.load(slopes + ((<usize>upper) << 4))));
      rise = f32x4.add(rise, f32x4.mul(f32x4.splat(c), v128.load(slopes + ((<usize>lower) << 4))));
      rise = f32x4.add(rise, f32x4.mul(f32x4.splat(d), v128.load(slopes + ((<usize>last) << 4))));
      const more = f32x4.mul(rise, f32x4.sub(colourAt(picture + ((<usize>o) << 2)), shown));
      const value =
        a * <f32>load<u8>(coverage + <usize>i) +
        b * <f32>load<u8>(coverage + <usize>upper) +
        c * <f32>load<u8>(coverage + <usize>lower) +
        d * <f32>load<u8>(coverage + <usize>last) +
        f32x4.extract_lane(more, 0) +
        f32x4.extract_lane(more, 1) +
        f32x4.extract_lane(more, 2);
      store<u8>(out + <usize>o, <u8>max<f32>(0, min<f32>(255, value + 0.5)));
    }
  }
}
