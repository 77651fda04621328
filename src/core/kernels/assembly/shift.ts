import { at } from './numbers';

/**
 * Mean squared difference of the features (three floats a pixel) of `count` pixels of one picture and, shifted by whole pixels,
 * of another of the same size; of one pixel no more than `most` counts, of what would lie outside nothing. Infinite where
 * less than half is left.
 */
function missUnder(from: usize, to: usize, width: i32, height: i32, pixels: usize, count: i32, u: i32, v: i32, most: f32): f32 {
  let sum: f32 = 0;
  let within = 0;
  for (let k = 0; k < count; k++) {
    const i = load<i32>(pixels + ((<usize>k) << 2));
    const x = (i % width) + u;
    const y = i / width + v;
    if (x < 0 || y < 0 || x >= width || y >= height) continue;
    const p = 3 * i;
    const q = 3 * (y * width + x);
    const a = at(from, p) - at(to, q);
    const b = at(from, p + 1) - at(to, q + 1);
    const c = at(from, p + 2) - at(to, q + 2);
    sum += min<f32>(most, a * a + b * b + c * c);
    within++;
  }
  return 2 * within < count ? Infinity : sum / <f32>within;
}

/**
 * The shift of the `pixels` (their numbers) from one picture to the other that differs least, of those up to `reach` pixels to
 * all sides and below `least`: as (v + reach)·(2·reach + 1) + u + reach; −1 where none does.
 */
export function bestShift(
  from: usize,
  to: usize,
  width: i32,
  height: i32,
  pixels: usize,
  count: i32,
  reach: i32,
  most: f32,
  least: f32,
): i32 {
  let best = -1;
  for (let v = -reach, k = 0; v <= reach; v++) {
    for (let u = -reach; u <= reach; u++, k++) {
      const miss = missUnder(from, to, width, height, pixels, count, u, v, most);
      if (miss >= least) continue;
      least = miss;
      best = k;
    }
  }
  return best;
}
