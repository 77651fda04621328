import { boundsOf, createPlane, gradients, pyramidOf, type Plane } from '../image/plane';
import { doubtUnexpected, emptyField, fillField, flowAt, sharedMotion, type AffineMotion, type FlowField, type Region } from './flow-field';
import { Patch, PATCH, type MatchLevel } from './match-patch';

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

/** From patch to patch, in pixels of their level. */
const STRIDE = 4;
/** Pixels of the full size that something nearly in place may be off. */
const IN_PLACE = 2.5;
/** Sum of the patches' trust in a pixel below which it is not known where it went. */
const LEAST_TRUST = 0.2;
/** A motion this far from the expected one, in pixels, counts half. */
const UNEXPECTED_PX = 2;

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
    const next = emptyField(boundsOf(masks[level]!, Number.MIN_VALUE, MARGIN) ?? FIRST_CELL, 1 << level);
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

const FIRST_CELL: Region = { left: 0, top: 0, right: 1, bottom: 1 };

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
