import type { Plane } from '../image/plane';
import type { FlowField } from './flow-field';

/** One size of a picture, with its gradients. */
export interface MatchLevel {
  readonly luma: Plane;
  readonly gx: Plane;
  readonly gy: Plane;
}

/** Side of a patch, in pixels of its level. */
export const PATCH = 8;
const AREA = PATCH * PATCH;
const ROUNDS = 7;
/** A patch of which less than this share belongs to the layer says nothing. */
const LEAST_SHARE = 0.18;
/** Mean squared difference, in 8-bit steps, at which a match is worth half of a perfect one. */
const HALF_TRUST = 90;
/** Weight of a difference in brightness beyond what the light may change. */
const LIGHT = 0.25;
/** Damps the steps of a patch without texture. */
const STIFFNESS = 240;
/** What a displacement costs against its start, in squared 8-bit steps for a squared pixel: without texture all fit alike. */
const PULL = 2;

/** One patch of the template and the search for it in the target. */
export class Patch {
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
