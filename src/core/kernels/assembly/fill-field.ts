import { Field } from './field';
import { at, clamped, put } from './numbers';

/** Weight of what lies around against a cell's own full trust. */
const AROUND: f32 = 0.08;
/** Numbers at the head of a level in the pyramid: its sides. */
const HEAD = 2;

/**
 * Fills cells without trust from those around and smooths the rest a little, by a pull–push pyramid (Gortler et al. 1996).
 * `scratch` holds 8 numbers a cell and 256 more.
 */
export function pullPush(field: Field, scratch: usize): void {
  const n = field.width * field.height;
  const u = field.u;
  const v = field.v;
  const trust = field.trust;
  for (let i = 0; i < n; i++) {
    const w = at(trust, i);
    put(u, i, at(u, i) * w);
    put(v, i, at(v, i) * w);
  }
  // each level behind the one before: width, height, then u, v and weight
  let level = scratch;
  setHead(level, field.width, field.height);
  const first = level + (HEAD << 2);
  memory.copy(first, u, (<usize>n) << 2);
  memory.copy(first + ((<usize>n) << 2), v, (<usize>n) << 2);
  memory.copy(first + ((<usize>n) << 3), trust, (<usize>n) << 2);
  let levels = 1;
  while (load<i32>(level) > 1 || load<i32>(level, 4) > 1) {
    level = halveSums(level);
    levels++;
  }
  // the top level's own mean, then down again in place
  const top = level + (HEAD << 2);
  const base = max<f32>(1e-9, at(top, 2));
  put(top, 0, at(top, 0) / base);
  put(top, 1, at(top, 1) / base);
  while (--levels > 0) {
    const below = levelBefore(scratch, levels);
    push(level, below);
    level = below;
  }
  memory.copy(u, first, (<usize>n) << 2);
  memory.copy(v, first + ((<usize>n) << 2), (<usize>n) << 2);
}

function setHead(level: usize, width: i32, height: i32): void {
  store<i32>(level, width);
  store<i32>(level, height, 4);
}

function after(level: usize): usize {
  return level + ((<usize>(HEAD + 3 * load<i32>(level) * load<i32>(level, 4))) << 2);
}

/** The level at place `count` - 1 of those from `level` on. */
function levelBefore(level: usize, count: i32): usize {
  for (let k = 1; k < count; k++) level = after(level);
  return level;
}

/** Adds up blocks of 2×2 to a new level behind `level`, whose place it gives. */
function halveSums(level: usize): usize {
  const width = load<i32>(level);
  const height = load<i32>(level, 4);
  const out = after(level);
  const across = (width + 1) >> 1;
  const down = (height + 1) >> 1;
  setHead(out, across, down);
  const from = level + (HEAD << 2);
  const to = out + (HEAD << 2);
  for (let plane = 0; plane < 3; plane++) {
    const source = from + ((<usize>(plane * width * height)) << 2);
    const target = to + ((<usize>(plane * across * down)) << 2);
    for (let y = 0; y < down; y++) {
      const upper = source + ((<usize>(2 * y * width)) << 2);
      const hasLower = 2 * y + 1 < height;
      const lower = hasLower ? upper + ((<usize>width) << 2) : upper;
      const row = target + ((<usize>(y * across)) << 2);
      for (let x = 0; x < across; x++) {
        const hasRight = 2 * x + 1 < width;
        let sum = at(upper, 2 * x);
        if (hasRight) sum += at(upper, 2 * x + 1);
        if (hasLower) {
          sum += at(lower, 2 * x);
          if (hasRight) sum += at(lower, 2 * x + 1);
        }
        put(row, x, sum);
      }
    }
  }
  return out;
}

/** Brings the values of a level down to the one before it, where that has too little weight of its own. */
function push(level: usize, below: usize): void {
  const across = load<i32>(level);
  const down = load<i32>(level, 4);
  const width = load<i32>(below);
  const height = load<i32>(below, 4);
  const fromU = level + (HEAD << 2);
  const fromV = fromU + ((<usize>(across * down)) << 2);
  const u = below + (HEAD << 2);
  const v = u + ((<usize>(width * height)) << 2);
  const weights = v + ((<usize>(width * height)) << 2);
  for (let y = 0, i = 0; y < height; y++) {
    const py = clamped(0.5 * <f32>y - 0.25, <f32>(down - 1));
    const row = <i32>py * across;
    const lower = <i32>py + 1 < down ? across : 0;
    const fy = py - <f32>(<i32>py);
    for (let x = 0; x < width; x++, i++) {
      const px = clamped(0.5 * <f32>x - 0.25, <f32>(across - 1));
      const column = <i32>px;
      const fx = px - <f32>column;
      const o = row + column;
      const right = column + 1 < across ? 1 : 0;
      const d = fx * fy;
      const c = fy - d;
      const b = fx - d;
      const a = (1 as f32) - fx - c;
      const aroundU = a * at(fromU, o) + b * at(fromU, o + right) + c * at(fromU, o + lower) + d * at(fromU, o + lower + right);
      const aroundV = a * at(fromV, o) + b * at(fromV, o + right) + c * at(fromV, o + lower) + d * at(fromV, o + lower + right);
      const inverse: f32 = 1 / (at(weights, i) + AROUND);
      put(u, i, (at(u, i) + AROUND * aroundU) * inverse);
      put(v, i, (at(v, i) + AROUND * aroundV) * inverse);
    }
  }
}
