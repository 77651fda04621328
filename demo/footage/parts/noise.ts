/** Seeded randomness for the footage: the same seed gives the same bytes. */

/** A generator of numbers in [0, 1) (mulberry32). */
export function seededRandom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

function hash(x: number, y: number, seed: number): number {
  let h = (Math.imul(x, 374761393) + Math.imul(y, 668265263) + Math.imul(seed, 974634777)) | 0;
  h = Math.imul(h ^ (h >>> 13), 1274126177);
  return ((h ^ (h >>> 16)) >>> 0) / 4294967296;
}

const wrap = (n: number, period: number): number => ((n % period) + period) % period;

/** Value noise in 0..1 that repeats every `period` cells in both directions. */
export function tileNoise(x: number, y: number, period: number, seed: number): number {
  const x0 = Math.floor(x);
  const y0 = Math.floor(y);
  const fx = x - x0;
  const fy = y - y0;
  const sx = fx * fx * (3 - 2 * fx);
  const sy = fy * fy * (3 - 2 * fy);
  const left = wrap(x0, period);
  const right = wrap(x0 + 1, period);
  const top = wrap(y0, period);
  const bottom = wrap(y0 + 1, period);
  const upper = hash(left, top, seed) * (1 - sx) + hash(right, top, seed) * sx;
  const lower = hash(left, bottom, seed) * (1 - sx) + hash(right, bottom, seed) * sx;
  return upper * (1 - sy) + lower * sy;
}

/** Fractal noise in 0..1 over u, v in 0..1, tiling; `cells` is the coarsest period. */
export function fractal(u: number, v: number, cells: number, octaves: number, seed: number): number {
  let sum = 0;
  let weight = 0.5;
  let total = 0;
  for (let i = 0, n = cells; i < octaves; i++, n *= 2, weight *= 0.5) {
    sum += weight * tileNoise(u * n, v * n, n, seed + i);
    total += weight;
  }
  return sum / total;
}

/** Smooth wandering in -1..1 over time in frames; `lane` picks an independent path. */
export function wander(frame: number, framesPerCell: number, lane: number): number {
  const t = frame / framesPerCell;
  return 2 * (0.7 * tileNoise(t, lane, 4096, 17) + 0.3 * tileNoise(2.3 * t, lane, 4096, 29)) - 1;
}
