import { beginCall, kernels, putBytes, putFloats, reserve, takeBytes, takeFloats } from '../../kernels/kernels';
import type { Differences } from './features';
import { MinCut } from './min-cut';

const FIXED = 1e4;

/** Costs of cutting each pixel from its neighbours in directions 4 to 7 (see min-cut), four a pixel; 0 where there is none. */
export interface Contrast {
  readonly width: number;
  readonly height: number;
  readonly costs: Float32Array;
}

/** The costs of an edge anywhere in the picture: `edgeCost` at most, little where neighbours differ (Boykov & Jolly 2001). */
export function contrastOf({ width, height, squared }: Differences, edgeCost: number): Contrast {
  const costs = new Float32Array(squared.length);
  beginCall();
  const out = putFloats(costs);
  kernels.contrastCosts(putFloats(squared), width * height, edgeCost, out);
  takeFloats(out, costs);
  return { width, height, costs };
}

/** Minimum cuts of one whole picture under one leaning after another, each found from the one before. */
export class WholeCut {
  private readonly graph: MinCut;

  constructor({ width, height, costs }: Contrast) {
    this.graph = new MinCut(width, height);
    for (let i = 0; i < width * height; i++) {
      for (let n = 4; n < 8; n++) {
        const cost = costs[4 * i + n - 4]!;
        if (cost > 0) this.graph.connect(i, n, cost);
      }
    }
  }

  /** Minimum cut of `lean`, one number a pixel (positive: rather inside), and of contrast. @returns 1 inside, 0 outside */
  cut(lean: Float32Array): Uint8Array {
    const { graph } = this;
    for (let i = 0; i < lean.length; i++) graph.setLean(i, Math.max(-FIXED, Math.min(FIXED, lean[i]!)));
    graph.solve();
    const inside = new Uint8Array(lean.length);
    for (let i = 0; i < inside.length; i++) inside[i] = graph.isSource(i) ? 1 : 0;
    return inside;
  }
}

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
): Uint8Array {
  const inside = new Uint8Array(band.length);
  for (let i = 0; i < band.length; i++) inside[i] = signed[i]! > 0 ? 1 : 0;
  beginCall();
  const sides = putBytes(inside);
  const scratch = reserve(15 * (band.length + width + 16) + 8 * width);
  kernels.cutBand(putFloats(features), putBytes(band), putFloats(lean), sides, width, height, scratch);
  takeBytes(sides, inside);
  return inside;
}
