import { createPlane, gradients, pyramidOf, type Plane } from '../image/plane';
import { doubtUnexpected, emptyField, fillField, flowAt, sharedMotion, type AffineMotion, type FlowField, type Region } from './flow-field';

interface MatchLevel {
  readonly luma: Plane;
  readonly gx: Plane;
  readonly gy: Plane;
}

/** A level whose gradients are made when they are first asked for: only templates need them, and not at every size. */
class LazyLevel implements MatchLevel {
  readonly luma: Plane;
  private made: { readonly gx: Plane; readonly gy: Plane } | null = null;

  constructor(luma: Plane) {
    this.luma = luma;
  }

  get gx(): Plane {
    return this.gradients().gx;
  }

  get gy(): Plane {
    return this.gradients().gy;
  }

  private gradients(): { readonly gx: Plane; readonly gy: Plane } {
    if (this.made !== null) return this.made;
    const gx = createPlane(this.luma.width, this.luma.height);
    const gy = createPlane(this.luma.width, this.luma.height);
    gradients(this.luma, gx, gy);
    return (this.made = { gx, gy });
  }
}

/** A picture prepared for matching: luma and its halvings with their gradients, largest first. */
export interface MatchPicture {
  readonly levels: readonly MatchLevel[];
}

const LEVELS = 6;

/** Prepares a luma plane (0..255) for matching on at most `levels` sizes; keeps `luma` as its largest level. */
export function prepareMatch(luma: Plane, levels = LEVELS): MatchPicture {
  return { levels: pyramidOf(luma, levels, 12).map((plane) => new LazyLevel(plane)) };
}

export interface MatchOptions {
  /** Pyramid level of the result; 0 is full size. */
  readonly finest: number;
  /** Coarsest level to search from; the whole pyramid without it. */
  readonly coarsest?: number;
  /** Where to start, and one more motion to try at every level. */
  readonly start?: FlowField | null;
  /** How the layer as a whole is expected to move, where too little of it can be seen to tell; without it that is found. */
  readonly expected?: AffineMotion | null;
  /** The pictures are nearly in place: what cannot be matched stays where it is. */
  readonly nearlyInPlace?: boolean;
  /** How much the light may change, in 8-bit steps; where brightness differs more, something else is in front. No limit without it. */
  readonly lightChange?: number;
}

const PATCH = 8;
const AREA = PATCH * PATCH;
const STRIDE = 4;
const ROUNDS = 7;
/** A patch of which less than this share belongs to the layer says nothing. */
const LEAST_SHARE = 0.18;
/** Mean squared difference, in 8-bit steps, at which a match is worth half of a perfect one. */
const HALF_TRUST = 90;
/** Pixels of the full size that something nearly in place may be off. */
const IN_PLACE = 2.5;
/** Sum of the patches' trust in a pixel below which it is not known where it went. */
const LEAST_TRUST = 0.2;
/** Weight of a difference in brightness beyond what the light may change. */
const LIGHT = 0.25;
/** A motion this far from the expected one, in pixels, counts half. */
const UNEXPECTED_PX = 2;
/** Damps the steps of a patch without texture. */
const STIFFNESS = 240;
/** What a displacement costs against its start, in squared 8-bit steps for a squared pixel: without texture all fit alike. */
const PULL = 2;

/**
 * Where the pixels of one layer of `template` went in `target`: inverse-search patches from coarse to fine
 * (Kroeger et al. 2016), each pixel weighted by the layer's own coverage so that what lies behind or in front has
 * no say, each patch free of its mean so that a change of light has none either; between and beyond the layer the
 * motion is filled in smoothly. `weights` is the layer's coverage in the template, 0..1, at full size.
 */
export function matchLayer(template: MatchPicture, weights: Plane, target: MatchPicture, options: MatchOptions): FlowField {
  const { finest, start = null, expected = null, lightChange = Infinity, nearlyInPlace = false } = options;
  const coarsest = Math.max(finest, Math.min(options.coarsest ?? LEVELS, template.levels.length - 1));
  const masks = pyramidOf(weights, coarsest + 1, 1);
  let field: FlowField | null = null;
  for (let level = coarsest; level >= finest; level--) {
    const next = emptyField(boundsOf(masks[level]!), 1 << level);
    matchLevel(
      template.levels[level]!,
      masks[level]!,
      target.levels[level]!.luma,
      field ?? start,
      field === null ? null : start,
      level === finest ? lightChange : Infinity,
      (nearlyInPlace ? IN_PLACE : Infinity) / next.step,
      next,
    );
    if (expected !== null) doubtUnexpected(next, expected, UNEXPECTED_PX);
    fillField(next, nearlyInPlace ? null : (expected ?? sharedMotion(next)));
    field = next;
  }
  return field!;
}

/** Cells around a layer that get its motion too. */
const MARGIN = 12;

/** The part of `mask` that is not 0, widened by the margin; the first cell when there is none. */
function boundsOf({ width, height, data }: Plane): Region {
  let [left, right, top, bottom] = [width, -1, height, -1];
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (data[i] === 0) continue;
      if (x < left) left = x;
      if (x > right) right = x;
      if (y < top) top = y;
      bottom = y;
    }
  }
  if (right < 0) return { left: 0, top: 0, right: 1, bottom: 1 };
  return {
    left: Math.max(0, left - MARGIN),
    top: Math.max(0, top - MARGIN),
    right: Math.min(width, right + 1 + MARGIN),
    bottom: Math.min(height, bottom + 1 + MARGIN),
  };
}

function matchLevel(
  from: MatchLevel,
  mask: Plane,
  target: Plane,
  guess: FlowField | null,
  other: FlowField | null,
  lightChange: number,
  reach: number,
  out: FlowField,
): void {
  const { width, height } = from.luma;
  const { step, trust } = out;
  const firstColumn = Math.max(0, Math.floor((out.left - PATCH) / STRIDE));
  const firstRow = Math.max(0, Math.floor((out.top - PATCH) / STRIDE));
  const across = Math.ceil((Math.min(width, out.left + out.width) - PATCH) / STRIDE) + 1;
  const down = Math.ceil((Math.min(height, out.top + out.height) - PATCH) / STRIDE) + 1;
  const us = new Float32Array(Math.max(1, across * down));
  const vs = new Float32Array(us.length);
  const ok = new Uint8Array(us.length);
  const at = new Float64Array(2);
  const best = new Float64Array(3);
  const patch = new Patch(from, mask, target);
  for (let j = firstRow; j < down; j++) {
    for (let i = firstColumn; i < across; i++) {
      const x = Math.min(i * STRIDE, width - PATCH);
      const y = Math.min(j * STRIDE, height - PATCH);
      if (!patch.take(x, y)) continue;
      const cell = j * across + i;
      at.fill(0);
      if (guess !== null) flowAt(guess, (x + PATCH / 2) * step, (y + PATCH / 2) * step, at);
      best[0] = at[0]! / step;
      best[1] = at[1]! / step;
      patch.startAt(best[0], best[1]);
      best[2] = patch.cost(best[0], best[1]);
      if (other !== null) {
        flowAt(other, (x + PATCH / 2) * step, (y + PATCH / 2) * step, at);
        patch.consider(at[0]! / step, at[1]! / step, best);
      }
      if (i > 0 && ok[cell - 1] === 1) patch.consider(us[cell - 1]!, vs[cell - 1]!, best);
      if (j > 0 && ok[cell - across] === 1) patch.consider(us[cell - across]!, vs[cell - across]!, best);
      const error = patch.refine(best);
      us[cell] = best[0];
      vs[cell] = best[1];
      ok[cell] = 1;
      if (best[0] * best[0] + best[1] * best[1] > reach * reach) continue;
      patch.spread(best[0], best[1], error, lightChange, out);
    }
  }
  for (let i = 0; i < trust.length; i++) {
    const w = trust[i]!;
    if (w <= 0) continue;
    out.u[i] = (out.u[i]! / w) * step;
    out.v[i] = (out.v[i]! / w) * step;
    // four patches cover a pixel; each adds at most 1. Many that hardly match must not add up to a motion
    trust[i] = w < LEAST_TRUST ? 0 : Math.min(1, w / 3);
  }
}

/** One patch of the template and the search for it in the target. */
class Patch {
  private readonly from: MatchLevel;
  private readonly mask: Plane;
  private readonly target: Plane;
  private readonly values = new Float32Array(AREA);
  private readonly gradX = new Float32Array(AREA);
  private readonly gradY = new Float32Array(AREA);
  private readonly weights = new Float32Array(AREA);
  private readonly differences = new Float32Array(AREA);
  private x = 0;
  private y = 0;
  private total = 0;
  private brightness = 0;
  private xx = 0;
  private xy = 0;
  private yy = 0;
  /** Where the search begins. */
  private startU = 0;
  private startV = 0;
  /** The displacement asked last, its error, and the difference in brightness there. */
  private askedU = NaN;
  private askedV = NaN;
  private asked = 0;
  private shift = 0;

  constructor(from: MatchLevel, mask: Plane, target: Plane) {
    this.from = from;
    this.mask = mask;
    this.target = target;
  }

  /** Moves to the patch whose first pixel is (x, y); false when too little of it belongs to the layer. */
  take(x: number, y: number): boolean {
    const { luma } = this.from;
    const { values, gradX, gradY, weights } = this;
    const { width } = luma;
    const mask = this.mask.data;
    let total = 0;
    for (let r = 0, o = 0; r < PATCH; r++)
      for (let c = 0, i = (y + r) * width + x; c < PATCH; c++, i++, o++) total += weights[o] = mask[i]!;
    if (total < LEAST_SHARE * AREA) return false;
    this.x = x;
    this.y = y;
    this.total = total;
    this.askedU = NaN;
    const { gx, gy } = this.from;
    let mean = 0;
    let meanX = 0;
    let meanY = 0;
    for (let r = 0, o = 0; r < PATCH; r++) {
      for (let c = 0, i = (y + r) * width + x; c < PATCH; c++, i++, o++) {
        const w = weights[o]!;
        mean += w * (values[o] = luma.data[i]!);
        meanX += w * (gradX[o] = gx.data[i]!);
        meanY += w * (gradY[o] = gy.data[i]!);
      }
    }
    mean /= total;
    this.brightness = mean;
    meanX /= total;
    meanY /= total;
    let xx = STIFFNESS;
    let xy = 0;
    let yy = STIFFNESS;
    for (let o = 0; o < AREA; o++) {
      values[o]! -= mean;
      const dx = (gradX[o]! -= meanX);
      const dy = (gradY[o]! -= meanY);
      const w = weights[o]!;
      xx += w * dx * dx;
      xy += w * dx * dy;
      yy += w * dy * dy;
    }
    this.xx = xx;
    this.xy = xy;
    this.yy = yy;
    return true;
  }

  /** Begins a search at displacement (u, v). */
  startAt(u: number, v: number): void {
    this.startU = u;
    this.startV = v;
  }

  /** What (u, v) costs: its error, and how far it is from the start. */
  cost(u: number, v: number): number {
    const du = u - this.startU;
    const dv = v - this.startV;
    return this.error(u, v) + PULL * (du * du + dv * dv);
  }

  /** Weighted mean of squared differences at displacement (u, v); leaves the differences, free of their mean, behind. */
  error(u: number, v: number): number {
    if (u === this.askedU && v === this.askedV) return this.asked;
    this.askedU = u;
    this.askedV = v;
    const { width, height, data } = this.target;
    const { values, weights, differences } = this;
    const lastX = width - 1.001;
    const lastY = height - 1.001;
    const px = this.x + u;
    const py = this.y + v;
    let sum = 0;
    if (px >= 0 && py >= 0 && px + PATCH - 1 < lastX && py + PATCH - 1 < lastY) {
      const left = px | 0;
      const top = py | 0;
      const fx = px - left;
      const fy = py - top;
      const a = (1 - fx) * (1 - fy);
      const b = fx * (1 - fy);
      const c = (1 - fx) * fy;
      const d = fx * fy;
      for (let r = 0, o = 0; r < PATCH; r++) {
        for (let k = 0, i = (top + r) * width + left; k < PATCH; k++, i++, o++) {
          const e = a * data[i]! + b * data[i + 1]! + c * data[i + width]! + d * data[i + width + 1]! - values[o]!;
          differences[o] = e;
          sum += weights[o]! * e;
        }
      }
    } else {
      for (let r = 0, o = 0; r < PATCH; r++) {
        const sy = py + r < 0 ? 0 : py + r > lastY ? lastY : py + r;
        const top = (sy | 0) * width;
        const fy = sy - (sy | 0);
        for (let k = 0; k < PATCH; k++, o++) {
          const sx = px + k < 0 ? 0 : px + k > lastX ? lastX : px + k;
          const i = top + (sx | 0);
          const fx = sx - (sx | 0);
          const upper = data[i]! + fx * (data[i + 1]! - data[i]!);
          const lower = data[i + width]! + fx * (data[i + width + 1]! - data[i + width]!);
          const e = upper + fy * (lower - upper) - values[o]!;
          differences[o] = e;
          sum += weights[o]! * e;
        }
      }
    }
    const mean = sum / this.total;
    let squares = 0;
    for (let o = 0; o < AREA; o++) {
      const e = (differences[o]! -= mean);
      squares += weights[o]! * e * e;
    }
    this.shift = mean - this.brightness;
    return (this.asked = squares / this.total);
  }

  /** Makes (u, v) the best start when it is better. */
  consider(u: number, v: number, best: Float64Array): void {
    if (Math.abs(u - best[0]!) + Math.abs(v - best[1]!) < 0.1) return;
    const cost = this.cost(u, v);
    if (cost >= best[2]!) return;
    best[0] = u;
    best[1] = v;
    best[2] = cost;
  }

  /** Descends from the best start; `best` becomes the displacement found and its cost. Gives its error. */
  refine(best: Float64Array): number {
    const { gradX, gradY, weights, differences, xx, xy, yy, startU, startV } = this;
    const determinant = xx * yy - xy * xy;
    const pull = PULL * this.total;
    let u = best[0]!;
    let v = best[1]!;
    let cost = this.cost(u, v);
    for (let round = 0; round < ROUNDS; round++) {
      let bx = pull * (u - startU);
      let by = pull * (v - startV);
      for (let o = 0; o < AREA; o++) {
        const e = weights[o]! * differences[o]!;
        bx += gradX[o]! * e;
        by += gradY[o]! * e;
      }
      const du = (yy * bx - xy * by) / determinant;
      const dv = (xx * by - xy * bx) / determinant;
      const next = this.cost(u - du, v - dv);
      if (next >= cost) break;
      u -= du;
      v -= dv;
      cost = next;
      if (du * du + dv * dv < 0.0004) break;
    }
    // what slid further than a patch has found something else
    if (Math.abs(u - best[0]!) > PATCH || Math.abs(v - best[1]!) > PATCH) return Math.max(this.error(best[0]!, best[1]!), 4 * HALF_TRUST);
    best[0] = u;
    best[1] = v;
    best[2] = cost;
    return this.error(u, v);
  }

  /** Adds the displacement to the cells of the patch that belong to the layer, most where the target agrees. */
  spread(u: number, v: number, error: number, lightChange: number, out: FlowField): void {
    this.error(u, v);
    const shift = Math.max(0, Math.abs(this.shift) - lightChange);
    const share = HALF_TRUST / (HALF_TRUST + error + LIGHT * shift * shift);
    const trust = share * share;
    const { weights, differences } = this;
    for (let r = 0, o = 0; r < PATCH; r++) {
      const row = (this.y + r - out.top) * out.width - out.left;
      for (let c = 0, i = row + this.x; c < PATCH; c++, i++, o++) {
        const w = weights[o]!;
        if (w === 0) continue;
        const e = differences[o]!;
        const t = (trust * w * HALF_TRUST) / (HALF_TRUST + e * e);
        out.u[i]! += t * u;
        out.v[i]! += t * v;
        out.trust[i]! += t;
      }
    }
  }
}
