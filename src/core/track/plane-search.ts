import type { Plane } from '../image/pixels';
import { mapPoint, multiply, scaleAt, type Homography } from '../geometry/fit-map';

/** Samples of the look that are compared at every place. */
const SEARCH_SAMPLES = 160;
/** Correlation of the coarse look from which a place is worth a closer look. */
const LIKELY = 0.5;
/** Sizes against the shape it had, and turns in radians, that are tried. */
const SEARCH_SCALES = [1, 0.8, 1.25];
const SEARCH_TURNS = [0, 0.2, -0.2];
/** Places in the picture above which it is searched without turning the template. */
const MOST_PLACES = 12_000;

/** How a region looks: values at places in its own units. */
interface Look {
  readonly count: number;
  readonly xs: Float32Array;
  readonly ys: Float32Array;
  readonly values: Float32Array;
}

interface Likely {
  readonly score: number;
  /** Pixels of the full size, centres at +0.5. */
  readonly x: number;
  readonly y: number;
  readonly cos: number;
  readonly sin: number;
}

/**
 * The `most` likeliest places of a look in `luma`, a picture halved until a pixel is `size` of its own: maps of its units to
 * pixels, likeliest first. Correlates it at every place, at some sizes and turns around `shape`, its map where it was.
 */
export function likelyPlaces({ count, xs, ys, values }: Look, luma: Plane, size: number, shape: Homography, most: number): Homography[] {
  const stride = Math.max(1, Math.floor(count / SEARCH_SAMPLES));
  const n = Math.ceil(count / stride);
  const template = new Float32Array(n);
  let mean = 0;
  for (let k = 0; k < n; k++) mean += values[k * stride]! / n;
  let spread = 0;
  for (let k = 0; k < n; k++) {
    template[k] = values[k * stride]! - mean;
    spread += template[k]! ** 2;
  }
  const found: Likely[] = [];
  const [cx, cy] = mapPoint(shape, 0, 0);
  const turns = luma.width * luma.height > MOST_PLACES ? [0] : SEARCH_TURNS;
  const dx = new Int32Array(n);
  const dy = new Int32Array(n);
  for (const [scale, turn] of SEARCH_SCALES.flatMap((by) => turns.map((angle) => [by, angle] as const))) {
    const [cos, sin] = [scale * Math.cos(turn), scale * Math.sin(turn)];
    // where the samples fall around the middle, in whole pixels of the level
    let [left, right, top, bottom] = [0, 0, 0, 0];
    for (let k = 0; k < n; k++) {
      const [x, y] = mapPoint(shape, xs[k * stride]!, ys[k * stride]!);
      dx[k] = Math.round((cos * (x - cx) - sin * (y - cy)) / size);
      dy[k] = Math.round((sin * (x - cx) + cos * (y - cy)) / size);
      [left, right] = [Math.min(left, dx[k]!), Math.max(right, dx[k]!)];
      [top, bottom] = [Math.min(top, dy[k]!), Math.max(bottom, dy[k]!)];
    }
    for (let y = -top; y < luma.height - bottom; y++) {
      for (let x = -left; x < luma.width - right; x++) {
        let sum = 0;
        let squares = 0;
        let product = 0;
        for (let k = 0; k < n; k++) {
          const v = luma.data[(y + dy[k]!) * luma.width + x + dx[k]!]!;
          sum += v;
          squares += v * v;
          product += v * template[k]!;
        }
        const score = product / Math.sqrt(Math.max(1, spread * (squares - (sum * sum) / n)));
        if (score >= LIKELY) found.push({ score, x: (x + 0.5) * size, y: (y + 0.5) * size, cos, sin });
      }
    }
  }
  found.sort((a, b) => b.score - a.score);
  const apart = scaleAt(shape, 0, 0) / 2;
  const kept: Likely[] = [];
  for (const f of found) {
    if (kept.length === most) break;
    if (kept.every((k) => Math.abs(k.x - f.x) > apart || Math.abs(k.y - f.y) > apart)) kept.push(f);
  }
  return kept.map(({ x, y, cos, sin }) =>
    multiply(Float64Array.of(cos, -sin, x - cos * cx + sin * cy, sin, cos, y - sin * cx - cos * cy, 0, 0, 1), shape),
  );
}
