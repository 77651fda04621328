import type { StoredCoverage } from '../coverage/stored-coverage';

/** Coverage is made at most this many times as steep. */
const MOST_STEEPER = 2;
const HALVINGS = 8;

/**
 * How soft coverage is along its edge: what is partly covered, a·(1 − a), summed up, for every pixel of the edge's length. That is a
 * sixth of the width over which a straight ramp rises, in pixels. 0 without an edge.
 */
export function softnessOf(coverage: StoredCoverage): number {
  const length = edgeLength(coverage);
  return length === 0 ? 0 : partly(histogramOf(coverage), 1) / length;
}

/**
 * Makes coverage that is softer than `softness` steeper about one half, in place, until it is not: what was estimated from many pixels,
 * or enlarged, gets the crispness back that it is known to have.
 */
export function crispenTo(softness: number, coverage: StoredCoverage): void {
  const wanted = softness * edgeLength(coverage);
  const histogram = histogramOf(coverage);
  if (partly(histogram, 1) <= wanted) return;
  let [least, most] = [1, MOST_STEEPER];
  for (let k = 0; k < HALVINGS; k++) {
    const middle = (least + most) / 2;
    if (partly(histogram, middle) > wanted) least = middle;
    else most = middle;
  }
  const steeper = Uint8Array.from({ length: 256 }, (_, v) => 255 * steepened(v, most) + 0.5);
  const { data } = coverage;
  for (let i = 0; i < data.length; i++) data[i] = steeper[data[i]!]!;
}

const steepened = (value: number, times: number): number => Math.max(0, Math.min(1, 0.5 + times * (value / 255 - 0.5)));

function histogramOf({ data }: StoredCoverage): Uint32Array {
  const counts = new Uint32Array(256);
  for (let i = 0; i < data.length; i++) counts[data[i]!]!++;
  return counts;
}

/** Sum of a·(1 − a) once coverage is made `times` as steep. */
function partly(histogram: Uint32Array, times: number): number {
  let sum = 0;
  for (let v = 0; v < 256; v++) {
    const a = steepened(v, times);
    sum += histogram[v]! * a * (1 - a);
  }
  return sum;
}

/** What coverage rises and falls in all, and so how long the edge is, in pixels. */
function edgeLength({ width, height, data }: StoredCoverage): number {
  let sum = 0;
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const right = x + 1 < width ? data[i + 1]! - data[i]! : 0;
      const down = y + 1 < height ? data[i + width]! - data[i]! : 0;
      if (right !== 0 || down !== 0) sum += Math.sqrt(right * right + down * down);
    }
  }
  return sum / 255;
}
