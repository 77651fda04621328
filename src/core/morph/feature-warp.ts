import type { Borders } from '../film/composition';
import type { Point } from '../geometry/matrix';
import { createImage, type Image } from '../image/pixels';
import type { MatchedPlaces } from './curve-pairs';

/** Pixels between two nodes at which a warp is told. */
const STEP = 8;
/** The share of the shorter side within which a border holds what is near it. */
const HOLD = 0.14;
/** Keeps the weight of a place finite where one stands on it, pixels squared. */
const SOFT = 1e-3;

/** Where each node of a grid over a picture takes its content from, as a shift: pixels. */
export interface WarpGrid {
  readonly columns: number;
  readonly rows: number;
  readonly dx: Float32Array;
  readonly dy: Float32Array;
}

/**
 * The smoothest way to take places of a picture to where they are to be: moving least squares with similarities (Schaefer, McPhail and
 * Warren 2006), told backwards: for each node of the picture to be made, how far off its content lies. What must not move at the border is
 * held there, and less and less inwards, but no place is kept from where it is to be.
 * @param goals where the places are to be, x and y in turns, pixels from the top left corner
 * @param places where they are in the picture that is warped
 */
export function warpGrid(goals: Float64Array, places: Float64Array, width: number, height: number, borders: Borders): WarpGrid {
  const [columns, rows] = [Math.ceil(width / STEP) + 1, Math.ceil(height / STEP) + 1];
  const [dx, dy] = [new Float32Array(columns * rows), new Float32Array(columns * rows)];
  const count = goals.length / 2;
  const held = holdOf(goals, width, height);
  for (let row = 0, i = 0; row < rows; row++)
    for (let column = 0; column < columns; column++, i++) {
      const [x, y] = [Math.min(width, column * STEP), Math.min(height, row * STEP)];
      let [sum, px, py, qx, qy] = [0, 0, 0, 0, 0];
      for (let k = 0; k < count; k++) {
        const [ex, ey] = [goals[2 * k]! - x, goals[2 * k + 1]! - y];
        const weight = 1 / (ex * ex + ey * ey + SOFT);
        sum += weight;
        px += weight * goals[2 * k]!;
        py += weight * goals[2 * k + 1]!;
        qx += weight * places[2 * k]!;
        qy += weight * places[2 * k + 1]!;
      }
      if (sum === 0) continue;
      px /= sum;
      py /= sum;
      qx /= sum;
      qy /= sum;
      let [along, across, spread] = [0, 0, 0];
      for (let k = 0; k < count; k++) {
        const [ex, ey] = [goals[2 * k]! - x, goals[2 * k + 1]! - y];
        const weight = 1 / (ex * ex + ey * ey + SOFT);
        const [gx, gy] = [goals[2 * k]! - px, goals[2 * k + 1]! - py];
        const [hx, hy] = [places[2 * k]! - qx, places[2 * k + 1]! - qy];
        along += weight * (gx * hx + gy * hy);
        across += weight * (gx * hy - gy * hx);
        spread += weight * (gx * gx + gy * gy);
      }
      const [c, s] = spread < 1e-9 ? [1, 0] : [along / spread, across / spread];
      const toX = c * (x - px) - s * (y - py) + qx - x;
      const toY = s * (x - px) + c * (y - py) + qy - y;
      const [freeX, freeY] = [risen(Math.min(x, width - x) / held), risen(Math.min(y, height - y) / held)];
      const isPinned = borders === 'pinned';
      dx[i] = toX * freeX * (isPinned ? freeY : 1);
      dy[i] = toY * freeY * (isPinned ? freeX : 1);
    }
  return { columns, rows, dx, dy };
}

/** From how far inside on the border no longer holds anything: not so far that a place would be kept from its goal. */
function holdOf(goals: Float64Array, width: number, height: number): number {
  let nearest = HOLD * Math.min(width, height);
  for (let k = 0; k < goals.length; k += 2) {
    const inside = Math.min(goals[k]!, width - goals[k]!, goals[k + 1]!, height - goals[k + 1]!);
    if (inside > 0) nearest = Math.min(nearest, inside);
  }
  return Math.max(2, nearest);
}

const risen = (share: number): number => {
  const t = Math.max(0, Math.min(1, share));
  return t * t * (3 - 2 * t);
};

/** Takes a picture's content through a warp; beyond the border its last pixels go on. RGBA of any alpha. */
export function warped(image: Image, { columns, dx, dy }: WarpGrid, out: Image = createImage(image.width, image.height)): Image {
  const { width, height, data } = image;
  for (let y = 0, o = 0; y < height; y++) {
    const row = Math.min(Math.floor(y / STEP), Math.ceil(height / STEP) - 1);
    const bottom = Math.min(height, (row + 1) * STEP);
    const v = (y + 0.5 - row * STEP) / (bottom - row * STEP);
    for (let x = 0; x < width; x++, o += 4) {
      const column = Math.min(Math.floor(x / STEP), Math.ceil(width / STEP) - 1);
      const right = Math.min(width, (column + 1) * STEP);
      const u = (x + 0.5 - column * STEP) / (right - column * STEP);
      const i = row * columns + column;
      const [w0, w1, w2, w3] = [(1 - u) * (1 - v), u * (1 - v), (1 - u) * v, u * v];
      const sx = x + w0 * dx[i]! + w1 * dx[i + 1]! + w2 * dx[i + columns]! + w3 * dx[i + columns + 1]!;
      const sy = y + w0 * dy[i]! + w1 * dy[i + 1]! + w2 * dy[i + columns]! + w3 * dy[i + columns + 1]!;
      const [cx, cy] = [Math.max(0, Math.min(width - 1, sx)), Math.max(0, Math.min(height - 1, sy))];
      const [x0, y0] = [Math.floor(cx), Math.floor(cy)];
      const [fx, fy] = [cx - x0, cy - y0];
      const a = 4 * (y0 * width + x0);
      const b = x0 + 1 < width ? a + 4 : a;
      const below = y0 + 1 < height ? 4 * width : 0;
      const [p, q, r, s] = [(1 - fx) * (1 - fy), fx * (1 - fy), (1 - fx) * fy, fx * fy];
      for (let k = 0; k < 4; k++)
        out.data[o + k] = p * data[a + k]! + q * data[b + k]! + r * data[a + below + k]! + s * data[b + below + k]!;
    }
  }
  return out;
}

/** Film sizes of what places are given in. */
interface FilmSize {
  readonly width: number;
  readonly height: number;
}

/**
 * Both pictures, warped so that places that belong together lie over each other `share` of the way from the first picture's to the
 * second's. Places are film pixels from the centre; the pictures are of one size, whatever that is.
 */
export function broughtTogether(
  [a, b]: readonly [Image, Image],
  { places, borders }: { readonly places: readonly MatchedPlaces[]; readonly borders: Borders },
  share: number,
  film: FilmSize,
): readonly [Image, Image] {
  const { width, height } = a;
  const [perX, perY] = [width / film.width, height / film.height];
  const inPicture = (list: readonly Point[]): Float64Array =>
    Float64Array.from(list.flatMap((p) => [p.x * perX + width / 2, p.y * perY + height / 2]));
  const [from, to] = [inPicture(places.flatMap((p) => p.from)), inPicture(places.flatMap((p) => p.to))];
  const goals = from.map((v, i) => v + share * (to[i]! - v));
  const through = (image: Image, own: Float64Array): Image => warped(image, warpGrid(goals, own, width, height, borders));
  return [share === 0 ? a : through(a, from), share === 1 ? b : through(b, to)];
}
