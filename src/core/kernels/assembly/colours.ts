import { at, double, put, putDouble } from './numbers';

/** Numbers a component of a mixture: mean (3), inverse of the covariance's Cholesky factor (row by row, 6), log of weight / √det. */
const COMPONENT: usize = 80;
/** What rounding may leave of a variance. */
const TINY: f64 = 1e-6;
/** A share that counts. */
const LEAST_SHARE: f64 = 1e-6;
/** Pixels it takes to speak of a colour, and each further one. */
const LEAST_PIXELS = 4;
const PIXELS_A_COLOUR = 12;

function logOf(component: usize, a: f64, b: f64, c: f64): f64 {
  const x = a - load<f64>(component);
  const y = b - load<f64>(component, 8);
  const z = c - load<f64>(component, 16);
  const u = load<f64>(component, 24) * x;
  const v = load<f64>(component, 32) * x + load<f64>(component, 40) * y;
  const w = load<f64>(component, 48) * x + load<f64>(component, 56) * y + load<f64>(component, 64) * z;
  return load<f64>(component, 72) - 0.5 * (u * u + v * v + w * w);
}

/** Log density of a mixture at a colour, up to a constant: its largest term; the others add at most the log of their number. */
export function logDensity(mixture: usize, count: i32, a: f64, b: f64, c: f64): f64 {
  let top: f64 = -1e30;
  for (let k = 0, component = mixture; k < count; k++, component += COMPONENT) top = max<f64>(top, logOf(component, a, b, c));
  return top;
}

/**
 * Fits a mixture of at most `count` Gaussians to the `length` pixels whose numbers are at `places`, thinned evenly to about
 * `most`, and writes its components to `out`; gives how many there are, 0 with too few pixels. `scratch` holds
 * (4 + count)·2·most + 10·count 64-bit floats.
 */
export function fitColours(
  features: usize,
  places: usize,
  length: i32,
  count: i32,
  most: i32,
  rounds: i32,
  leastVariance: f64,
  scratch: usize,
  out: usize,
): i32 {
  const step = max<i32>(1, length / most);
  const n = (length + step - 1) / step;
  if (n < LEAST_PIXELS) return 0;
  const data = scratch;
  for (let i = 0, o = 0; i < length; i += step, o += 3) {
    const p = 3 * load<i32>(places + ((<usize>i) << 2));
    putDouble(data, o, at(features, p));
    putDouble(data, o + 1, at(features, p + 1));
    putDouble(data, o + 2, at(features, p + 2));
  }
  const labels = data + ((<usize>(3 * n)) << 3);
  const shares = labels + ((<usize>n) << 3);
  const wanted = max<i32>(1, min<i32>(count, n / PIXELS_A_COLOUR));
  const sums = shares + ((<usize>(n * wanted)) << 3);
  const k = splitByVariance(data, n, wanted, labels, sums);
  memory.fill(shares, 0, (<usize>(n * k)) << 3);
  for (let i = 0; i < n; i++) putDouble(shares, i * k + load<i32>(labels + ((<usize>i) << 2)), 1);
  estimate(data, n, k, shares, leastVariance, sums, out);
  for (let round = 0; round < rounds && k > 1; round++) {
    for (let i = 0; i < n; i++) {
      let top: f64 = -Infinity;
      for (let c = 0; c < k; c++) {
        const value = logOf(out + <usize>c * COMPONENT, double(data, 3 * i), double(data, 3 * i + 1), double(data, 3 * i + 2));
        putDouble(shares, i * k + c, value);
        top = max<f64>(top, value);
      }
      let sum: f64 = 0;
      for (let c = 0; c < k; c++) {
        const share = Math.exp(double(shares, i * k + c) - top);
        putDouble(shares, i * k + c, share);
        sum += share;
      }
      for (let c = 0; c < k; c++) putDouble(shares, i * k + c, double(shares, i * k + c) / sum);
    }
    estimate(data, n, k, shares, leastVariance, sums, out);
  }
  return k;
}

/** Splits the widest cluster along its longest axis until there are `count`, or nothing is left to split; gives how many there are. */
function splitByVariance(data: usize, n: i32, count: i32, labels: usize, sums: usize): i32 {
  memory.fill(labels, 0, (<usize>n) << 2);
  let clusters = 1;
  for (; clusters < count; clusters++) {
    // of each cluster: how many, the mean and the spread along three axes
    memory.fill(sums, 0, (<usize>(7 * clusters)) << 3);
    for (let i = 0; i < n; i++) {
      const s = 7 * load<i32>(labels + ((<usize>i) << 2));
      putDouble(sums, s, double(sums, s) + 1);
      for (let d = 0; d < 3; d++) putDouble(sums, s + 1 + d, double(sums, s + 1 + d) + double(data, 3 * i + d));
    }
    for (let c = 0; c < clusters; c++) {
      const size = max<f64>(1, double(sums, 7 * c));
      for (let d = 0; d < 3; d++) putDouble(sums, 7 * c + 1 + d, double(sums, 7 * c + 1 + d) / size);
    }
    for (let i = 0; i < n; i++) {
      const s = 7 * load<i32>(labels + ((<usize>i) << 2));
      for (let d = 0; d < 3; d++) {
        const off = double(data, 3 * i + d) - double(sums, s + 1 + d);
        putDouble(sums, s + 4 + d, double(sums, s + 4 + d) + off * off);
      }
    }
    let cluster = 0;
    let axis = 0;
    for (let c = 0; c < clusters; c++) {
      for (let d = 0; d < 3; d++) {
        if (double(sums, 7 * c + 4 + d) <= double(sums, 7 * cluster + 4 + axis)) continue;
        cluster = c;
        axis = d;
      }
    }
    if (double(sums, 7 * cluster) < 2 || double(sums, 7 * cluster + 4 + axis) == 0) break;
    const middle = double(sums, 7 * cluster + 1 + axis);
    for (let i = 0; i < n; i++) {
      const label = labels + ((<usize>i) << 2);
      if (load<i32>(label) == cluster && double(data, 3 * i + axis) > middle) store<i32>(label, clusters);
    }
  }
  return clusters;
}

function estimate(data: usize, n: i32, k: i32, shares: usize, leastVariance: f64, sums: usize, out: usize): void {
  memory.fill(sums, 0, (<usize>(10 * k)) << 3);
  for (let i = 0; i < n; i++) {
    const x = double(data, 3 * i);
    const y = double(data, 3 * i + 1);
    const z = double(data, 3 * i + 2);
    for (let c = 0; c < k; c++) {
      const w = double(shares, i * k + c);
      if (w < LEAST_SHARE) continue;
      const s = sums + <usize>c * COMPONENT;
      store<f64>(s, load<f64>(s) + w);
      store<f64>(s, load<f64>(s, 8) + w * x, 8);
      store<f64>(s, load<f64>(s, 16) + w * y, 16);
      store<f64>(s, load<f64>(s, 24) + w * z, 24);
      store<f64>(s, load<f64>(s, 32) + w * x * x, 32);
      store<f64>(s, load<f64>(s, 40) + w * x * y, 40);
      store<f64>(s, load<f64>(s, 48) + w * x * z, 48);
      store<f64>(s, load<f64>(s, 56) + w * y * y, 56);
      store<f64>(s, load<f64>(s, 64) + w * y * z, 64);
      store<f64>(s, load<f64>(s, 72) + w * z * z, 72);
    }
  }
  for (let c = 0; c < k; c++) {
    const s = sums + <usize>c * COMPONENT;
    const weight = max<f64>(1e-9, load<f64>(s));
    const mx = load<f64>(s, 8) / weight;
    const my = load<f64>(s, 16) / weight;
    const mz = load<f64>(s, 24) / weight;
    const xx = load<f64>(s, 32) / weight - mx * mx + leastVariance;
    const xy = load<f64>(s, 40) / weight - mx * my;
    const xz = load<f64>(s, 48) / weight - mx * mz;
    const yy = load<f64>(s, 56) / weight - my * my + leastVariance;
    const yz = load<f64>(s, 64) / weight - my * mz;
    const zz = load<f64>(s, 72) / weight - mz * mz + leastVariance;
    // covariance = L·Lᵀ; what is kept is L⁻¹
    const l00 = sqrt<f64>(max<f64>(TINY, xx));
    const l10 = xy / l00;
    const l20 = xz / l00;
    const l11 = sqrt<f64>(max<f64>(TINY, yy - l10 * l10));
    const l21 = (yz - l20 * l10) / l11;
    const l22 = sqrt<f64>(max<f64>(TINY, zz - l20 * l20 - l21 * l21));
    const o = out + <usize>c * COMPONENT;
    store<f64>(o, mx);
    store<f64>(o, my, 8);
    store<f64>(o, mz, 16);
    store<f64>(o, (1 as f64) / l00, 24);
    store<f64>(o, -l10 / (l00 * l11), 32);
    store<f64>(o, (1 as f64) / l11, 40);
    store<f64>(o, (l10 * l21 - l20 * l11) / (l00 * l11 * l22), 48);
    store<f64>(o, -l21 / (l11 * l22), 56);
    store<f64>(o, (1 as f64) / l22, 64);
    store<f64>(o, Math.log(weight / <f64>n) - Math.log(l00 * l11 * l22), 72);
  }
}

/**
 * To `out`, for those of `n` pixels where `asked` is not 0 (a byte each): how much the colour speaks for the mixture `inside`
 * against `outside`, as a log ratio of at most `most` either way. The others stay as they are.
 */
export function colourRatios(
  features: usize,
  asked: usize,
  n: i32,
  inside: usize,
  insides: i32,
  outside: usize,
  outsides: i32,
  most: f64,
  out: usize,
): void {
  for (let i = 0; i < n; i++) {
    if (load<u8>(asked + <usize>i) == 0) continue;
    const a: f64 = at(features, 3 * i);
    const b: f64 = at(features, 3 * i + 1);
    const c: f64 = at(features, 3 * i + 2);
    const ratio = logDensity(inside, insides, a, b, c) - logDensity(outside, outsides, a, b, c);
    put(out, i, <f32>max<f64>(-most, min<f64>(most, ratio)));
  }
}

/**
 * How well the colours of two mixtures tell apart the pixels `places` of a side, at the distances `signed` from its edge:
 * adds to the two 64-bit floats at `told` the share told right and all of it; pixels within about `near` of the edge matter most.
 */
export function judgeColours(
  features: usize,
  signed: usize,
  places: usize,
  length: i32,
  own: usize,
  owns: i32,
  other: usize,
  others: i32,
  near: f64,
  told: usize,
): void {
  let right: f64 = 0;
  let all: f64 = 0;
  for (let k = 0; k < length; k += 2) {
    const i = load<i32>(places + ((<usize>k) << 2));
    const a: f64 = at(features, 3 * i);
    const b: f64 = at(features, 3 * i + 1);
    const c: f64 = at(features, 3 * i + 2);
    const d = <f64>at(signed, i) / near;
    const weight = Math.exp(-0.5 * d * d);
    right += weight / (Math.exp(logDensity(other, others, a, b, c) - logDensity(own, owns, a, b, c)) + 1);
    all += weight;
  }
  store<f64>(told, load<f64>(told) + right);
  store<f64>(told, load<f64>(told, 8) + all, 8);
}

/** Log density under which a colour counts as never seen: some four standard deviations off. */
const UNKNOWN: f64 = -18;
/** Most that one window says of one pixel, as a log ratio, and what a colour that neither side has shown counts. */
const MOST: f64 = 4;
const UNKNOWN_COUNTS: f64 = 0.25;
/** How far beyond its own half width a window still counts, as a factor of its square. */
const WIDENED: f64 = 1.4;

/**
 * Adds to `ratios` and `votes`, where `band` is not 0, what a window around (x, y) of half width `radius` says of each pixel's
 * colour, weighted by `trust` and nearness, and those weights.
 */
export function vote(
  features: usize,
  band: usize,
  width: i32,
  height: i32,
  x: f64,
  y: f64,
  radius: i32,
  inside: usize,
  insides: i32,
  outside: usize,
  outsides: i32,
  trust: f64,
  ratios: usize,
  votes: usize,
): void {
  const column = <i32>floor<f64>(x + 0.5);
  const row = <i32>floor<f64>(y + 0.5);
  const left = max<i32>(0, column - radius);
  const right = min<i32>(width - 1, column + radius);
  const bottom = min<i32>(height - 1, row + radius);
  const falls = WIDENED * <f64>radius * <f64>radius;
  for (let py = max<i32>(0, row - radius); py <= bottom; py++) {
    for (let px = left, i = py * width + left; px <= right; px++, i++) {
      if (load<u8>(band + <usize>i) == 0) continue;
      const dx = <f64>px - x;
      const dy = <f64>py - y;
      const weight = trust - (trust * (dx * dx + dy * dy)) / falls;
      if (weight <= 0) continue;
      const a: f64 = at(features, 3 * i);
      const b: f64 = at(features, 3 * i + 1);
      const c: f64 = at(features, 3 * i + 2);
      const ins = logDensity(inside, insides, a, b, c);
      const outs = logDensity(outside, outsides, a, b, c);
      const known = max<f64>(ins, outs) < UNKNOWN ? UNKNOWN_COUNTS : 1;
      put(ratios, i, at(ratios, i) + <f32>(known * weight * max<f64>(-MOST, min<f64>(MOST, ins - outs))));
      put(votes, i, at(votes, i) + <f32>weight);
    }
  }
}
