const FREE: u8 = 0;
const SOURCE: u8 = 1;
const SINK: u8 = 2;

/** What stands for a parent: one of the eight directions, or these. */
const NONE = -1;
const TERMINAL = 8;
const ORPHAN = 9;

/** No way to a terminal. */
const NOWHERE = i32.MAX_VALUE;

// The graph in hand. Eight numbers a node: its neighbour in each direction, −1 for none, and what may still flow there.
let count = 0;
let neighbours: usize = 0;
let residual: usize = 0;
/** Positive: what may still come from the source; negative: what may still go to the sink. */
let terminal: usize = 0;
let tree: usize = 0;
let parent: usize = 0;
let stamp: usize = 0;
let distance: usize = 0;
/** Nodes that may grow, in a ring of `count` + 1, each in it once. */
let queue: usize = 0;
let queued: usize = 0;
let head = 0;
let tail = 0;
/** Nodes that have lost their parent, in a ring of `count` + 1. */
let orphans: usize = 0;
let firstOrphan = 0;
let lastOrphan = 0;
let clock = 0;

/** Costs are kept as whole numbers of this many to 1, so that flows add up exactly. */
export const GRAINS: f64 = 4096;

export function int(array: usize, i: i32): i32 {
  return load<i32>(array + ((<usize>i) << 2));
}

export function putInt(array: usize, i: i32, value: i32): void {
  store<i32>(array + ((<usize>i) << 2), value);
}

function treeOf(node: i32): u8 {
  return load<u8>(tree + <usize>node);
}

function setTree(node: i32, side: u8): void {
  store<u8>(tree + <usize>node, side);
}

function parentOf(node: i32): i32 {
  return <i32>load<i8>(parent + <usize>node);
}

function setParent(node: i32, k: i32): void {
  store<i8>(parent + <usize>node, <i8>k);
}

/**
 * Minimum cut by growing two search trees that are kept between augmentations (Boykov & Kolmogorov 2004), going on from the
 * flow that `residual` and `terminal` hold. Afterwards `tree` has 1 for the nodes on the source's side (a byte each).
 * `scratch` holds six numbers a node and 8 more.
 */
export function solveCut(nodes: i32, neighboursAt: usize, residualAt: usize, terminalAt: usize, treeAt: usize, scratch: usize): void {
  const bytes = (<usize>nodes) << 2;
  count = nodes;
  neighbours = neighboursAt;
  residual = residualAt;
  terminal = terminalAt;
  tree = treeAt;
  stamp = scratch;
  distance = stamp + bytes;
  queue = distance + bytes;
  orphans = queue + bytes + 4;
  parent = orphans + bytes + 4;
  queued = parent + <usize>nodes;
  head = tail = firstOrphan = lastOrphan = clock = 0;
  memory.fill(stamp, 0, bytes);
  memory.fill(queued, 0, <usize>nodes);
  for (let i = 0; i < nodes; i++) {
    const t = int(terminal, i);
    if (t == 0) {
      setTree(i, FREE);
      setParent(i, NONE);
    } else {
      setTree(i, t > 0 ? SOURCE : SINK);
      setParent(i, TERMINAL);
      putInt(distance, i, 1);
      activate(i);
    }
  }
  let current = NONE;
  while (true) {
    if (current == NONE || treeOf(current) == FREE) current = nextActive();
    if (current == NONE) return;
    const bridge = grow(current);
    clock++;
    if (bridge < 0) current = NONE;
    else {
      // stays current: it may have more to give
      augment(bridge);
      adopt();
    }
  }
}

function activate(node: i32): void {
  if (load<u8>(queued + <usize>node) == 1) return;
  store<u8>(queued + <usize>node, 1);
  putInt(queue, tail, node);
  tail = tail == count ? 0 : tail + 1;
}

function nextActive(): i32 {
  while (head != tail) {
    const node = int(queue, head);
    head = head == count ? 0 : head + 1;
    store<u8>(queued + <usize>node, 0);
    if (treeOf(node) != FREE) return node;
  }
  return NONE;
}

/** What may still flow along the edge from `node` in direction `k`, to `other`, in the sense of the tree `side`. */
function room(side: u8, node: i32, k: i32, other: i32): i32 {
  return side == SOURCE ? int(residual, 8 * node + k) : int(residual, 8 * other + 7 - k);
}

/** Grows the tree at `node`; gives the edge from the source's to the sink's tree (8·node + direction) or −1. */
function grow(node: i32): i32 {
  const side = treeOf(node);
  const known = int(stamp, node);
  const further = int(distance, node) + 1;
  for (let k = 0; k < 8; k++) {
    const other = int(neighbours, 8 * node + k);
    if (other < 0 || room(side, node, k, other) <= 0) continue;
    const owner = treeOf(other);
    if (owner == FREE) {
      setTree(other, side);
      setParent(other, 7 - k);
      putInt(stamp, other, known);
      putInt(distance, other, further);
      activate(other);
    } else if (owner != side) return side == SOURCE ? 8 * node + k : 8 * other + 7 - k;
    else if (int(stamp, other) <= known && int(distance, other) >= further) {
      // a shorter way to the terminal
      setParent(other, 7 - k);
      putInt(stamp, other, known);
      putInt(distance, other, further);
    }
  }
  return -1;
}

function augment(bridge: i32): void {
  const from = bridge >> 3;
  const to = int(neighbours, bridge);
  let flow = int(residual, bridge);
  let node = from;
  for (let k = parentOf(node); k != TERMINAL; k = parentOf(node)) {
    const up = int(neighbours, 8 * node + k);
    flow = min<i32>(flow, int(residual, 8 * up + 7 - k));
    node = up;
  }
  flow = min<i32>(flow, int(terminal, node));
  node = to;
  for (let k = parentOf(node); k != TERMINAL; k = parentOf(node)) {
    flow = min<i32>(flow, int(residual, 8 * node + k));
    node = int(neighbours, 8 * node + k);
  }
  flow = min<i32>(flow, -int(terminal, node));

  push(bridge, 8 * to + 7 - (bridge & 7), flow);
  node = from;
  for (let k = parentOf(node); k != TERMINAL; k = parentOf(node)) {
    const up = int(neighbours, 8 * node + k);
    if (push(8 * up + 7 - k, 8 * node + k, flow) <= 0) orphan(node);
    node = up;
  }
  putInt(terminal, node, int(terminal, node) - flow);
  if (int(terminal, node) <= 0) orphan(node);
  node = to;
  for (let k = parentOf(node); k != TERMINAL; k = parentOf(node)) {
    const up = int(neighbours, 8 * node + k);
    if (push(8 * node + k, 8 * up + 7 - k, flow) <= 0) orphan(node);
    node = up;
  }
  putInt(terminal, node, int(terminal, node) + flow);
  if (int(terminal, node) >= 0) orphan(node);
}

/** Sends `flow` along `edge`, whose other direction is `back`; gives what may still flow. */
function push(edge: i32, back: i32, flow: i32): i32 {
  const left = int(residual, edge) - flow;
  putInt(residual, edge, left);
  putInt(residual, back, int(residual, back) + flow);
  return left;
}

function orphan(node: i32): void {
  setParent(node, ORPHAN);
  putInt(orphans, lastOrphan, node);
  lastOrphan = lastOrphan == count ? 0 : lastOrphan + 1;
}

/** Finds new parents for the orphans, or frees them. */
function adopt(): void {
  while (firstOrphan != lastOrphan) {
    const node = int(orphans, firstOrphan);
    firstOrphan = firstOrphan == count ? 0 : firstOrphan + 1;
    const side = treeOf(node);
    let best = NONE;
    let least = NOWHERE;
    for (let k = 0; k < 8; k++) {
      const other = int(neighbours, 8 * node + k);
      if (other < 0 || treeOf(other) != side || room(side, other, 7 - k, node) <= 0) continue;
      const length = distanceToTerminal(other);
      if (length >= least) continue;
      best = k;
      least = length;
    }
    if (best != NONE) {
      setParent(node, best);
      putInt(stamp, node, clock);
      putInt(distance, node, least + 1);
      continue;
    }
    for (let k = 0; k < 8; k++) {
      const other = int(neighbours, 8 * node + k);
      if (other < 0 || treeOf(other) != side) continue;
      if (room(side, other, 7 - k, node) > 0) activate(other);
      if (parentOf(other) == 7 - k) orphan(other);
    }
    setTree(node, FREE);
    setParent(node, NONE);
  }
}

/** Steps from `start` to its terminal, marking the way as known; `NOWHERE` when the way ends at an orphan. */
function distanceToTerminal(start: i32): i32 {
  let steps = 0;
  let node = start;
  while (int(stamp, node) != clock) {
    const up = parentOf(node);
    if (up == TERMINAL) {
      putInt(stamp, node, clock);
      putInt(distance, node, 1);
      break;
    }
    if (up == ORPHAN || up == NONE) return NOWHERE;
    steps++;
    node = int(neighbours, 8 * node + up);
  }
  steps += int(distance, node);
  for (let back = start, left = steps; int(stamp, back) != clock; left--) {
    putInt(stamp, back, clock);
    putInt(distance, back, left);
    back = int(neighbours, 8 * back + parentOf(back));
  }
  return steps;
}
