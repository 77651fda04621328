import type { Image } from '../../image/pixels';
import { beginCall, kernels, putBytes, putFloats, reserve, takeBytes, wordAt } from '../../kernels/kernels';

/** Coverage from which a pixel counts as the subject's own colour, and under which it has none. */
const OWN = 245;
const NONE = 2;
/** The power of coverage by which a pixel speaks for the subject: half covered ones hardly do. */
const OWN_WEIGHTS = Float32Array.from({ length: 256 }, (_, cover) => (cover / 255) ** 10);
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
  beginCall();
  const [picture, cover, found] = [putBytes(data), putBytes(alpha), reserve(4)];
  kernels.softPart(cover, width, height, NONE, OWN, found);
  const box = { left: wordAt(found, 0), top: wordAt(found, 1), right: wordAt(found, 2), bottom: wordAt(found, 3) };
  if (box.right === 0) return;
  const radius = Math.max(LEAST_RADIUS, Math.round(width * REACH));
  const left = Math.max(0, box.left - 2 * radius);
  const top = Math.max(0, box.top - 2 * radius);
  const right = Math.min(width, box.right + 2 * radius);
  const bottom = Math.min(height, box.bottom + 2 * radius);
  const [across, down] = [right - left, bottom - top];
  const scratch = reserve(across * down + Math.max(across, down), 16);
  const cleaned = putBytes(out.data);
  const part = [left, top, right, bottom] as const;
  kernels.cleanSoftEdge(picture, cover, width, ...part, radius, NONE, OWN, strength, putFloats(OWN_WEIGHTS), scratch, cleaned);
  takeBytes(cleaned, out.data);
}
