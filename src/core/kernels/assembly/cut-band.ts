import { at, put, putInt } from './numbers';
import { GRAINS, solveCut } from './min-cut';

/** What it costs in a band, at most, to lay the edge between two neighbours, and the share of the most that it costs at least. */
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

/** How sharply the cost of an edge falls with contrast, where the squared differences of `count` pairs add up to `sum` (Boykov & Jolly 2001). */
function sharpness(sum: f64, count: i32): f64 {
  return (1 as f64) / max<f64>(LEAST_CLEAR, (CLEAR * sum) / <f64>max<i32>(1, count));
}

/** What it costs to lay the edge between two neighbours whose difference squared is given: `most`, or less. */
function costOf(squared: f64, beta: f64, isDiagonal: bool, most: f64): f64 {
  const cost = most * (LEAST_SHARE + ((1 as f64) - LEAST_SHARE) * Math.exp(-beta * squared));
  return isDiagonal ? cost / DIAGONAL : cost;
}

/**
 * Costs of an edge anywhere in a picture of `n` pixels, to `out`, from the squared differences to the neighbours on the right,
 * down left, down and down right; both four floats a pixel. Over the border the difference is infinite and the cost 0.
 */
export function contrastCosts(squared: usize, n: i32, most: f64, out: usize): void {
  let sum: f64 = 0;
  for (let p = 0; p < 4 * n; p += 2) if (at(squared, p) != Infinity) sum += at(squared, p);
  const beta = sharpness(sum, 2 * n);
  for (let p = 0; p < 4 * n; p++) put(out, p, at(squared, p) == Infinity ? 0 : <f32>costOf(at(squared, p), beta, (p & 1) == 1, most));
}

/**
 * Places the edge where `band` is 1 (a byte a pixel): minimum cut of `lean` (floats, positive: rather inside) and of contrast.
 * Elsewhere `inside` (a byte a pixel, 0 or 1) stands; in the band it is overwritten. `scratch` holds 15·(pixels + width + 16)
 * numbers and 8·width more.
 */
export function cutBand(features: usize, band: usize, lean: usize, inside: usize, width: i32, height: i32, scratch: usize): void {
  const n = width * height;
  const margin = (<usize>(8 * (width + 1))) << 2;
  const residual = scratch + margin;
  const terminal = residual + ((<usize>(8 * n)) << 2) + margin;
  const source = terminal + ((<usize>n) << 2);
  const rest = (source + <usize>n + 15) & ~15;
  memory.fill(scratch, 0, source - scratch);
  const beta = sharpnessIn(features, band, width, n);
  for (let i = 0; i < n; i++) {
    if (load<u8>(band + <usize>i) != 1) continue;
    const x = i % width;
    const y = i / width;
    let value: f64 = at(lean, i);
    for (let k = 0; k < 8; k++) {
      // directions in reading order without the middle
      const place = k < 4 ? k : k + 1;
      const dx = (place % 3) - 1;
      const dy = place / 3 - 1;
      if (x + dx < 0 || y + dy < 0 || x + dx >= width || y + dy >= height) continue;
      const j = i + dy * width + dx;
      const isFree = load<u8>(band + <usize>j) == 1;
      // pairs within the band are joined once, from the earlier pixel
      if (k < 4 && isFree) continue;
      const weight = costOf(difference(features, i, j), beta, dx != 0 && dy != 0, EDGE_COST);
      if (isFree) {
        const grains = <i32>floor<f64>(weight * GRAINS + 0.5);
        putInt(residual, 8 * i + k, grains);
        putInt(residual, 8 * j + 7 - k, grains);
      } else value += load<u8>(inside + <usize>j) == 1 ? weight : -weight;
    }
    putInt(terminal, i, <i32>floor<f64>(max<f64>(-FIXED, min<f64>(FIXED, value)) * GRAINS + 0.5));
  }
  solveCut(width, height, residual, terminal, source, rest);
  for (let i = 0; i < n; i++) if (load<u8>(band + <usize>i) == 1) store<u8>(inside + <usize>i, load<u8>(source + <usize>i));
}

/** The same for the pixels of the band and their neighbours to the right and below. */
function sharpnessIn(features: usize, band: usize, width: i32, n: i32): f64 {
  let sum: f64 = 0;
  let pairs = 0;
  for (let i = 0; i < n; i++) {
    if (load<u8>(band + <usize>i) != 1) continue;
    if ((i + 1) % width != 0) {
      sum += difference(features, i, i + 1);
      pairs++;
    }
    if (i + width < n) {
      sum += difference(features, i, i + width);
      pairs++;
    }
  }
  return sharpness(sum, pairs);
}
