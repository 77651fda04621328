/** Steps to the eight neighbours; direction k and 7 − k are opposite. */
export const NEIGHBOUR_X = [-1, 0, 1, -1, 1, -1, 0, 1] as const;
export const NEIGHBOUR_Y = [-1, -1, -1, 0, 0, 1, 1, 1] as const;

const FREE = 0;
const SOURCE = 1;
const SINK = 2;

/** Costs are kept as whole multiples of this share of 1, so that flows add up exactly. */
const GRAIN = 1 / 4096;

const NONE = -1;
const TERMINAL = 8;
const ORPHAN = 9;

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
  private tree = new Uint8Array(0);
  private parent = new Int8Array(0);
  private stamp = new Int32Array(0);
  private distance = new Int32Array(0);
  private queued = new Uint8Array(0);
  private queue = new Int32Array(0);
  private head = 0;
  private tail = 0;
  private clock = 0;
  private orphans: number[] = [];

  /** Starts a graph of `nodes` nodes without edges. */
  reset(nodes: number): void {
    if (this.terminal.length < nodes) {
      this.neighbours = new Int32Array(8 * nodes);
      this.residual = new Int32Array(8 * nodes);
      this.leans = new Int32Array(nodes);
      this.terminal = new Int32Array(nodes);
      this.tree = new Uint8Array(nodes);
      this.parent = new Int8Array(nodes);
      this.stamp = new Int32Array(nodes);
      this.distance = new Int32Array(nodes);
      this.queued = new Uint8Array(nodes);
      this.queue = new Int32Array(nodes + 1);
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
    const { nodes, terminal, tree, parent } = this;
    this.head = this.tail = 0;
    this.clock = 0;
    this.queued.fill(0, 0, nodes);
    this.stamp.fill(0, 0, nodes);
    for (let i = 0; i < nodes; i++) {
      const t = terminal[i]!;
      if (t === 0) {
        tree[i] = FREE;
        parent[i] = NONE;
      } else {
        tree[i] = t > 0 ? SOURCE : SINK;
        parent[i] = TERMINAL;
        this.distance[i] = 1;
        this.activate(i);
      }
    }
    for (let current = NONE; ;) {
      if (current === NONE || tree[current] === FREE) current = this.nextActive();
      if (current === NONE) return;
      const bridge = this.grow(current);
      this.clock++;
      if (bridge < 0) current = NONE;
      else {
        // stays current: it may have more to give
        this.augment(bridge);
        this.adopt();
      }
    }
  }

  /** True when the node ended on the source's side. */
  isSource(node: number): boolean {
    return this.tree[node] === SOURCE;
  }

  private activate(node: number): void {
    if (this.queued[node] === 1) return;
    this.queued[node] = 1;
    this.queue[this.tail] = node;
    this.tail = this.tail + 1 > this.nodes ? 0 : this.tail + 1;
  }

  private nextActive(): number {
    while (this.head !== this.tail) {
      const node = this.queue[this.head]!;
      this.head = this.head + 1 > this.nodes ? 0 : this.head + 1;
      this.queued[node] = 0;
      if (this.tree[node] !== FREE) return node;
    }
    return NONE;
  }

  /** Grows the tree at `node`; gives the edge from the source's to the sink's tree (8·node + direction) or −1. */
  private grow(node: number): number {
    const { neighbours, residual, tree, parent, stamp, distance } = this;
    const base = 8 * node;
    const side = tree[node]!;
    for (let k = 0; k < 8; k++) {
      const other = neighbours[base + k]!;
      if (other < 0) continue;
      const room = side === SOURCE ? residual[base + k]! : residual[8 * other + 7 - k]!;
      if (room <= 0) continue;
      if (tree[other] === FREE) {
        tree[other] = side;
        parent[other] = 7 - k;
        stamp[other] = stamp[node]!;
        distance[other] = distance[node]! + 1;
        this.activate(other);
      } else if (tree[other] !== side) return side === SOURCE ? base + k : 8 * other + 7 - k;
      else if (stamp[other]! <= stamp[node]! && distance[other]! > distance[node]!) {
        // a shorter way to the terminal
        parent[other] = 7 - k;
        stamp[other] = stamp[node]!;
        distance[other] = distance[node]! + 1;
      }
    }
    return -1;
  }

  private augment(bridge: number): void {
    const { neighbours, residual, terminal, parent } = this;
    const from = bridge >> 3;
    const to = neighbours[bridge]!;
    let bottleneck = residual[bridge]!;
    let node = from;
    while (parent[node] !== TERMINAL) {
      const up = neighbours[8 * node + parent[node]!]!;
      bottleneck = Math.min(bottleneck, residual[8 * up + 7 - parent[node]!]!);
      node = up;
    }
    bottleneck = Math.min(bottleneck, terminal[node]!);
    node = to;
    while (parent[node] !== TERMINAL) {
      bottleneck = Math.min(bottleneck, residual[8 * node + parent[node]!]!);
      node = neighbours[8 * node + parent[node]!]!;
    }
    bottleneck = Math.min(bottleneck, -terminal[node]!);

    residual[bridge] = residual[bridge]! - bottleneck;
    residual[8 * to + 7 - (bridge & 7)]! += bottleneck;
    node = from;
    while (parent[node] !== TERMINAL) {
      const k = parent[node]!;
      const up = neighbours[8 * node + k]!;
      residual[8 * node + k]! += bottleneck;
      const left = residual[8 * up + 7 - k]! - bottleneck;
      residual[8 * up + 7 - k] = left;
      if (left <= 0) this.orphan(node);
      node = up;
    }
    terminal[node]! -= bottleneck;
    if (terminal[node]! <= 0) this.orphan(node);
    node = to;
    while (parent[node] !== TERMINAL) {
      const k = parent[node]!;
      const up = neighbours[8 * node + k]!;
      residual[8 * up + 7 - k]! += bottleneck;
      const left = residual[8 * node + k]! - bottleneck;
      residual[8 * node + k] = left;
      if (left <= 0) this.orphan(node);
      node = up;
    }
    terminal[node]! += bottleneck;
    if (terminal[node]! >= 0) this.orphan(node);
  }

  private orphan(node: number): void {
    this.parent[node] = ORPHAN;
    this.orphans.push(node);
  }

  private adopt(): void {
    const { neighbours, residual, tree, parent, stamp, distance, orphans } = this;
    for (let i = 0; i < orphans.length; i++) {
      const node = orphans[i]!;
      const side = tree[node]!;
      const base = 8 * node;
      let best = NONE;
      let bestDistance = Infinity;
      for (let k = 0; k < 8; k++) {
        const other = neighbours[base + k]!;
        if (other < 0 || tree[other] !== side) continue;
        const room = side === SOURCE ? residual[8 * other + 7 - k]! : residual[base + k]!;
        if (room <= 0) continue;
        const length = this.distanceToTerminal(other);
        if (length < bestDistance) {
          best = k;
          bestDistance = length;
        }
      }
      if (best !== NONE) {
        parent[node] = best;
        stamp[node] = this.clock;
        distance[node] = bestDistance + 1;
        continue;
      }
      for (let k = 0; k < 8; k++) {
        const other = neighbours[base + k]!;
        if (other < 0 || tree[other] !== side) continue;
        const room = side === SOURCE ? residual[8 * other + 7 - k]! : residual[base + k]!;
        if (room > 0) this.activate(other);
        const up = parent[other]!;
        if (up >= 0 && up < TERMINAL && neighbours[8 * other + up] === node) this.orphan(other);
      }
      tree[node] = FREE;
      parent[node] = NONE;
    }
    orphans.length = 0;
  }

  /** Steps from `node` to its terminal, marking the way as known; Infinity when the way ends at an orphan. */
  private distanceToTerminal(start: number): number {
    const { neighbours, parent, stamp, distance, clock } = this;
    let steps = 0;
    let node = start;
    for (;;) {
      if (stamp[node] === clock) {
        steps += distance[node]!;
        break;
      }
      const up = parent[node]!;
      if (up === TERMINAL) {
        stamp[node] = clock;
        distance[node] = 1;
        steps += 1;
        break;
      }
      if (up === ORPHAN || up === NONE) return Infinity;
      steps++;
      node = neighbours[8 * node + up]!;
    }
    for (let back = start, left = steps; stamp[back] !== clock; left--) {
      stamp[back] = clock;
      distance[back] = left;
      back = neighbours[8 * back + parent[back]!]!;
    }
    return steps;
  }
}
