import type { Image } from '../../image/pixels';

/** Coverage from which a pixel counts as the subject's own colour, and under which it has none. */
const OWN = 245;
const NONE = 2;
/** The power of coverage by which a pixel speaks for the subject: half covered ones hardly do. */
const OWN_WEIGHT = 10;
/** How far the subject's colours are carried into its soft edge, as a share of the picture's width. */
const REACH = 1 / 48;
const LEAST_RADIUS = 4;

/**
 * Takes the old background's colour out of a soft edge: where `alpha` (0..255, one byte a pixel) covers only in part, the
 * picture becomes the colour of the subject next to it, by `strength` 0..1. Colours are means of the surroundings weighted by
 * a power of the coverage, in two box filters; alpha of the picture stays. `out` is another picture of the same size.
 */
export function cleanEdge(image: Image, alpha: Uint8Array, strength: number, out: Image): void {
  const { width, height, data } = image;
  if (alpha.length !== width * height || out.data.length !== data.length) throw new RangeError('cleanEdge: sizes differ');
  out.data.set(data);
  const box = softBounds(alpha, width, height);
  if (box === null) return;
  const radius = Math.max(LEAST_RADIUS, Math.round(width * REACH));
  const left = Math.max(0, box.left - 2 * radius);
  const top = Math.max(0, box.top - 2 * radius);
  const w = Math.min(width, box.right + 2 * radius + 1) - left;
  const h = Math.min(height, box.bottom + 2 * radius + 1) - top;
  const planes = Array.from({ length: 4 }, () => new Float32Array(w * h));
  const [red, green, blue, weight] = planes as [Float32Array, Float32Array, Float32Array, Float32Array];
  for (let y = 0, o = 0; y < h; y++)
    for (let x = 0; x < w; x++, o++) {
      const i = (top + y) * width + left + x;
      const share = (alpha[i]! / 255) ** OWN_WEIGHT;
      weight[o] = share;
      red[o] = share * data[4 * i]!;
      green[o] = share * data[4 * i + 1]!;
      blue[o] = share * data[4 * i + 2]!;
    }
  const line = new Float32Array(Math.max(w, h));
  for (const plane of planes) for (let pass = 0; pass < 2; pass++) boxSums(plane, w, h, radius, line);
  for (let y = 0, o = 0; y < h; y++)
    for (let x = 0; x < w; x++, o++) {
      const i = (top + y) * width + left + x;
      const cover = alpha[i]!;
      if (cover >= OWN || cover <= NONE || weight[o]! < 1e-6) continue;
      // nearly whole pixels keep most of what they show
      const mix = strength * Math.min(1, (OWN - cover) / 60);
      const at = 4 * i;
      out.data[at] = data[at]! + mix * (red[o]! / weight[o]! - data[at]!);
      out.data[at + 1] = data[at + 1]! + mix * (green[o]! / weight[o]! - data[at + 1]!);
      out.data[at + 2] = data[at + 2]! + mix * (blue[o]! / weight[o]! - data[at + 2]!);
    }
}

interface Bounds {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

/** The box around all pixels that are covered in part; null when there is none. */
function softBounds(alpha: Uint8Array, width: number, height: number): Bounds | null {
  let [left, top, right, bottom] = [width, height, -1, -1];
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (alpha[i]! <= NONE || alpha[i]! >= OWN) continue;
      if (x < left) left = x;
      if (x > right) right = x;
      if (y < top) top = y;
      bottom = y;
    }
  return right < 0 ? null : { left, top, right, bottom };
}

/** Sums over 2·radius+1 pixels, across and then down; beyond the border there is nothing. */
function boxSums(data: Float32Array, width: number, height: number, radius: number, line: Float32Array): void {
  const filter = (start: number, stride: number, length: number): void => {
    for (let k = 0; k < length; k++) line[k] = data[start + k * stride]!;
    let sum = 0;
    for (let k = 0; k < Math.min(radius, length); k++) sum += line[k]!;
    for (let k = 0; k < length; k++) {
      if (k + radius < length) sum += line[k + radius]!;
      data[start + k * stride] = sum;
      if (k >= radius) sum -= line[k - radius]!;
    }
  };
  for (let y = 0; y < height; y++) filter(y * width, 1, width);
  for (let x = 0; x < width; x++) filter(x, width, height);
}
