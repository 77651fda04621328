import type { MatchPicture } from '../flow/match-layer';
import { createPlane, type Plane } from '../image/pixels';
import { fillPolygon, HARD_EDGE } from '../geometry/polygon-raster';
import {
  invertMap,
  mapPoint,
  multiply,
  parametersOf,
  scaleAt,
  smallMap,
  solveSymmetric,
  steepest,
  type Homography,
  type MotionModel,
} from '../geometry/fit-map';
import { likelyPlaces } from './plane-search';

export type Corner = readonly [number, number];

/** Pixels of the picture that a region must hold. */
const LEAST_PIXELS = 16;
const LEVELS = 4;
const MOST_SAMPLES = 2600;
const ROUNDS = 14;
/** Cells each way in which agreement is counted, so that a hidden part cannot be outvoted by texture elsewhere. */
const CELLS = 6;
/** Correlation from which a cell counts as seen. */
const AGREES = 0.75;
/** Share of the region's clear squared slopes under which a slope is noise to the alignment. */
const CLEAR = 0.01;
/** Fewest samples to align by. */
const FEWEST = 60;

/**
 * How far one frame's motion is expected to be from its start, as a standard deviation in template units: shift, linear part,
 * perspective. It decides what the seen part of a region cannot tell, and next to nothing else.
 */
const EXPECTED_SHIFT = 0.3;
const EXPECTED_LINEAR = 0.05;
const EXPECTED_PERSPECTIVE = 0.02;
/** What does not fit is alike from pixel to pixel: so many of them count as one. */
const ALIKE = 50;
const [SHIFT, LINEAR, PERSPECTIVE] = [EXPECTED_SHIFT, EXPECTED_LINEAR, EXPECTED_PERSPECTIVE].map((s) => ALIKE / (s * s)) as [
  number,
  number,
  number,
];
/** What it costs to leave the start, for every parameter of a model, in squares of the scale of what fits. */
const COST: Readonly<Record<MotionModel, readonly number[]>> = {
  similarity: [LINEAR, LINEAR, SHIFT, SHIFT],
  affine: [LINEAR, LINEAR, SHIFT, LINEAR, LINEAR, SHIFT],
  perspective: [LINEAR, LINEAR, SHIFT, LINEAR, LINEAR, SHIFT, PERSPECTIVE, PERSPECTIVE],
};

interface Sample {
  readonly x: number;
  readonly y: number;
  readonly cell: number;
  readonly strength: number;
}

/** One size of the template: places in units around the region's middle, values, derivatives; those with clear slopes first. */
interface TemplateLevel {
  readonly count: number;
  /** How many have slopes clear enough to align by. The rest only tell how far the picture agrees. */
  readonly telling: number;
  readonly xs: Float32Array;
  readonly ys: Float32Array;
  readonly values: Float32Array;
  readonly slopes: Float32Array;
  readonly cells: Uint8Array;
}

/** How a picture was laid on the template: template units to pixels, and how far it agrees, 0..1, altogether and cell by cell. */
export interface Alignment {
  readonly map: Homography;
  readonly agreement: number;
  readonly cells: Float32Array;
}

/** A coarse search takes the largest halving on which half the region's size is this many pixels. */
const SEARCH_UNIT_PX = 6;

/**
 * A plane region of one frame, to be found again on others by inverse-compositional alignment with gain and bias, from
 * coarse to fine (Baker & Matthews 2004), re-weighted in every round against what does not fit, and held to the start where the
 * picture cannot tell. Positions within it are counted in units of half its size around its middle.
 */
export class PlaneTemplate {
  private readonly model: MotionModel;
  private readonly corners: readonly Corner[];
  private readonly width: number;
  private readonly height: number;
  private readonly unit: number;
  private readonly weights: Plane;
  private readonly template: readonly TemplateLevel[];
  /** The cell of a place in template units. */
  readonly cellOf: (u: number, v: number) => number;
  /** Template units to pixels of its own frame. */
  readonly home: Homography;

  /** Takes the pixels in `corners` for which `isSeen`. @throws RangeError when there are too few of them. */
  constructor(picture: MatchPicture, corners: readonly Corner[], model: MotionModel, isSeen?: (x: number, y: number) => boolean) {
    const { width, height } = picture.levels[0]!.luma;
    this.model = model;
    this.corners = corners;
    this.width = width;
    this.height = height;
    this.weights = regionWeights(corners, width, height);
    let [n, sx, sy] = [0, 0, 0];
    for (let i = 0; i < this.weights.data.length; i++) {
      if (this.weights.data[i]! < 0.5) continue;
      const [x, y] = [i % width, Math.floor(i / width)];
      if (isSeen !== undefined && !isSeen(x + 0.5, y + 0.5)) {
        this.weights.data[i] = 0;
        continue;
      }
      n++;
      sx += x;
      sy += y;
    }
    if (n < LEAST_PIXELS) throw new RangeError('PlaneTemplate: the region holds too few pixels of the picture');
    this.unit = Math.max(4, Math.sqrt(n) / 2);
    this.home = Float64Array.of(this.unit, 0, sx / n + 0.5, 0, this.unit, sy / n + 0.5, 0, 0, 1);
    this.cellOf = this.cells();
    this.template = picture.levels.slice(0, LEVELS).map((_, level) => this.takeLevel(picture, level));
  }

  private takeLevel(picture: MatchPicture, level: number): TemplateLevel {
    const { luma, gx, gy } = picture.levels[level]!;
    const size = 1 << level;
    const candidates: { i: number; strength: number }[][] = Array.from({ length: CELLS * CELLS }, () => []);
    const back = invertMap(this.home);
    for (let y = 1; y < luma.height - 1; y++) {
      for (let x = 1, i = y * luma.width + 1; x < luma.width - 1; x++, i++) {
        const [fx, fy] = [(x + 0.5) * size, (y + 0.5) * size];
        const at = Math.min(this.height - 1, fy | 0) * this.width + Math.min(this.width - 1, fx | 0);
        // slopes across the region's border belong to what lies around it
        if (this.weights.data[at]! < 0.5 || !this.isWithin(fx, fy, size)) continue;
        const [u, v] = mapPoint(back, fx, fy);
        const cell = this.cellOf(u, v);
        candidates[cell]!.push({ i, strength: gx.data[i]! ** 2 + gy.data[i]! ** 2 });
      }
    }
    // every cell sends its strongest slopes and, for agreement, an even share of the rest
    const perCell = Math.ceil(MOST_SAMPLES / (CELLS * CELLS));
    const samples: Sample[] = [];
    candidates.forEach((list, cell) => {
      list.sort((a, b) => b.strength - a.strength);
      const strongest = list.slice(0, Math.ceil(perCell * 0.7));
      const rest = list.slice(strongest.length);
      const step = Math.max(1, Math.floor(rest.length / Math.max(1, perCell - strongest.length)));
      for (const { i, strength } of [...strongest, ...rest.filter((_, k) => k % step === 0).slice(0, perCell - strongest.length)])
        samples.push({ x: i % luma.width, y: Math.floor(i / luma.width), cell, strength });
    });
    // what is flat would set the scale of what fits, and there only noise fits
    const clear = CLEAR * (samples.map((s) => s.strength).sort((a, b) => a - b)[Math.floor(0.9 * samples.length)] ?? 0);
    const chosen = [...samples.filter((s) => s.strength >= clear), ...samples.filter((s) => s.strength < clear)];
    const n = parametersOf(this.model);
    const count = chosen.length;
    const out = {
      count,
      telling: Math.max(Math.min(FEWEST, count), samples.filter((s) => s.strength >= clear).length),
      xs: new Float32Array(count),
      ys: new Float32Array(count),
      values: new Float32Array(count),
      slopes: new Float32Array(count * n),
      cells: new Uint8Array(count),
    };
    chosen.forEach(({ x, y, cell }, k) => {
      const i = y * luma.width + x;
      const [u, v] = mapPoint(back, (x + 0.5) * size, (y + 0.5) * size);
      out.xs[k] = u;
      out.ys[k] = v;
      out.values[k] = luma.data[i]!;
      out.cells[k] = cell;
      // slopes per template unit
      const perUnit = this.unit / size;
      steepest(this.model, u, v, gx.data[i]! * perUnit, gy.data[i]! * perUnit, out.slopes, k * n);
    });
    return out;
  }

  /** True when the pixels around (x, y), `reach` away, belong to the region. */
  private isWithin(x: number, y: number, reach: number): boolean {
    for (const dx of [-reach, reach]) {
      for (const dy of [-reach, reach]) {
        const [px, py] = [x + dx, y + dy];
        if (px < 0 || py < 0 || px >= this.width || py >= this.height) return false;
        if (this.weights.data[(py | 0) * this.width + (px | 0)]! < 0.5) return false;
      }
    }
    return true;
  }

  private cells(): (u: number, v: number) => number {
    const back = invertMap(this.home);
    const units = this.corners.map(([x, y]) => mapPoint(back, x, y));
    const [left, right] = [Math.min(...units.map((p) => p[0])), Math.max(...units.map((p) => p[0]))];
    const [top, bottom] = [Math.min(...units.map((p) => p[1])), Math.max(...units.map((p) => p[1]))];
    const cell = (v: number, a: number, b: number): number =>
      Math.max(0, Math.min(CELLS - 1, Math.floor((CELLS * (v - a)) / Math.max(1e-6, b - a))));
    return (u, v) => cell(v, top, bottom) * CELLS + cell(u, left, right);
  }

  /** Aligns the template with `next` from `start`, coarse to fine; with how far the result agrees, 0..1. */
  align(next: MatchPicture, start: Homography): Alignment {
    let map = start;
    let level = Math.min(LEVELS, next.levels.length) - 1;
    while (level > 0 && this.template[level]!.count < FEWEST) level--;
    for (; level >= 0; level--) map = this.alignLevel(next, level, map);
    // once more from there, so that what the start was held to is let go where the picture can tell
    map = this.alignLevel(next, 0, map);
    return { map, ...this.agreement(next, map) };
  }

  /**
   * Looks for the template anywhere in `next`, by the correlation of its coarse look at every place, at about
   * the size and turn of `shape`. @returns the `most` likeliest places, likeliest first, to align from; none when it is too small or plain.
   */
  seek(next: MatchPicture, shape: Homography, most = 3): Homography[] {
    const growth = scaleAt(shape, 0, 0);
    let level = Math.min(LEVELS, next.levels.length) - 1;
    while (level > 0 && (growth / (1 << level) < SEARCH_UNIT_PX || this.templateFor(level, growth / this.unit).count < FEWEST)) level--;
    const { count, xs, ys, values } = this.templateFor(level, growth / this.unit);
    if (count < FEWEST || !Number.isFinite(growth)) return [];
    return likelyPlaces({ count, xs, ys, values }, next.levels[level]!.luma, 1 << level, shape, most);
  }

  /** The template's size that looks most like `level` of a picture in which the region has grown by `growth`. */
  private templateFor(level: number, growth: number): TemplateLevel {
    const wanted = Math.round(level - Math.log2(Math.max(0.05, growth)));
    return this.template[Math.max(0, Math.min(this.template.length - 1, wanted))]!;
  }

  private alignLevel(next: MatchPicture, level: number, start: Homography): Homography {
    const n = parametersOf(this.model);
    const template = this.templateFor(level, scaleAt(start, 0, 0) / this.unit);
    const { telling: count, xs, ys, values, slopes } = template;
    if (count < 30) return start;
    const { luma } = next.levels[level]!;
    const size = 1 << level;
    const m = n + 2;
    const a = new Float64Array(m * m);
    const b = new Float64Array(m);
    const residuals = new Float32Array(count);
    const sizes = new Float32Array(count);
    const row = new Float64Array(m);
    const moved = new Float64Array(n);
    const cost = COST[this.model];
    let map = start;
    let gain = 1;
    let bias = 0;
    for (let round = 0; round < ROUNDS; round++) {
      let seen = 0;
      for (let k = 0; k < count; k++) {
        const x = xs[k]!;
        const y = ys[k]!;
        const w = map[6]! * x + map[7]! * y + 1;
        const px = (map[0]! * x + map[1]! * y + map[2]!) / w / size - 0.5;
        const py = (map[3]! * x + map[4]! * y + map[5]!) / w / size - 0.5;
        if (!(px >= 0 && py >= 0 && px < luma.width - 1.001 && py < luma.height - 1.001 && w > 0.05)) {
          residuals[k] = NaN;
          continue;
        }
        const left = px | 0;
        const top = py | 0;
        const i = top * luma.width + left;
        const fx = px - left;
        const fy = py - top;
        const { data } = luma;
        const upper = data[i]! + fx * (data[i + 1]! - data[i]!);
        const lower = data[i + luma.width]! + fx * (data[i + luma.width + 1]! - data[i + luma.width]!);
        const e = upper + fy * (lower - upper) - (gain * values[k]! + bias);
        residuals[k] = e;
        sizes[seen++] = Math.abs(e);
      }
      if (seen < 20) return start;
      const sorted = sizes.subarray(0, seen).slice().sort();
      // spread of the better half, so that a hidden part does not widen what is forgiven
      const scale = Math.max(2.5, 3.2 * 1.48 * sorted[Math.floor(0.45 * seen)]!);
      a.fill(0);
      b.fill(0);
      for (let k = 0; k < count; k++) {
        const e = residuals[k]!;
        if (Number.isNaN(e)) continue;
        const t = e / scale;
        if (t > 1 || t < -1) continue;
        const weight = (1 - t * t) * (1 - t * t);
        for (let p = 0; p < n; p++) row[p] = gain * slopes[k * n + p]!;
        row[n] = values[k]! / 64;
        row[n + 1] = 1;
        for (let p = 0; p < m; p++) {
          const wp = weight * row[p]!;
          b[p]! += wp * e;
          for (let q = 0; q <= p; q++) a[p * m + q]! += wp * row[q]!;
        }
      }
      for (let p = 0; p < m; p++) a[p * m + p] = a[p * m + p]! * (1 + 1e-6) + 1e-3;
      for (let p = 0; p < n; p++) {
        const hold = cost[p]! * scale * scale;
        a[p * m + p]! += hold;
        b[p]! -= hold * moved[p]!;
      }
      if (!solveSymmetric(a, b, m)) return map;
      gain = Math.max(0.2, Math.min(5, gain + b[n]! / 64));
      bias += b[n + 1]!;
      let map2: Homography;
      try {
        map2 = multiply(map, invertMap(smallMap(this.model, b)));
      } catch {
        return start;
      }
      for (let p = 0; p < n; p++) moved[p]! += b[p]!;
      map = map2;
      if (Math.max(Math.abs(b[2]!), Math.abs(b[n === 4 ? 3 : 5]!)) * this.unit < 0.003 * size) break;
    }
    return map.every(Number.isFinite) ? map : start;
  }

  /** Share of the region's cells whose look correlates with the template's. */
  private agreement(next: MatchPicture, map: Homography): Omit<Alignment, 'map'> {
    const agreeing = new Float32Array(CELLS * CELLS);
    const growth = scaleAt(map, 0, 0) / this.unit;
    if (!Number.isFinite(growth)) return { agreement: 0, cells: agreeing };
    // half size is steadier against noise, where enough of the region is left there
    const level = next.levels.length > 1 && (this.template[1]?.count ?? 0) > 12 * CELLS * CELLS ? 1 : 0;
    const { count, xs, ys, values, cells } = this.templateFor(level, growth);
    const { luma } = next.levels[level]!;
    const size = 1 << level;
    const sums = new Float64Array(CELLS * CELLS * 6);
    for (let k = 0; k < count; k++) {
      const [qx, qy] = mapPoint(map, xs[k]!, ys[k]!);
      const px = qx / size - 0.5;
      const py = qy / size - 0.5;
      if (!(px >= 0 && py >= 0 && px < luma.width - 1.001 && py < luma.height - 1.001)) continue;
      const i = (py | 0) * luma.width + (px | 0);
      const fx = px - (px | 0);
      const fy = py - (py | 0);
      const { data } = luma;
      const upper = data[i]! + fx * (data[i + 1]! - data[i]!);
      const lower = data[i + luma.width]! + fx * (data[i + luma.width + 1]! - data[i + luma.width]!);
      const v = upper + fy * (lower - upper);
      const t = values[k]!;
      const s = cells[k]! * 6;
      sums[s]!++;
      sums[s + 1]! += t;
      sums[s + 2]! += v;
      sums[s + 3]! += t * t;
      sums[s + 4]! += v * v;
      sums[s + 5]! += t * v;
    }
    const held = new Float64Array(CELLS * CELLS);
    for (let k = 0; k < count; k++) held[cells[k]!]!++;
    let sum = 0;
    let all = 0;
    for (let c = 0; c < CELLS * CELLS; c++) {
      if (held[c]! < 6) continue;
      const [n, t, v, tt, vv, tv] = sums.subarray(6 * c, 6 * c + 6) as unknown as [number, number, number, number, number, number];
      // cells without texture say nothing
      const spread = n < 6 ? 0 : tt / n - (t / n) ** 2;
      if (n >= 6 && spread < 4) continue;
      all++;
      if (n < 0.5 * held[c]!) continue;
      const cover = tv / n - (t / n) * (v / n);
      const other = vv / n - (v / n) ** 2;
      const correlation = cover / Math.sqrt(Math.max(1e-6, spread * other));
      sum += agreeing[c] = Math.max(0, Math.min(1, (correlation - AGREES + 0.25) / 0.35));
    }
    return { agreement: all === 0 ? 0 : sum / all, cells: agreeing };
  }
}

/** Whether a region holds enough of a picture to be followed. */
export function isFollowable(corners: readonly Corner[], width: number, height: number): boolean {
  return corners.length >= 3 && regionWeights(corners, width, height).data.filter((w) => w >= 0.5).length >= LEAST_PIXELS;
}

/** Coverage of the region in a picture, 0..1. */
export function regionWeights(corners: readonly Corner[], width: number, height: number): Plane {
  const cover = new Uint8Array(width * height);
  fillPolygon(Float64Array.from(corners.flat()), HARD_EDGE, width, height, cover);
  const weights = createPlane(width, height);
  for (let i = 0; i < cover.length; i++) weights.data[i] = cover[i]! / 255;
  return weights;
}
