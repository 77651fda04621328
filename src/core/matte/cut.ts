import { createImage, shrinkImage, type Image } from '../image/image';
import { createPlane, type Plane } from '../image/plane';
import { signedDistance, squaredDistances } from '../image/distance';
import { ColourModel } from './colour-model';
import { cutBand } from './cut-band';
import { featureDistance, featuresOf } from './features';
import { LocalColours } from './local-colour';
import { coverAlongEdge } from './edge-cover';
import { resized } from './resize-matte';
import type { Stroke, Strokes } from './strokes';

const KEEP = 1;
const DROP = 2;
/** Longer side of the picture on which the cut is first made. */
const COARSE_SIDE = 300;
/** The same while the pointer is down. */
const QUICK_SIDE = 150;
/** A correction reaches this many times the stroke's radius. */
const CORRECTS = 5;
/** Rounds of learning the colours from the cut before. */
const ROUNDS = 4;
const COLOUR = 0.6;
const NEARNESS = 4;
const MOST = 5;
const CONTRAST = 28;

/**
 * Cuts a matte from keep and drop strokes on one picture: colour mixtures of both sides (Rother et al. 2004) and how
 * near each pixel is to either kind of stroke without crossing edges (Bai & Sapiro 2007) meet contrast in a minimum
 * cut, first on a small copy, then along the edge at full size. Keeps what does not depend on the strokes, so that a
 * further stroke is answered quickly.
 */
export class StrokeCutter {
  private readonly picture: Image;
  private readonly features: Float32Array<ArrayBuffer>;
  private readonly small: Image;
  private readonly smallFeatures: Float32Array<ArrayBuffer>;
  private readonly scale: number;

  /** With `quick` the first cut is made on a smaller copy: coarser, and there while the pointer moves. */
  constructor(picture: Image, quick = false) {
    this.picture = picture;
    this.features = featuresOf(picture);
    this.scale = Math.max(1, Math.max(picture.width, picture.height) / (quick ? QUICK_SIDE : COARSE_SIDE));
    this.small = createImage(Math.max(1, Math.round(picture.width / this.scale)), Math.max(1, Math.round(picture.height / this.scale)));
    shrinkImage(picture, this.small);
    this.smallFeatures = featuresOf(this.small);
  }

  /**
   * Coverage 0..1. Without keep strokes nothing is covered; without drop strokes the picture's border counts as one.
   * With `prior`, a matte of the same size that the strokes correct, they change it only around themselves.
   */
  cut(strokes: Strokes, prior: Plane | null = null): Plane {
    const { width, height } = this.picture;
    const out = createPlane(width, height);
    if (prior === null && strokes.keep.every((s) => s.points.length === 0)) return out;
    const seeds = paintSeeds(strokes, width, height, 1);
    const coarse = this.cutSmall(strokes, prior);
    const signed = enlarge(coarse, this.small.width, this.small.height, width, height);
    for (let i = 0; i < seeds.length; i++) {
      if (seeds[i] === KEEP && signed[i]! < 0) signed[i] = 0.5;
      if (seeds[i] === DROP && signed[i]! > 0) signed[i] = -0.5;
    }
    const inside = this.cutLarge(signed, seeds);
    for (let i = 0; i < seeds.length; i++) if (seeds[i] !== 0) inside[i] = seeds[i] === KEEP ? 1 : 0;
    coverAlongEdge(this.features, inside, width, height, out);
    if (prior !== null) keepPrior(prior, seeds, strokes, out);
    return out;
  }

  private cutSmall(strokes: Strokes, prior: Plane | null): Uint8Array {
    const { width, height } = this.small;
    const features = this.smallFeatures;
    const n = width * height;
    const seeds = paintSeeds(strokes, width, height, 1 / this.scale);
    if (prior !== null) seedFromPrior(resized(prior, width, height), seeds, strokes, this.scale);
    else if (!seeds.includes(DROP)) markBorder(seeds, width, height);
    const likely = new Float32Array(n).fill(0.5);
    let near = nearness(features, likely, seeds, width, height);
    const everywhere = new Uint8Array(n).fill(1);
    const lean = new Float32Array(n);
    let inside: Uint8Array | null = null;
    for (let round = 0; round < ROUNDS; round++) {
      const [keep, drop] = samplesOf(seeds, inside, near);
      const keepModel = ColourModel.fit(features, keep, 6);
      const dropModel = ColourModel.fit(features, drop, 8);
      const trust = keepModel === null || dropModel === null ? 0 : separation(keepModel, dropModel, features, seeds);
      for (let i = 0; i < n; i++) {
        if (seeds[i] !== 0) {
          lean[i] = seeds[i] === KEEP ? 1000 : -1000;
          continue;
        }
        let value = NEARNESS * near[i]!;
        if (trust > 0) {
          const [a, b, c] = [features[3 * i]!, features[3 * i + 1]!, features[3 * i + 2]!];
          const ratio = keepModel!.logDensity(a, b, c) - dropModel!.logDensity(a, b, c);
          likely[i] = 1 / (1 + Math.exp(-0.7 * trust * ratio));
          value += COLOUR * trust * Math.max(-MOST, Math.min(MOST, ratio));
        }
        lean[i] = value;
      }
      if (round === 0) {
        const before = near;
        near = nearness(features, likely, seeds, width, height);
        for (let i = 0; i < n; i++) if (seeds[i] === 0) lean[i]! += NEARNESS * (near[i]! - before[i]!);
      }
      const next = cutBand(features, everywhere, lean, lean, width, height, CONTRAST);
      const same = inside !== null && next.every((v, i) => v === inside![i]);
      inside = next;
      if (same) break;
    }
    return connectedToKeep(inside!, seeds, width);
  }

  private cutLarge(signed: Float32Array, seeds: Uint8Array): Uint8Array {
    const { width, height } = this.picture;
    const reach = 2 + 2.2 * this.scale;
    const band = new Uint8Array(signed.length);
    for (let i = 0; i < band.length; i++) if (seeds[i] === 0 && Math.abs(signed[i]!) < reach) band[i] = 1;
    const colours = LocalColours.learn(this.features, signed, width, height);
    const votes = colours.vote(this.features, band, width, height, (x, y) => [x, y]);
    const lean = new Float32Array(signed.length);
    for (let i = 0; i < lean.length; i++) if (band[i] === 1) lean[i] = 0.9 * votes[i]! + (0.5 * signed[i]!) / this.scale;
    return cutBand(this.features, band, signed, lean, width, height);
  }
}

/** 1 under keep strokes, 2 under drop strokes; later strokes lie on top, drop strokes on keep strokes. */
export function paintSeeds(strokes: Strokes, width: number, height: number, scale: number): Uint8Array {
  const seeds = new Uint8Array(width * height);
  for (const [list, value] of [
    [strokes.keep, KEEP],
    [strokes.drop, DROP],
  ] as const)
    for (const stroke of list) paintStroke(stroke, seeds, value, width, height, scale);
  return seeds;
}

function paintStroke({ radius, points }: Stroke, into: Uint8Array, value: number, width: number, height: number, scale: number): void {
  const r = Math.max(0.6, radius * scale);
  for (let k = 0; k < points.length; k++) {
    const [x0, y0] = [points[Math.max(0, k - 1)]![0] * scale, points[Math.max(0, k - 1)]![1] * scale];
    const [x1, y1] = [points[k]![0] * scale, points[k]![1] * scale];
    const dx = x1 - x0;
    const dy = y1 - y0;
    const length = dx * dx + dy * dy;
    const bottom = Math.min(height - 1, Math.ceil(Math.max(y0, y1) + r));
    const right = Math.min(width - 1, Math.ceil(Math.max(x0, x1) + r));
    for (let y = Math.max(0, Math.floor(Math.min(y0, y1) - r)); y <= bottom; y++) {
      for (let x = Math.max(0, Math.floor(Math.min(x0, x1) - r)); x <= right; x++) {
        const px = x + 0.5 - x0;
        const py = y + 0.5 - y0;
        const t = length === 0 ? 0 : Math.max(0, Math.min(1, (px * dx + py * dy) / length));
        const ex = px - t * dx;
        const ey = py - t * dy;
        if (ex * ex + ey * ey <= r * r) into[y * width + x] = value;
      }
    }
  }
}

function markBorder(seeds: Uint8Array, width: number, height: number): void {
  for (let i = 0; i < seeds.length; i++) {
    const x = i % width;
    if ((x === 0 || x === width - 1 || i < width || i >= width * (height - 1)) && seeds[i] === 0) seeds[i] = DROP;
  }
}

/**
 * How much nearer each pixel is to keep strokes than to drop strokes, −1..1, where going across an edge is far:
 * geodesic distances by sweeps over the raster (Toivanen 1996).
 */
function nearness(features: Float32Array, likely: Float32Array, seeds: Uint8Array, width: number, height: number): Float32Array {
  const keep = geodesic(features, likely, seeds, KEEP, width, height);
  const drop = geodesic(features, likely, seeds, DROP, width, height);
  const out = new Float32Array(seeds.length);
  for (let i = 0; i < out.length; i++) out[i] = (drop[i]! - keep[i]!) / (drop[i]! + keep[i]! + 1e-6);
  return out;
}

function geodesic(
  features: Float32Array,
  likely: Float32Array,
  seeds: Uint8Array,
  value: number,
  width: number,
  height: number,
): Float32Array {
  const d = new Float32Array(seeds.length);
  for (let i = 0; i < d.length; i++) d[i] = seeds[i] === value ? 0 : 1e9;
  const relax = (i: number, j: number, step: number): void => {
    const next = d[j]! + step * 0.5 + 0.06 * Math.sqrt(featureDistance(features, i, j)) + 12 * Math.abs(likely[i]! - likely[j]!);
    if (next < d[i]!) d[i] = next;
  };
  for (let round = 0; round < 3; round++) {
    for (let y = 0, i = 0; y < height; y++) {
      for (let x = 0; x < width; x++, i++) {
        if (x > 0) relax(i, i - 1, 1);
        if (y > 0) {
          relax(i, i - width, 1);
          if (x > 0) relax(i, i - width - 1, Math.SQRT2);
          if (x + 1 < width) relax(i, i - width + 1, Math.SQRT2);
        }
      }
    }
    for (let y = height - 1, i = d.length - 1; y >= 0; y--) {
      for (let x = width - 1; x >= 0; x--, i--) {
        if (x + 1 < width) relax(i, i + 1, 1);
        if (y + 1 < height) {
          relax(i, i + width, 1);
          if (x > 0) relax(i, i + width - 1, Math.SQRT2);
          if (x + 1 < width) relax(i, i + width + 1, Math.SQRT2);
        }
      }
    }
  }
  return d;
}

/** The pixels to learn either side's colours from: the strokes, and from the second round on the cut so far. */
function samplesOf(seeds: Uint8Array, inside: Uint8Array | null, near: Float32Array): [number[], number[]] {
  const keep: number[] = [];
  const drop: number[] = [];
  for (let i = 0; i < seeds.length; i++) {
    const side = seeds[i] !== 0 ? seeds[i]! : inside === null ? (near[i]! < -0.75 ? DROP : 0) : inside[i] === 1 ? KEEP : DROP;
    if (side === KEEP) keep.push(i);
    else if (side === DROP) drop.push(i);
  }
  return [keep, drop];
}

/** How well the colours tell the strokes apart, 0..1. */
function separation(keep: ColourModel, drop: ColourModel, features: Float32Array, seeds: Uint8Array): number {
  let right = [0, 0];
  const total = [0, 0];
  for (let i = 0; i < seeds.length; i++) {
    if (seeds[i] === 0) continue;
    const side = seeds[i]! - 1;
    const [a, b, c] = [features[3 * i]!, features[3 * i + 1]!, features[3 * i + 2]!];
    const ratio = keep.logDensity(a, b, c) - drop.logDensity(a, b, c);
    right[side]! += 1 / (1 + Math.exp(side === 0 ? -ratio : ratio));
    total[side]!++;
  }
  right = right.map((v, side) => v / Math.max(1, total[side]!));
  return Math.max(0, Math.min(1, right[0]! + right[1]! - 1)) ** 0.7;
}

/** Widest stroke, in pixels. */
const widest = ({ keep, drop }: Strokes): number => [...keep, ...drop].reduce((most, s) => Math.max(most, s.radius), 0);

/** Squared distance of every pixel to the nearest stroke. */
function distancesToStrokes(seeds: Uint8Array, width: number, height: number): Float32Array {
  const painted = seeds.map((v) => (v === 0 ? 0 : 1));
  const out = new Float32Array(seeds.length);
  squaredDistances(painted, 1, width, height, out);
  return out;
}

/** Away from the strokes the prior stands: its inside keeps, its outside drops. */
function seedFromPrior(prior: Plane, seeds: Uint8Array, strokes: Strokes, scale: number): void {
  const distances = distancesToStrokes(seeds, prior.width, prior.height);
  const reach = Math.max(3, (CORRECTS * widest(strokes)) / scale) ** 2;
  for (let i = 0; i < seeds.length; i++) if (seeds[i] === 0 && distances[i]! > reach) seeds[i] = prior.data[i]! >= 0.5 ? KEEP : DROP;
}

/** Puts the prior back wherever the strokes do not reach. */
function keepPrior(prior: Plane, seeds: Uint8Array, strokes: Strokes, out: Plane): void {
  const distances = distancesToStrokes(seeds, prior.width, prior.height);
  const reach = CORRECTS * widest(strokes);
  for (let i = 0; i < out.data.length; i++) {
    const share = Math.max(0, Math.min(1, (Math.sqrt(distances[i]!) - reach) / 4));
    out.data[i] = share * prior.data[i]! + (1 - share) * out.data[i]!;
  }
}

/** Drops parts of the cut that no keep stroke touches. */
function connectedToKeep(inside: Uint8Array, seeds: Uint8Array, width: number): Uint8Array {
  const out = new Uint8Array(inside.length);
  const stack: number[] = [];
  for (let i = 0; i < inside.length; i++)
    if (seeds[i] === KEEP) {
      out[i] = 1;
      stack.push(i);
    }
  while (stack.length > 0) {
    const i = stack.pop()!;
    const x = i % width;
    for (const j of [x > 0 ? i - 1 : -1, x + 1 < width ? i + 1 : -1, i - width, i + width]) {
      if (j < 0 || j >= inside.length || out[j] === 1 || inside[j] === 0) continue;
      out[j] = 1;
      stack.push(j);
    }
  }
  return out;
}

/** Signed distance at the large size of an edge cut at the small one, in large pixels. */
function enlarge(inside: Uint8Array, fromWidth: number, fromHeight: number, width: number, height: number): Float32Array {
  const small = new Float32Array(inside.length);
  signedDistance(inside, fromWidth, fromHeight, small);
  const out = new Float32Array(width * height);
  const scale = width / fromWidth;
  for (let y = 0, o = 0; y < height; y++) {
    const py = Math.max(0, Math.min(fromHeight - 1.001, ((y + 0.5) * fromHeight) / height - 0.5));
    const row = (py | 0) * fromWidth;
    const fy = py - (py | 0);
    for (let x = 0; x < width; x++, o++) {
      const px = Math.max(0, Math.min(fromWidth - 1.001, ((x + 0.5) * fromWidth) / width - 0.5));
      const i = row + (px | 0);
      const fx = px - (px | 0);
      const upper = small[i]! + fx * (small[i + 1]! - small[i]!);
      const lower = small[i + fromWidth]! + fx * (small[i + fromWidth + 1]! - small[i + fromWidth]!);
      out[o] = scale * (upper + fy * (lower - upper));
    }
  }
  return out;
}
