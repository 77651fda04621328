import { boundsOf, boxBlur, createPlane, cropPlane, type Plane } from '../image/plane';
import { cropFeatures } from './features';

/** Ways in which a pixel looks for colours that are known. */
const WAYS: readonly (readonly [number, number])[] = [
  [1, 0],
  [0, 1],
  [1, 1],
  [1, -1],
  [-1, 0],
  [0, -1],
  [-1, -1],
  [-1, 1],
];
/** Coverage beyond which a pixel shows the inside's own colour, or the outside's. */
const INSIDE = 0.98;
const OUTSIDE = 0.02;
/** Half width of the windows in which coverage follows colour. */
const RADIUS = 3;
/** Squared difference of a mixture from the pixel's colour (8-bit steps) that halves how much its answer counts. */
const MISS = 150;
/** Squared difference of two sides' colours that is worth half a full trust. */
const APART = 900;
/** Added to that difference, so that colours which are alike are the outside's. */
const ALIKE = 400;
/** Squared difference that a colour costs for every pixel it lies away. */
const FAR = 1.5;
/** So far away, in pixels, a colour of the outside says half as much where it alone explains a pixel. */
const NEAR = 12;
/** So many pixels of the outside, up to so far around, show colours that no way meets, and how much they say at most. */
const SPREAD = 200;
const AROUND = 60;
const SPREAD_SAYS = 0.5;
/** Variance of colour that may be noise, squared 8-bit steps. */
const NOISE = 12;
/** What an unsure answer counts at least. */
const LEAST_WEIGHT = 0.02;

/**
 * Coverage of hair and other edges that are too fine to be cut, where `unknown` is 1 (elsewhere 0), by colour: each such pixel is a mixture
 * of a colour of the inside and one of the outside, the pair found around it that explains it best (Wang & Cohen 2007), or is like
 * the outside somewhere near; then coverage follows colour in small windows, the sure answers first (He et al. 2013). Elsewhere
 * `alpha`, 0..1, is known and stays; where unknown it is overwritten. `features` are three numbers a pixel.
 */
export function fineEdge(features: Float32Array, unknown: Plane, alpha: Plane): void {
  const region = boundsOf(unknown, 0.5, AROUND);
  if (region === null) return;
  const part = cropPlane(alpha, region);
  const asked = cropPlane(unknown, region);
  const colours = cropFeatures(features, alpha.width, region);
  const weight = mixEach(colours, asked.data, part);
  followColour(colours, weight, part);
  for (let y = 0, i = 0; y < part.height; y++) {
    const row = (region.top + y) * alpha.width + region.left;
    for (let x = 0; x < part.width; x++, i++) if (asked.data[i] !== 0) alpha.data[row + x] = Math.max(0, Math.min(1, part.data[i]!));
  }
}

/** Gives each unknown pixel of `alpha` the share of the pair of colours that explains it best. @returns how sure each pixel is, 0..1 */
function mixEach(features: Float32Array, unknown: Float32Array, alpha: Plane): Plane {
  const { width, height, data } = alpha;
  const weight = createPlane(width, height);
  const samples = WAYS.map((way) => nearestAlong(way, unknown, alpha));
  const spread = spreadOutside(unknown, alpha);
  const away = (i: number, j: number): number => {
    const dy = ((j / width) | 0) - ((i / width) | 0);
    const dx = (j % width) - (i % width);
    return Math.sqrt(dx * dx + dy * dy);
  };
  for (let i = 0; i < data.length; i++) {
    if (unknown[i] === 0) {
      weight.data[i] = 1;
      continue;
    }
    const [r, g, b] = [features[3 * i]!, features[3 * i + 1]!, features[3 * i + 2]!];
    let least = Infinity;
    let share = 0;
    let sure = LEAST_WEIGHT;
    for (const { outside } of samples) {
      const o = outside[i]!;
      if (o < 0) continue;
      const [or, og, ob] = [features[3 * o]!, features[3 * o + 1]!, features[3 * o + 2]!];
      const toOutside = away(i, o);
      for (const { inside } of samples) {
        const n = inside[i]!;
        if (n < 0) continue;
        const [wr, wg, wb] = [features[3 * n]! - or, features[3 * n + 1]! - og, features[3 * n + 2]! - ob];
        const apart = wr * wr + wg * wg + wb * wb;
        const part = Math.max(0, Math.min(1, (wr * (r - or) + wg * (g - og) + wb * (b - ob)) / (apart + ALIKE)));
        const [er, eg, eb] = [r - or - part * wr, g - og - part * wg, b - ob - part * wb];
        const miss = er * er + eg * eg + eb * eb;
        if (miss >= least) continue;
        const cost = miss + FAR * (part * away(i, n) + (1 - part) * toOutside);
        if (cost >= least) continue;
        least = cost;
        share = part;
        sure = (MISS / (MISS + miss)) * Math.max(apart / (apart + APART), ((1 - part) * NEAR) / (NEAR + toOutside));
      }
    }
    for (const o of spread) {
      const [er, eg, eb] = [r - features[3 * o]!, g - features[3 * o + 1]!, b - features[3 * o + 2]!];
      const miss = er * er + eg * eg + eb * eb;
      if (miss >= least) continue;
      const cost = miss + FAR * away(i, o);
      if (cost >= least) continue;
      least = cost;
      share = 0;
      sure = (SPREAD_SAYS * MISS) / (MISS + miss);
    }
    data[i] = share;
    weight.data[i] = Math.max(LEAST_WEIGHT, sure);
  }
  return weight;
}

/** For every pixel the nearest known ones on a way, wholly covered and not at all; -1 without one. */
function nearestAlong(
  [dx, dy]: readonly [number, number],
  unknown: Float32Array,
  { width, height, data }: Plane,
): { readonly inside: Int32Array; readonly outside: Int32Array } {
  const inside = new Int32Array(data.length).fill(-1);
  const outside = new Int32Array(data.length).fill(-1);
  const step = dy * width + dx;
  for (let row = 0; row < height; row++) {
    // what lies ahead has been seen before
    const y = dy > 0 ? height - 1 - row : row;
    for (let column = 0; column < width; column++) {
      const x = dx > 0 ? width - 1 - column : column;
      const i = y * width + x;
      const isAhead = x + dx >= 0 && x + dx < width && y + dy >= 0 && y + dy < height;
      const isKnown = unknown[i] === 0;
      inside[i] = isKnown && data[i]! > INSIDE ? i : isAhead ? inside[i + step]! : -1;
      outside[i] = isKnown && data[i]! < OUTSIDE ? i : isAhead ? outside[i + step]! : -1;
    }
  }
  return { inside, outside };
}

/** Pixels that are known not to be covered, spread evenly over them. */
function spreadOutside(unknown: Float32Array, { data }: Plane): number[] {
  const found: number[] = [];
  for (let i = 0; i < data.length; i++) if (unknown[i] === 0 && data[i]! < OUTSIDE) found.push(i);
  const count = Math.min(found.length, SPREAD);
  return Array.from({ length: count }, (_, k) => found[Math.floor((k * found.length) / count)]!);
}

/** Replaces coverage by what its weighted linear fit to the three `features` says in the windows around each pixel. */
function followColour(features: Float32Array, weight: Plane, alpha: Plane): void {
  const { width, height, data } = alpha;
  const blurred = (valueAt: (i: number) => number): Float32Array => {
    const plane = createPlane(width, height);
    for (let i = 0; i < data.length; i++) plane.data[i] = weight.data[i]! * valueAt(i);
    boxBlur(plane, RADIUS, plane);
    return plane.data;
  };
  const x = (i: number): number => features[3 * i]!;
  const y = (i: number): number => features[3 * i + 1]!;
  const z = (i: number): number => features[3 * i + 2]!;
  const a = (i: number): number => data[i]!;
  const [weights, mx, my, mz, ma] = [blurred(() => 1), blurred(x), blurred(y), blurred(z), blurred(a)];
  const [mxx, mxy, mxz] = [blurred((i) => x(i) * x(i)), blurred((i) => x(i) * y(i)), blurred((i) => x(i) * z(i))];
  const [myy, myz, mzz] = [blurred((i) => y(i) * y(i)), blurred((i) => y(i) * z(i)), blurred((i) => z(i) * z(i))];
  const [mxa, mya, mza] = [blurred((i) => x(i) * a(i)), blurred((i) => y(i) * a(i)), blurred((i) => z(i) * a(i))];
  const [alongX, alongY, alongZ, rest] = [0, 1, 2, 3].map(() => createPlane(width, height)) as [Plane, Plane, Plane, Plane];
  for (let i = 0; i < data.length; i++) {
    const k = 1 / weights[i]!;
    const [ex, ey, ez, ea] = [k * mx[i]!, k * my[i]!, k * mz[i]!, k * ma[i]!];
    const [xx, xy, xz] = [k * mxx[i]! - ex * ex + NOISE, k * mxy[i]! - ex * ey, k * mxz[i]! - ex * ez];
    const [yy, yz, zz] = [k * myy[i]! - ey * ey + NOISE, k * myz[i]! - ey * ez, k * mzz[i]! - ez * ez + NOISE];
    const [ax, ay, az] = [k * mxa[i]! - ex * ea, k * mya[i]! - ey * ea, k * mza[i]! - ez * ea];
    // the covariance is inverted by its cofactors
    const [cx, cy, cz] = [yy * zz - yz * yz, xz * yz - xy * zz, xy * yz - xz * yy];
    const inverse = 1 / (xx * cx + xy * cy + xz * cz);
    const px = inverse * (cx * ax + cy * ay + cz * az);
    const py = inverse * (cy * ax + (xx * zz - xz * xz) * ay + (xy * xz - xx * yz) * az);
    const pz = inverse * (cz * ax + (xy * xz - xx * yz) * ay + (xx * yy - xy * xy) * az);
    alongX.data[i] = px;
    alongY.data[i] = py;
    alongZ.data[i] = pz;
    rest.data[i] = ea - px * ex - py * ey - pz * ez;
  }
  for (const plane of [alongX, alongY, alongZ, rest]) boxBlur(plane, RADIUS, plane);
  for (let i = 0; i < data.length; i++) data[i] = alongX.data[i]! * x(i) + alongY.data[i]! * y(i) + alongZ.data[i]! * z(i) + rest.data[i]!;
}
