import { signedDistance } from '../image/distance';
import type { Plane } from '../image/plane';

/** Half width of the band along the edge that may be partly covered. */
const SOFT_PX = 3;
const RADIUS = 4;

/**
 * Coverage along a cut edge from the picture itself: within the band, each pixel's share between the mean colours
 * found on either side close by, as far as those differ; elsewhere the cut. `inside` is 1 or 0.
 */
export function coverAlongEdge(features: Float32Array, inside: Uint8Array, width: number, height: number, out: Plane): void {
  const signed = new Float32Array(inside.length);
  signedDistance(inside, width, height, signed);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const d = signed[i]!;
      if (Math.abs(d) > SOFT_PX) {
        out.data[i] = inside[i]!;
        continue;
      }
      const ramp = Math.max(0, Math.min(1, 0.5 + d / 2));
      out.data[i] = shareAt(features, signed, width, height, x, y, i, ramp);
    }
  }
}

function shareAt(
  features: Float32Array,
  signed: Float32Array,
  width: number,
  height: number,
  x: number,
  y: number,
  i: number,
  ramp: number,
): number {
  let [na, a0, a1, a2] = [0, 0, 0, 0];
  let [nb, b0, b1, b2] = [0, 0, 0, 0];
  const bottom = Math.min(height - 1, y + RADIUS);
  const right = Math.min(width - 1, x + RADIUS);
  for (let v = Math.max(0, y - RADIUS); v <= bottom; v++) {
    for (let u = Math.max(0, x - RADIUS), j = v * width + u; u <= right; u++, j++) {
      const d = signed[j]!;
      if (d > 1.8) {
        na++;
        a0 += features[3 * j]!;
        a1 += features[3 * j + 1]!;
        a2 += features[3 * j + 2]!;
      } else if (d < -1.8) {
        nb++;
        b0 += features[3 * j]!;
        b1 += features[3 * j + 1]!;
        b2 += features[3 * j + 2]!;
      }
    }
  }
  if (na < 3 || nb < 3) return ramp;
  const [d0, d1, d2] = [a0 / na - b0 / nb, a1 / na - b1 / nb, a2 / na - b2 / nb];
  const length = d0 * d0 + d1 * d1 + d2 * d2;
  const share =
    ((features[3 * i]! - b0 / nb) * d0 + (features[3 * i + 1]! - b1 / nb) * d1 + (features[3 * i + 2]! - b2 / nb) * d2) / (length + 1e-6);
  // colours that hardly differ say nothing about shares
  const trust = length / (length + 900);
  return trust * Math.max(0, Math.min(1, share)) + (1 - trust) * ramp;
}
