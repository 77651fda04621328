import { compose, cornersOf, rotation, scaling, translation, type Matrix, type Point } from '../geometry/matrix';
import { fitMap, mapPoint } from '../geometry/fit-map';
import { centreOf, motionAt, regionOrNearest, type Track } from './track';

/** Shares 0..1 of the movement that is taken out. */
export interface SteadyShares {
  readonly position: number;
  readonly turn: number;
  readonly size: number;
}

/**
 * Takes the movement of a track's region since its first key out of a medium frame: medium pixels from the centre to the
 * same, with the region's middle where it was then, or at the centre. Frames that were not followed hold the nearest one.
 */
export function steadyMatrix(track: Track, frame: number, shares: SteadyShares, centred: boolean): Matrix {
  const first = track.keys[0]!.corners;
  const now = regionOrNearest(track, frame).corners;
  const middle = centreOf(first);
  // where the region's middle has gone: on one that tilts, not the mean of its corners
  const [x, y] = mapPoint(motionAt(track, frame), ...middle);
  const [homeX, homeY] = centred ? [0, 0] : middle;
  const reach = Math.max(1, ...first.flat().map(Math.abs));
  const pairs = first.flatMap(([px, py], i) => [px / reach, py / reach, now[i]![0] / reach, now[i]![1] / reach, 1]);
  const m = fitMap('similarity', Float64Array.from(pairs), 1, 1);
  const [a, b] = m === null ? [1, 0] : [m[0]!, m[3]!];
  const grown = Math.max(1e-3, Math.sqrt(a * a + b * b));
  const turned = (Math.atan2(b, a) * 180) / Math.PI;
  const still = compose(compose(translation(-x, -y), rotation(-shares.turn * turned)), scaling(grown ** -shares.size));
  return compose(still, translation(x + shares.position * (homeX - x), y + shares.position * (homeY - y)));
}

/**
 * The least enlargement about the middle of the frame at which a picture of `width` × `height`, placed by `matrix`
 * (from-centre pixels to from-centre pixels), covers a frame of `frameWidth` × `frameHeight`; at least 1.
 */
export const coveringScale = (matrix: Matrix, width: number, height: number, frameWidth: number, frameHeight: number): number =>
  scaleToCover(matrix, width, height, cornersOf(frameWidth, frameHeight));

/** The same for places other than the frame's corners. */
export function scaleToCover(matrix: Matrix, width: number, height: number, places: readonly Point[]): number {
  const [a, c, e, b, d, f] = matrix;
  const det = a * d - b * c;
  let scale = 1;
  for (const { x: fx, y: fy } of places) {
    // the place divided by the scale, seen from the picture: linear in 1/scale
    const [ux, uy] = [(d * fx - c * fy) / det, (a * fy - b * fx) / det];
    const [ox, oy] = [(c * f - d * e) / det, (b * e - a * f) / det];
    for (const [u, o, half] of [
      [ux, ox, width / 2],
      [uy, oy, height / 2],
    ] as const) {
      // |u/scale + o| ≤ half on both sides
      for (const side of [-1, 1]) {
        const room = half - side * o;
        if (room <= 0) return Infinity; // the frame's middle itself lies beyond the border
        scale = Math.max(scale, (side * u) / room);
      }
    }
  }
  return scale;
}
