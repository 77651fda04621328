import type { Plane } from '../image/pixels';
import type { MatchPicture } from '../flow/match-layer';
import { solveSymmetric } from '../geometry/fit-map';

/** Where a patch lies in a picture: its middle in pixels, centres at +0.5, and what its own offsets became, row by row. */
export interface PatchPlace {
  readonly x: number;
  readonly y: number;
  readonly a: number;
  readonly b: number;
  readonly c: number;
  readonly d: number;
}

export const uprightAt = (x: number, y: number): PatchPlace => ({ x, y, a: 1, b: 0, c: 0, d: 1 });

/** Pixels each way from the middle of a patch, on every size of the picture. */
export const REACH = 9;
const SIDE = 2 * REACH + 1;
/** Pixels of a patch from one to the next of those that a rough look takes. */
const APART = 3;
const FEW = ((2 * REACH) / APART + 1) ** 2;
const COUNT = SIDE * SIDE;
/** Contrast may grow or shrink this much by a change of light. */
const MOST_GAIN = 2.5;
/** Spread of the weights that make the middle of a patch count most, and how much less alike it may be than the whole. */
const MIDDLE_PX = 4;
const MIDDLE_MAY_DIFFER = 0.25;
/** Rounds of a search for the place alone, and for the shape too. */
const ROUNDS = 8;
const FIT_ROUNDS = 6;
/** A step this small, in pixels of the level, ends a search. */
const STILL = 0.03;
/** Squared slope of noise: what a flat patch says less than this about is left where it was. */
const NOISE = 2;
/** What it costs the shape of a patch to change, in squared slopes. */
const SHAPE_COST = 40;

/** Weights that fall off from the middle of a patch; their sum is 1. */
const MIDDLE = ((): Float32Array => {
  const weights = Float32Array.from({ length: COUNT }, (_, i) => {
    const [u, v] = [(i % SIDE) - REACH, ((i / SIDE) | 0) - REACH];
    return Math.exp(-(u * u + v * v) / (2 * MIDDLE_PX * MIDDLE_PX));
  });
  const sum = weights.reduce((a, b) => a + b);
  return weights.map((w) => w / sum);
})();

const samples = new Float32Array((SIDE + 2) * (SIDE + 2));
const seen = new Float32Array(COUNT);

/** The pixels around one place of one size of a picture with their slopes, to be found again by inverse-compositional steps. */
export class PointPatch {
  private readonly values = new Float32Array(COUNT);
  private readonly gx = new Float32Array(COUNT);
  private readonly gy = new Float32Array(COUNT);
  private products: Float64Array | null = null;
  private mean = 0;
  private spread = 0;
  /** The same with the middle counting most, once it is asked for. */
  private middle: { readonly mean: number; readonly spread: number } | null = null;
  /** The pixels that a rough look takes, once it is asked for. */
  private few: { readonly values: Float32Array; readonly mean: number; readonly spread: number } | null = null;

  /** Takes the pixels around (x, y) of `plane`, centres at +0.5. Beyond the border its pixels repeat. */
  take(plane: Plane, x: number, y: number): this {
    const wide = SIDE + 2;
    this.products = null;
    this.middle = null;
    this.few = null;
    sampleUpright(plane, x, y, REACH + 1, samples);
    let [sum, squares] = [0, 0];
    for (let row = 0, i = 0; row < SIDE; row++) {
      for (let col = 0; col < SIDE; col++, i++) {
        const at = (row + 1) * wide + col + 1;
        const v = samples[at]!;
        this.values[i] = v;
        this.gx[i] = 0.5 * (samples[at + 1]! - samples[at - 1]!);
        this.gy[i] = 0.5 * (samples[at + wide]! - samples[at - wide]!);
        sum += v;
        squares += v * v;
      }
    }
    this.mean = sum / COUNT;
    this.spread = Math.sqrt(Math.max(0, squares / COUNT - this.mean ** 2));
    return this;
  }

  /** Moves the patch from (x, y) to where `plane` looks like it. */
  shift(plane: Plane, x: number, y: number): { readonly x: number; readonly y: number } {
    const { gx, gy, values, mean } = this;
    let [xx, xy, yy] = [NOISE * COUNT, 0, NOISE * COUNT];
    for (let i = 0; i < COUNT; i++) {
      xx += gx[i]! * gx[i]!;
      xy += gx[i]! * gy[i]!;
      yy += gy[i]! * gy[i]!;
    }
    const determinant = xx * yy - xy * xy;
    for (let round = 0; round < ROUNDS; round++) {
      sampleUpright(plane, x, y, REACH, seen);
      let light = 0;
      for (let i = 0; i < COUNT; i++) light += seen[i]!;
      light = light / COUNT - mean;
      let [bx, by] = [0, 0];
      for (let i = 0; i < COUNT; i++) {
        const e = seen[i]! - values[i]! - light;
        bx += gx[i]! * e;
        by += gy[i]! * e;
      }
      const [dx, dy] = [(yy * bx - xy * by) / determinant, (xx * by - xy * bx) / determinant];
      x -= dx;
      y -= dy;
      if (dx * dx + dy * dy < STILL * STILL) break;
    }
    return { x, y };
  }

  /** Moves, turns, slants and sizes the patch from `start`, one or two pixels away, to where `plane` looks like it, with gain and bias. */
  fit(plane: Plane, start: PatchPlace): PatchPlace {
    const { gx, gy, values, mean, spread } = this;
    const a = new Float64Array(36);
    const h = (this.products ??= this.slopeProducts());
    const b = new Float64Array(6);
    const moved = new Float64Array(4);
    let place = start;
    for (let round = 0; round < FIT_ROUNDS; round++) {
      sampleGrid(plane, place, REACH, seen);
      const { mean: light, gain } = lightOf(mean, spread);
      b.fill(0);
      for (let row = 0, i = 0; row < SIDE; row++) {
        const v = row / REACH - 1;
        let [rowX, rowY, acrossX, acrossY] = [0, 0, 0, 0];
        for (let col = 0; col < SIDE; col++, i++) {
          const e = (seen[i]! - light) / gain - (values[i]! - mean);
          const ex = gx[i]! * e;
          const ey = gy[i]! * e;
          const u = col / REACH - 1;
          rowX += ex;
          rowY += ey;
          acrossX += ex * u;
          acrossY += ey * u;
        }
        b[0]! += acrossX;
        b[1]! += rowX * v;
        b[2]! += acrossY;
        b[3]! += rowY * v;
        b[4]! += rowX;
        b[5]! += rowY;
      }
      for (let p = 0; p < 4; p++) b[p]! -= COUNT * SHAPE_COST * moved[p]!;
      a.set(h);
      if (!solveSymmetric(a, b, 6)) return place;
      for (let p = 0; p < 4; p++) moved[p]! += b[p]!;
      place = undone(place, b);
      if (!(Math.abs(place.a * place.d - place.b * place.c) > 0.05)) return start;
      if (b[4]! ** 2 + b[5]! ** 2 < STILL * STILL) break;
    }
    return place;
  }

  /** Sums over the patch of the products of its slopes by the six parameters, and what it costs each to change. */
  private slopeProducts(): Float64Array {
    const h = new Float64Array(36);
    for (let i = 0; i < COUNT; i++) {
      const [gx, gy] = [this.gx[i]!, this.gy[i]!];
      const [u, v] = [((i % SIDE) - REACH) / REACH, ((i / SIDE) | 0) / REACH - 1];
      const row = [gx * u, gx * v, gy * u, gy * v, gx, gy];
      for (let p = 0; p < 6; p++) for (let q = 0; q <= p; q++) h[6 * p + q]! += row[p]! * row[q]!;
    }
    for (let p = 0; p < 6; p++) h[7 * p]! += COUNT * (p < 4 ? SHAPE_COST : NOISE);
    return h;
  }

  /** Correlation of a few pixels spread over the patch: quick, and good enough to tell where a closer look is worth while. */
  roughCorrelation(plane: Plane, { x, y, a, b, c, d }: PatchPlace): number {
    sampleGrid(plane, { x, y, a: APART * a, b: APART * b, c: APART * c, d: APART * d }, REACH / APART, seen);
    const own = (this.few ??= this.takeFew());
    let [sum, squares, product] = [0, 0, 0];
    for (let i = 0; i < FEW; i++) {
      sum += seen[i]!;
      squares += seen[i]! * seen[i]!;
      product += seen[i]! * own.values[i]!;
    }
    return correlationOf(sum / FEW, squares / FEW, product / FEW, own.mean, own.spread);
  }

  /**
   * Correlation of the patch with what `plane` shows at `place`, -1..1; of the whole, unless its middle alone is less alike by
   * more than `MIDDLE_MAY_DIFFER`. 0 where either is flat,
   * or one has far more contrast than the other.
   */
  correlation(plane: Plane, place: PatchPlace): number {
    sampleGrid(plane, place, REACH, seen);
    const { values } = this;
    let [sum, squares, product, middle, middleSquares, middleProduct] = [0, 0, 0, 0, 0, 0];
    for (let i = 0; i < COUNT; i++) {
      const v = seen[i]!;
      const w = MIDDLE[i]! * v;
      sum += v;
      squares += v * v;
      product += v * values[i]!;
      middle += w;
      middleSquares += w * v;
      middleProduct += w * values[i]!;
    }
    const whole = correlationOf(sum / COUNT, squares / COUNT, product / COUNT, this.mean, this.spread);
    const own = (this.middle ??= this.weighMiddle());
    const inner = correlationOf(middle, middleSquares, middleProduct, own.mean, own.spread);
    return Math.min(whole, inner + MIDDLE_MAY_DIFFER);
  }

  private takeFew(): { readonly values: Float32Array; readonly mean: number; readonly spread: number } {
    const across = (2 * REACH) / APART + 1;
    const values = Float32Array.from({ length: FEW }, (_, i) => this.values[APART * (((i / across) | 0) * SIDE + (i % across))]!);
    const mean = values.reduce((sum, v) => sum + v, 0) / FEW;
    const square = values.reduce((sum, v) => sum + v * v, 0) / FEW;
    return { values, mean, spread: Math.sqrt(Math.max(0, square - mean * mean)) };
  }

  private weighMiddle(): { readonly mean: number; readonly spread: number } {
    let [mean, squares] = [0, 0];
    for (let i = 0; i < COUNT; i++) {
      mean += MIDDLE[i]! * this.values[i]!;
      squares += MIDDLE[i]! * this.values[i]! ** 2;
    }
    return { mean, spread: Math.sqrt(Math.max(0, squares - mean * mean)) };
  }
}

function correlationOf(mean: number, square: number, product: number, otherMean: number, otherSpread: number): number {
  const spread = Math.sqrt(Math.max(0, square - mean * mean));
  if (spread < 1 || otherSpread < 1 || spread > MOST_GAIN * otherSpread || otherSpread > MOST_GAIN * spread) return 0;
  return (product - mean * otherMean) / (spread * otherSpread);
}

/** Mean of what is seen, and how much stronger its contrast is than the patch's. */
function lightOf(mean: number, spread: number): { readonly mean: number; readonly gain: number } {
  let [sum, squares] = [0, 0];
  for (let i = 0; i < COUNT; i++) {
    sum += seen[i]!;
    squares += seen[i]! * seen[i]!;
  }
  const light = sum / COUNT;
  const other = Math.sqrt(Math.max(0, squares / COUNT - light * light));
  return { mean: light, gain: Math.max(1 / MOST_GAIN, Math.min(MOST_GAIN, other / Math.max(1, spread))) || 1 };
}

/** `place` after undoing the small map whose shape (in units of the reach) and shift `step` holds. */
function undone(place: PatchPlace, step: Float64Array): PatchPlace {
  const [p, q, r, s] = [1 + step[0]! / REACH, step[1]! / REACH, step[2]! / REACH, 1 + step[3]! / REACH];
  const det = p * s - q * r;
  const [a, b] = [(place.a * s - place.b * r) / det, (place.b * p - place.a * q) / det];
  const [c, d] = [(place.c * s - place.d * r) / det, (place.d * p - place.c * q) / det];
  return { x: place.x - a * step[4]! - b * step[5]!, y: place.y - c * step[4]! - d * step[5]!, a, b, c, d };
}

/** Writes the values of `plane` at the offsets of a square grid `reach` each way, laid down at `place`; the border repeats. */
function sampleGrid({ width, height, data }: Plane, place: PatchPlace, reach: number, out: Float32Array): void {
  const { a, b, c, d } = place;
  const [right, bottom] = [width - 1.001, height - 1.001];
  for (let v = -reach, o = 0; v <= reach; v++) {
    let x = place.x - 0.5 - a * reach + b * v;
    let y = place.y - 0.5 - c * reach + d * v;
    for (let u = -reach; u <= reach; u++, o++, x += a, y += c) {
      const px = x < 0 ? 0 : x > right ? right : x;
      const py = y < 0 ? 0 : y > bottom ? bottom : y;
      const left = px | 0;
      const top = py | 0;
      const i = top * width + left;
      const fx = px - left;
      const upper = data[i]! + fx * (data[i + 1]! - data[i]!);
      const lower = data[i + width]! + fx * (data[i + width + 1]! - data[i + width]!);
      out[o] = upper + (py - top) * (lower - upper);
    }
  }
}

/** The same for a grid that is neither turned nor sized: all its samples lie alike between their pixels. */
function sampleUpright(plane: Plane, x: number, y: number, reach: number, out: Float32Array): void {
  const { width, height, data } = plane;
  const left = Math.floor(x - 0.5) - reach;
  const top = Math.floor(y - 0.5) - reach;
  const side = 2 * reach + 1;
  if (!(left >= 0 && top >= 0 && left + side < width && top + side < height)) {
    sampleGrid(plane, uprightAt(x, y), reach, out);
    return;
  }
  const fx = x - 0.5 - reach - left;
  const fy = y - 0.5 - reach - top;
  const [nw, ne, sw, se] = [(1 - fx) * (1 - fy), fx * (1 - fy), (1 - fx) * fy, fx * fy];
  for (let row = 0, o = 0; row < side; row++) {
    let i = (top + row) * width + left;
    let upper = data[i]!;
    let lower = data[i + width]!;
    for (let col = 0; col < side; col++, o++) {
      i++;
      const nextUpper = data[i]!;
      const nextLower = data[i + width]!;
      out[o] = nw * upper + ne * nextUpper + sw * lower + se * nextLower;
      upper = nextUpper;
      lower = nextLower;
    }
  }
}

/**
 * Where the point (x, y) of one picture went in another, by patches from coarse to fine (Lucas & Kanade 1981; Bouguet 2000), from
 * a start (dx, dy) away. Pixels of the full size.
 */
export function trackPoint(
  from: MatchPicture,
  to: MatchPicture,
  x: number,
  y: number,
  dx: number,
  dy: number,
): { readonly x: number; readonly y: number } {
  let at = { x: x + dx, y: y + dy };
  for (let level = Math.min(from.levels.length, LEVELS) - 1; level >= 0; level--) {
    const size = 1 << level;
    const found = passing.take(from.levels[level]!.luma, x / size, y / size).shift(to.levels[level]!.luma, at.x / size, at.y / size);
    at = { x: found.x * size, y: found.y * size };
  }
  return at;
}

/** Sizes of the picture to look at. */
export const LEVELS = 4;
const passing = new PointPatch();
