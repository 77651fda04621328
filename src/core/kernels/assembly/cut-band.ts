import { at } from './field';
import { GRAINS, int, putInt, solveCut } from './min-cut';

/** What it costs, at most, to lay the edge between two neighbours, and the share of it that it costs at least. */
const EDGE_COST: f64 = 3;
const LEAST_SHARE: f64 = 0.04;
/** Diagonal neighbours meet in less of an edge. */
const DIAGONAL: f64 = 1.4142135623730951;
/** Most that speaks for a side. */
const FIXED: f64 = 1e4;
/** How many times the mean difference of neighbours is a clear one, and the least that counts as that. */
const CLEAR: f64 = 1.4;
const LEAST_CLEAR: f64 = 8;

function difference(features: usize, a: i32, b: i32): f64 {
  const x = at(features, 3 * a) - at(features, 3 * b);
  const y = at(features, 3 * a + 1) - at(features, 3 * b + 1);
  const z = at(features, 3 * a + 2) - at(features, 3 * b + 2);
  return x * x + y * y + z * z;
}

/**
 * Places the edge where `band` is 1 (a byte a pixel): minimum cut of `lean` (floats, positive: rather inside) and of contrast.
 * Elsewhere `inside` (a byte a pixel, 0 or 1) stands; in the band it is overwritten. `scratch` holds one number a pixel,
 * 25 more a pixel of the band, of which there are `count`, and 16 more.
 */
export function cutBand(
  features: usize,
  band: usize,
  lean: usize,
  inside: usize,
  width: i32,
  height: i32,
  count: i32,
  scratch: usize,
): void {
  const n = width * height;
  const bytes = (<usize>count) << 2;
  const nodes = scratch;
  const pixels = nodes + ((<usize>n) << 2);
  const neighbours = pixels + bytes;
  const residual = neighbours + 8 * bytes;
  const terminal = residual + 8 * bytes;
  const tree = terminal + bytes;
  const rest = tree + bytes;
  memory.fill(nodes, 0xff, (<usize>n) << 2);
  for (let i = 0, k = 0; i < n; i++) {
    if (load<u8>(band + <usize>i) != 1) continue;
    putInt(nodes, i, k);
    putInt(pixels, k++, i);
  }
  const beta = sharpnessIn(features, pixels, count, width, n);
  memory.fill(neighbours, 0xff, 8 * bytes);
  memory.fill(residual, 0, 8 * bytes);
  for (let k = 0; k < count; k++) {
    const i = int(pixels, k);
    const x = i % width;
    const y = i / width;
    let value: f64 = at(lean, i);
    for (let d = 0; d < 8; d++) {
      // directions in reading order without the middle
      const place = d < 4 ? d : d + 1;
      const dx = (place % 3) - 1;
      const dy = place / 3 - 1;
      if (x + dx < 0 || y + dy < 0 || x + dx >= width || y + dy >= height) continue;
      const other = i + dy * width + dx;
      const node = int(nodes, other);
      // pairs within the band are joined once, from the earlier pixel
      if (d < 4 && node >= 0) continue;
      const share = LEAST_SHARE + (<f64>1 - LEAST_SHARE) * Math.exp(-beta * difference(features, i, other));
      const weight = dx != 0 && dy != 0 ? (EDGE_COST * share) / DIAGONAL : EDGE_COST * share;
      if (node < 0) value += load<u8>(inside + <usize>other) == 1 ? weight : -weight;
      else {
        const grains = <i32>floor<f64>(weight * GRAINS + 0.5);
        putInt(neighbours, 8 * k + d, node);
        putInt(neighbours, 8 * node + 7 - d, k);
        putInt(residual, 8 * k + d, grains);
        putInt(residual, 8 * node + 7 - d, grains);
      }
    }
    putInt(terminal, k, <i32>floor<f64>(max<f64>(-FIXED, min<f64>(FIXED, value)) * GRAINS + 0.5));
  }
  solveCut(count, neighbours, residual, terminal, tree, rest);
  for (let k = 0; k < count; k++) store<u8>(inside + <usize>int(pixels, k), load<u8>(tree + <usize>k) == 1 ? 1 : 0);
}

/** How sharply the cost of an edge falls with contrast, from the mean squared difference of neighbours (Boykov & Jolly 2001). */
function sharpnessIn(features: usize, pixels: usize, count: i32, width: i32, n: i32): f64 {
  let sum: f64 = 0;
  let pairs = 0;
  for (let k = 0; k < count; k++) {
    const i = int(pixels, k);
    if ((i + 1) % width != 0) {
      sum += difference(features, i, i + 1);
      pairs++;
    }
    if (i + width < n) {
      sum += difference(features, i, i + width);
      pairs++;
    }
  }
  return <f64>1 / max<f64>(LEAST_CLEAR, (CLEAR * sum) / <f64>max<i32>(1, pairs));
}
