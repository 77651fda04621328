import { at, put } from './numbers';

/** Sweeps there and back; paths that wind more often than this come out a little long. */
const ROUNDS = 2;

/**
 * Shortens the path lengths `out` (floats; 0 at the seeds, infinite elsewhere) by sweeps over the picture there and back
 * (Criminisi et al. 2008). `costs` has, four a pixel, what a step to the right, down left, down and down right costs.
 */
export function geodesicDistances(costs: usize, width: i32, height: i32, out: usize): void {
  for (let round = 0; round < ROUNDS; round++) {
    for (let y = 0, i = 0; y < height; y++) {
      for (let x = 0; x < width; x++, i++) {
        let best = at(out, i);
        if (x > 0) best = min<f32>(best, at(out, i - 1) + at(costs, 4 * i - 4));
        if (y > 0) {
          const up = i - width;
          best = min<f32>(best, at(out, up) + at(costs, 4 * up + 2));
          if (x > 0) best = min<f32>(best, at(out, up - 1) + at(costs, 4 * up - 1));
          if (x + 1 < width) best = min<f32>(best, at(out, up + 1) + at(costs, 4 * up + 5));
        }
        put(out, i, best);
      }
    }
    for (let y = height - 1, i = width * height - 1; y >= 0; y--) {
      for (let x = width - 1; x >= 0; x--, i--) {
        let best = at(out, i);
        if (x + 1 < width) best = min<f32>(best, at(out, i + 1) + at(costs, 4 * i));
        if (y + 1 < height) {
          const down = i + width;
          best = min<f32>(best, at(out, down) + at(costs, 4 * i + 2));
          if (x > 0) best = min<f32>(best, at(out, down - 1) + at(costs, 4 * i + 1));
          if (x + 1 < width) best = min<f32>(best, at(out, down + 1) + at(costs, 4 * i + 3));
        }
        put(out, i, best);
      }
    }
  }
}
