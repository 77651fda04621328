import { featureDistance } from './features';
import { MinCut, NEIGHBOUR_X, NEIGHBOUR_Y } from './min-cut';

/** What it costs, at most, to lay the edge between two neighbours. */
const EDGE_COST = 3;
const FIXED = 1e4;

const graph = new MinCut();

/**
 * Places the edge inside `band` (1 where it may lie): minimum cut of `lean` (positive: rather inside) and of contrast,
 * which makes the edge cheap where neighbours differ. Outside the band the sign of `signed` decides.
 * @returns 1 inside, 0 outside
 */
export function cutBand(
  features: Float32Array,
  band: Uint8Array,
  signed: Float32Array,
  lean: Float32Array,
  width: number,
  height: number,
  edgeCost = EDGE_COST,
): Uint8Array {
  const node = new Int32Array(band.length).fill(-1);
  const pixels: number[] = [];
  for (let i = 0; i < band.length; i++)
    if (band[i] === 1) {
      node[i] = pixels.length;
      pixels.push(i);
    }
  const inside = new Uint8Array(band.length);
  for (let i = 0; i < band.length; i++) inside[i] = signed[i]! > 0 ? 1 : 0;
  if (pixels.length === 0) return inside;
  // mean squared difference of neighbours in the band (Boykov & Jolly 2001)
  let sum = 0;
  let count = 0;
  for (const i of pixels) {
    const x = i % width;
    if (x + 1 < width) {
      sum += featureDistance(features, i, i + 1);
      count++;
    }
    if (i + width < band.length) {
      sum += featureDistance(features, i, i + width);
      count++;
    }
  }
  const beta = 1 / Math.max(8, (1.4 * sum) / Math.max(1, count));
  graph.reset(pixels.length);
  for (let k = 0; k < pixels.length; k++) {
    const i = pixels[k]!;
    const x = i % width;
    const y = (i - x) / width;
    let value = lean[i]!;
    for (let n = 0; n < 8; n++) {
      const nx = x + NEIGHBOUR_X[n]!;
      const ny = y + NEIGHBOUR_Y[n]!;
      if (nx < 0 || ny < 0 || nx >= width || ny >= height) continue;
      const other = ny * width + nx;
      const diagonal = NEIGHBOUR_X[n] !== 0 && NEIGHBOUR_Y[n] !== 0;
      const weight = (edgeCost * (0.04 + 0.96 * Math.exp(-beta * featureDistance(features, i, other)))) / (diagonal ? Math.SQRT2 : 1);
      if (node[other]! < 0) value += signed[other]! > 0 ? weight : -weight;
      else if (n >= 4) graph.connect(k, n, node[other]!, weight);
    }
    value = Math.max(-FIXED, Math.min(FIXED, value));
    graph.setTerminal(k, Math.max(0, value), Math.max(0, -value));
  }
  graph.solve();
  for (let k = 0; k < pixels.length; k++) inside[pixels[k]!] = graph.isSource(k) ? 1 : 0;
  return inside;
}
