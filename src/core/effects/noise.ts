/** A number 0..1 for a place of a lattice, the same on every run. */
export function latticeNoise(x: number, y: number, seed: number): number {
  let h = (Math.imul(x | 0, 374761393) + Math.imul(y | 0, 668265263) + Math.imul(seed | 0, 974634777)) | 0;
  h = Math.imul(h ^ (h >>> 13), 1274126177);
  return ((h ^ (h >>> 16)) >>> 0) / 4294967296;
}

const eased = (t: number): number => t * t * t * (t * (6 * t - 15) + 10);

/** Smooth noise −1..1 along a line, its turns about 1 apart; speed and acceleration do not jump (Perlin 2002 for the fade). */
export function smoothNoise(at: number, seed: number): number {
  const cell = Math.floor(at);
  const slope = (i: number): number => 2 * latticeNoise(i, 0, seed) - 1;
  const t = at - cell;
  const [a, b] = [slope(cell) * t, slope(cell + 1) * (t - 1)];
  return 2 * (a + eased(t) * (b - a));
}
