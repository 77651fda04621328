import { boundsOf, gradients, pyramidOf } from '../image/plane';
import { createPlane, type Plane } from '../image/pixels';
import { beginCall, kernels, NOTHING, putDoubles, reserve } from '../kernels/kernels';
import { putEmptyField, putField, takeField, type FlowField } from './field';
import { putPlane } from '../image/plane-memory';
import { emptyField, layFilled, layShared, type AffineMotion, type Region } from './flow-field';

/** One size of a picture, with its gradients. */
export interface MatchLevel {
  readonly luma: Plane;
  readonly gx: Plane;
  readonly gy: Plane;
}

/** A level whose gradients are made when they are first asked for: not everyone needs them, and not at every size. */
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

/** Pixels of the full size that something nearly in place may be off. */
const IN_PLACE = 2.5;
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
    const { width, height } = masks[level]!;
    beginCall();
    const out = putEmptyField(next);
    kernels.matchLevel(
      putPlane(template.levels[level]!.luma),
      putPlane(masks[level]!),
      putPlane(target.levels[level]!.luma),
      field === null ? (start === null ? NOTHING : putField(start)) : putField(field),
      field === null || start === null ? NOTHING : putField(start),
      level === finest ? lightChange : Infinity,
      (nearlyInPlace ? IN_PLACE : Infinity) / next.step,
      out,
      reserve(width * height),
    );
    const cells = next.u.length;
    if (expected !== null) kernels.doubtUnexpected(out, putDoubles(expected), UNEXPECTED_PX);
    layFilled(out, cells, nearlyInPlace ? NOTHING : expected === null ? layShared(out) : putDoubles(expected));
    takeField(out, next);
    field = next;
  }
  return field!;
}

/** Cells around a layer that get its motion too. */
const MARGIN = 12;

const FIRST_CELL: Region = { left: 0, top: 0, right: 1, bottom: 1 };
