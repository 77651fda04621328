import { int, putInt } from './numbers';

const FREE: u8 = 0;
const SOURCE: u8 = 1;
const SINK: u8 = 2;

/** What stands for a parent: one of the eight directions, or these. */
const NONE = -1;
const TERMINAL = 8;
const ORPHAN = 9;

/** No way to a terminal. */
const NOWHERE = i32.MAX_VALUE;

/** Costs are kept as whole numbers of this many to 1, so that flows add up exactly. */
export const GRAINS: f64 = 4096;

/** One pixel of the graph. */
@unmanaged
class Node {
  /** When its way to the terminal was known last, and how many steps it has. */
  stamp: i32;
  distance: i32;
  /** Positive: what may still come from the source; negative: what may still go to the sink. */
  terminal: i32;
  tree: u8;
  parent: i8;
  queued: u8;
}

/** Bytes of a node. */
const SIZE: usize = 16;

// The graph in hand.
let nodes: usize = 0;
/** Eight numbers a node: what may still flow in each direction. */
let residual: usize = 0;
/** From a node to its neighbour in each direction, in nodes; direction k and 7 − k are opposite. */
const steps = memory.data(32, 16);
/** Nodes that may grow, each in it once, and those that have lost their parent; rings of `most` and one more. */
let most = 0;
let queue: usize = 0;
let head = 0;
let tail = 0;
let orphans: usize = 0;
let firstOrphan = 0;
let lastOrphan = 0;
let clock = 0;

function nodeAt(i: i32): Node {
  return changetype<Node>(nodes + <usize>i * SIZE);
}

/**
 * Minimum cut of a grid of pixels by growing two search trees that are kept between augmentations (Boykov & Kolmogorov 2004),
 * going on from the flow that `residual` (eight numbers a pixel, with a margin of 8·(width + 1) zeros before and behind) and
 * `terminal` hold. Afterwards `source` has 1 for the pixels on the source's side (a byte each). `scratch` holds six numbers
 * a pixel and 8·width + 16 more, on 16 bytes.
 */
export function solveCut(width: i32, height: i32, residualAt: usize, terminal: usize, source: usize, scratch: usize): void {
  const n = width * height;
  const margin = <usize>(width + 1) * SIZE;
  const bytes = <usize>n * SIZE;
  residual = residualAt;
  nodes = scratch + margin;
  queue = nodes + bytes + margin;
  orphans = queue + ((<usize>(n + 1)) << 2);
  most = n;
  head = tail = firstOrphan = lastOrphan = clock = 0;
  memory.fill(scratch, 0, bytes + 2 * margin);
  for (let k = 0; k < 8; k++) {
    // in reading order without the middle
    const place = k < 4 ? k : k + 1;
    putInt(steps, k, (place / 3 - 1) * width + (place % 3) - 1);
  }
  for (let i = 0; i < n; i++) {
    const t = int(terminal, i);
    const node = nodeAt(i);
    node.terminal = t;
    node.parent = <i8>(t == 0 ? NONE : TERMINAL);
    if (t == 0) continue;
    node.tree = t > 0 ? SOURCE : SINK;
    node.distance = 1;
    activate(i);
  }
  run();
  for (let i = 0; i < n; i++) {
    const node = nodeAt(i);
    putInt(terminal, i, node.terminal);
    store<u8>(source + <usize>i, node.tree == SOURCE ? 1 : 0);
  }
}

function run(): void {
  let current = NONE;
  while (true) {
    if (current == NONE || nodeAt(current).tree == FREE) current = nextActive();
    if (current == NONE) return;
    const bridge = grow(current);
    clock++;
    if (bridge == NONE) current = NONE;
    else {
      // stays current: it may have more to give
      augment(bridge);
      adopt();
    }
  }
}

function activate(i: i32): void {
  const node = nodeAt(i);
  if (node.queued == 1) return;
  node.queued = 1;
  putInt(queue, tail, i);
  tail = tail == most ? 0 : tail + 1;
}

function nextActive(): i32 {
  while (head != tail) {
    const i = int(queue, head);
    head = head == most ? 0 : head + 1;
    const node = nodeAt(i);
    node.queued = 0;
    if (node.tree != FREE) return i;
  }
  return NONE;
}

/** Grows the tree at pixel `i`; gives the edge from the source's to the sink's tree (8·pixel + direction), or none. */
function grow(i: i32): i32 {
  const node = nodeAt(i);
  const side = node.tree;
  const further = node.distance + 1;
  for (let k = 0; k < 8; k++) {
    const j = i + int(steps, k);
    const edge = side == SOURCE ? 8 * i + k : 8 * j + 7 - k;
    if (int(residual, edge) <= 0) continue;
    const other = nodeAt(j);
    if (other.tree == FREE) {
      other.tree = side;
      other.parent = <i8>(7 - k);
      other.stamp = node.stamp;
      other.distance = further;
      activate(j);
    } else if (other.tree != side) return edge;
    else if (other.stamp <= node.stamp && other.distance >= further) {
      // a shorter way to the terminal
      other.parent = <i8>(7 - k);
      other.stamp = node.stamp;
      other.distance = further;
    }
  }
  return NONE;
}

/** Sends what the way over `bridge` can take from terminal to terminal. */
function augment(bridge: i32): void {
  const from = bridge >> 3;
  const to = from + int(steps, bridge & 7);
  let flow = int(residual, bridge);
  let i = from;
  for (let k: i32 = nodeAt(i).parent; k != TERMINAL; k = nodeAt(i).parent) {
    i += int(steps, k);
    flow = min<i32>(flow, int(residual, 8 * i + 7 - k));
  }
  flow = min<i32>(flow, nodeAt(i).terminal);
  i = to;
  for (let k: i32 = nodeAt(i).parent; k != TERMINAL; k = nodeAt(i).parent) {
    flow = min<i32>(flow, int(residual, 8 * i + k));
    i += int(steps, k);
  }
  flow = min<i32>(flow, -nodeAt(i).terminal);

  push(bridge, 8 * to + 7 - (bridge & 7), flow);
  i = from;
  for (let k: i32 = nodeAt(i).parent; k != TERMINAL; k = nodeAt(i).parent) {
    const up = i + int(steps, k);
    if (push(8 * up + 7 - k, 8 * i + k, flow) <= 0) orphan(i);
    i = up;
  }
  let root = nodeAt(i);
  root.terminal -= flow;
  if (root.terminal <= 0) orphan(i);
  i = to;
  for (let k: i32 = nodeAt(i).parent; k != TERMINAL; k = nodeAt(i).parent) {
    const up = i + int(steps, k);
    if (push(8 * i + k, 8 * up + 7 - k, flow) <= 0) orphan(i);
    i = up;
  }
  root = nodeAt(i);
  root.terminal += flow;
  if (root.terminal >= 0) orphan(i);
}

/** Sends `flow` along `edge`, whose other direction is `back`; gives what may still flow. */
function push(edge: i32, back: i32, flow: i32): i32 {
  const left = int(residual, edge) - flow;
  putInt(residual, edge, left);
  putInt(residual, back, int(residual, back) + flow);
  return left;
}

function orphan(i: i32): void {
  nodeAt(i).parent = <i8>ORPHAN;
  putInt(orphans, lastOrphan, i);
  lastOrphan = lastOrphan == most ? 0 : lastOrphan + 1;
}

/** Finds new parents for the orphans, or frees them. */
function adopt(): void {
  while (firstOrphan != lastOrphan) {
    const i = int(orphans, firstOrphan);
    firstOrphan = firstOrphan == most ? 0 : firstOrphan + 1;
    const node = nodeAt(i);
    const side = node.tree;
    let best = NONE;
    let least = NOWHERE;
    for (let k = 0; k < 8; k++) {
      const j = i + int(steps, k);
      if (int(residual, side == SOURCE ? 8 * j + 7 - k : 8 * i + k) <= 0 || nodeAt(j).tree != side) continue;
      const length = distanceToTerminal(j);
      if (length >= least) continue;
      best = k;
      least = length;
    }
    if (best != NONE) {
      node.parent = <i8>best;
      node.stamp = clock;
      node.distance = least + 1;
      continue;
    }
    for (let k = 0; k < 8; k++) {
      const j = i + int(steps, k);
      const other = nodeAt(j);
      if (other.tree != side) continue;
      if (int(residual, side == SOURCE ? 8 * j + 7 - k : 8 * i + k) > 0) activate(j);
      if (other.parent == 7 - k) orphan(j);
    }
    node.tree = FREE;
    node.parent = <i8>NONE;
  }
}

/** Steps from pixel `start` to its terminal, marking the way as known; `NOWHERE` when the way ends at an orphan. */
function distanceToTerminal(start: i32): i32 {
  let length = 0;
  let i = start;
  let node = nodeAt(i);
  while (node.stamp != clock) {
    const up: i32 = node.parent;
    if (up == TERMINAL) {
      node.stamp = clock;
      node.distance = 1;
      break;
    }
    if (up == ORPHAN || up == NONE) return NOWHERE;
    length++;
    i += int(steps, up);
    node = nodeAt(i);
  }
  length += node.distance;
  i = start;
  node = nodeAt(i);
  for (let left = length; node.stamp != clock; left--) {
    node.stamp = clock;
    node.distance = left;
    i += int(steps, node.parent);
    node = nodeAt(i);
  }
  return length;
}
