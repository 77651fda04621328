import { beginCall, kernels, putBytes, putInts, reserve, takeBytes, takeInts } from '../kernels/kernels';

/** Steps to the eight neighbours; direction k and 7 − k are opposite. */
export const NEIGHBOUR_X = [-1, 0, 1, -1, 1, -1, 0, 1] as const;
export const NEIGHBOUR_Y = [-1, -1, -1, 0, 0, 1, 1, 1] as const;

/** Costs are kept as whole multiples of this share of 1, so that flows add up exactly. */
const GRAIN = 1 / 4096;

/**
 * Minimum cut of a graph whose nodes have up to eight neighbours, by growing two search trees that are kept between
 * augmentations (Boykov & Kolmogorov 2004). Made for pixels: edges are addressed by node and direction.
 * When leans change, the next cut goes on from the flow of the one before (Kohli & Torr 2007); the result is the same
 * as without it. Costs and leans may be up to 1e5. Memory is kept between graphs, so that one instance serves a run of frames.
 */
export class MinCut {
  private nodes = 0;
  /** Neighbour in each direction, −1 for none. */
  private neighbours = new Int32Array(0);
  /** What may still flow from a node in each direction. */
  private residual = new Int32Array(0);
  /** What was asked of each node. */
  private leans = new Int32Array(0);
  /** Positive: what may still come from the source; negative: what may still go to the sink. */
  private terminal = new Int32Array(0);
  /** 1 at the nodes that ended on the source's side. */
  private side = new Uint8Array(0);

  /** Starts a graph of `nodes` nodes without edges. */
  reset(nodes: number): void {
    if (this.terminal.length < nodes) {
      this.neighbours = new Int32Array(8 * nodes);
      this.residual = new Int32Array(8 * nodes);
      this.leans = new Int32Array(nodes);
      this.terminal = new Int32Array(nodes);
      this.side = new Uint8Array(nodes);
    }
    this.nodes = nodes;
    this.neighbours.fill(-1, 0, 8 * nodes);
    this.residual.fill(0, 0, 8 * nodes);
    this.leans.fill(0, 0, nodes);
    this.terminal.fill(0, 0, nodes);
  }

  /** What it costs to have the node on the sink's side or, where negative, on the source's; may be changed after a cut. */
  setLean(node: number, lean: number): void {
    const grains = Math.round(lean / GRAIN);
    this.terminal[node]! += grains - this.leans[node]!;
    this.leans[node] = grains;
  }

  /** Joins `node` and its neighbour `other` in direction `k`; cutting them apart costs `weight` either way. */
  connect(node: number, k: number, other: number, weight: number): void {
    this.neighbours[8 * node + k] = other;
    this.neighbours[8 * other + 7 - k] = node;
    this.residual[8 * node + k] = this.residual[8 * other + 7 - k] = Math.round(weight / GRAIN);
  }

  /** Computes the cut. Afterwards `isSource` tells the side of each node. */
  solve(): void {
    const { nodes } = this;
    const residual = this.residual.subarray(0, 8 * nodes);
    const terminal = this.terminal.subarray(0, nodes);
    const side = this.side.subarray(0, nodes);
    beginCall();
    const neighbours = putInts(this.neighbours.subarray(0, 8 * nodes));
    const [flows, ends, sides] = [putInts(residual), putInts(terminal), putBytes(side)];
    kernels.solveCut(nodes, neighbours, flows, ends, sides, reserve(6 * nodes + 8));
    takeInts(flows, residual);
    takeInts(ends, terminal);
    takeBytes(sides, side);
  }

  /** True when the node ended on the source's side. */
  isSource(node: number): boolean {
    return this.side[node] === 1;
  }
}
