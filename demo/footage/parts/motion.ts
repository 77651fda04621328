/** 0 before `from`, 1 after `to`, between them eased at both ends. */
export function ease(from: number, to: number, at: number): number {
  const t = Math.max(0, Math.min(1, (at - from) / (to - from)));
  return t * t * (3 - 2 * t);
}

export const mix = (a: number, b: number, t: number): number => a + (b - a) * t;

/** Value at `at` through keys of [time, value], eased at each; the ends hold. */
export function keyed(keys: readonly (readonly [number, number])[], at: number): number {
  let value = keys[0]![1];
  for (let i = 1; i < keys.length; i++) value += (keys[i]![1] - keys[i - 1]![1]) * ease(keys[i - 1]![0], keys[i]![0], at);
  return value;
}
