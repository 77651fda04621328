import type { Handle, ValueKey } from './curve';

/** How far a fitted curve may lie from its values, below and above. */
export interface Tolerance {
  readonly below: number;
  readonly above: number;
}

/**
 * As few keys as show a row of values, one a frame from `first` on: cubic pieces whose slopes are those of the values. Values that are to be spaced by
 * factors are given as logarithms, and `asValue` says what a key holds of one.
 * @returns a constant where all values are alike
 */
export function fittedKeys(
  values: readonly number[],
  first: number,
  tolerance: Tolerance,
  asValue: (v: number) => number = (v) => v,
): number | readonly ValueKey[] {
  const start = values[0] ?? 0;
  if (values.every((v) => Math.abs(v - start) <= Math.min(tolerance.below, tolerance.above))) return asValue(start);
  const slopes = values.map((_, i) => {
    const [before, after] = [values[Math.max(0, i - 1)]!, values[Math.min(values.length - 1, i + 1)]!];
    const [into, out] = [values[i]! - before, after - values[i]!];
    // level where it turns or comes to rest, so that it stays within its values
    if (i > 0 && i < values.length - 1 && into * out <= 0) return 0;
    return (after - before) / (Math.min(values.length - 1, i + 1) - Math.max(0, i - 1));
  });
  const knots = [0];
  for (let at = 0; at < values.length - 1;) {
    let next = at + 1;
    // the longest piece that fits; doubling first, then closing in
    let [good, bad] = [at + 1, values.length];
    for (let step = 2; at + step < values.length && fits(values, slopes, at, at + step, tolerance); step *= 2) good = at + step;
    for (let to = good + 1; to < Math.min(bad, good * 2 - at + 1); to++)
      if (fits(values, slopes, at, to, tolerance)) good = to;
      else bad = to;
    next = good;
    knots.push(next);
    at = next;
  }
  return knots.map((at, k): ValueKey => {
    const [before, after] = [knots[k - 1], knots[k + 1]];
    return {
      frame: first + at,
      value: asValue(values[at]!),
      into: before === undefined ? 'straight' : handle(values, slopes[at]!, before, at),
      out: after === undefined ? 'straight' : handle(values, slopes[at]!, at, after),
    };
  });
}

/** The handle of a third of the time whose slope is `slope`. */
function handle(values: readonly number[], slope: number, from: number, to: number): Handle | 'straight' {
  const way = values[to]! - values[from]!;
  return Math.abs(way) < 1e-9 || to - from < 2 ? 'straight' : [1 / 3, Math.max(-90, Math.min(90, (slope * (to - from)) / 3 / way))];
}

function fits(values: readonly number[], slopes: readonly number[], from: number, to: number, { below, above }: Tolerance): boolean {
  const length = to - from;
  const [p, q] = [values[from]!, values[to]!];
  if (Math.abs(q - p) < 1e-9) return values.slice(from, to + 1).every((v) => Math.abs(v - p) <= Math.min(below, above));
  const [a, b] = [p + (slopes[from]! * length) / 3, q - (slopes[to]! * length) / 3];
  // handles between the end values never lead beyond them
  const isBetween = (v: number): boolean => v >= Math.min(p, q) - 1e-9 && v <= Math.max(p, q) + 1e-9;
  if (length > 1 && !(isBetween(a) && isBetween(b))) return false;
  for (let i = 1; i < length; i++) {
    const t = i / length;
    const s = 1 - t;
    const off = s * s * s * p + 3 * s * s * t * a + 3 * s * t * t * b + t * t * t * q - values[from + i]!;
    if (off > above || -off > below) return false;
  }
  return true;
}
