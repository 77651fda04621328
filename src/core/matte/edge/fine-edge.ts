import { boundsOf, cropPlane } from '../../image/plane';
import type { Plane } from '../../image/pixels';
import { beginCall, kernels, putBytes, putFloats, reserve, takeFloats } from '../../kernels/kernels';
import { cropFeatures } from '../cut/features';

/** Coverage less than which a pixel shows the outside's own colour. */
const OUTSIDE = 0.02;
/** Half width of the windows in which coverage follows colour. */
const RADIUS = 3;
/** So many pixels of the outside, up to so far around, show colours that a pixel may be like. */
const SPREAD = 200;
const AROUND = 60;
/** A colour that nothing is like. */
const NOWHERE = 1e6;

/**
 * Coverage of hair and other edges that are too fine to be cut, where `unknown` is 1 (elsewhere 0), by colour: each such pixel is a mixture
 * of a colour of the inside and one of the outside, the pair found around it that explains it best (Wang & Cohen 2007), or is like
 * the outside somewhere near; then coverage follows colour in small windows, the sure answers first (He et al. 2013). Elsewhere
 * `alpha`, 0..1, is known and stays; where unknown it is overwritten. `features` are three numbers a pixel.
 */
export function fineEdge(features: Float32Array, unknown: Plane, alpha: Plane): void {
  const region = boundsOf(unknown, 0.5, AROUND);
  if (region === null) return;
  const part = cropPlane(alpha, region);
  const asked = cropPlane(unknown, region);
  const colours = cropFeatures(features, alpha.width, region);
  const { width, height } = part;
  const n = width * height;
  beginCall();
  const [seen, covered, weight] = [putFloats(colours), putFloats(part.data), reserve(n)];
  const spread = spreadOutside(colours, asked.data, part);
  const unknowns = putBytes(Uint8Array.from(asked.data, (v) => (v === 0 ? 0 : 1)));
  kernels.mixColours(seen, unknowns, covered, width, height, putFloats(spread), spread.length / 5, reserve(16 * n), weight);
  kernels.followColour(seen, weight, covered, width, height, RADIUS, reserve(15 * n + width + 4));
  takeFloats(covered, part.data);
  for (let y = 0, i = 0; y < part.height; y++) {
    const row = (region.top + y) * alpha.width + region.left;
    for (let x = 0; x < part.width; x++, i++) if (asked.data[i] !== 0) alpha.data[row + x] = Math.max(0, Math.min(1, part.data[i]!));
  }
}

/** Colours of pixels that are known not to be covered, spread evenly over them, and where they are: five rows of a length that four divides. */
function spreadOutside(features: Float32Array, unknown: Float32Array, { width, data }: Plane): Float32Array {
  const found: number[] = [];
  for (let i = 0; i < data.length; i++) if (unknown[i] === 0 && data[i]! < OUTSIDE) found.push(i);
  const count = Math.min(found.length, SPREAD);
  const length = 4 * Math.ceil(count / 4);
  const out = new Float32Array(5 * length).fill(NOWHERE);
  for (let k = 0; k < count; k++) {
    const i = found[Math.floor((k * found.length) / count)]!;
    const numbers = [features[3 * i]!, features[3 * i + 1]!, features[3 * i + 2]!, i % width, Math.floor(i / width)];
    numbers.forEach((v, row) => (out[row * length + k] = v));
  }
  return out;
}
