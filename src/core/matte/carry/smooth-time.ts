import { flowAlongRow, invertField } from '../../flow/flow-field';
import type { FlowField } from '../../flow/field';
import { matchLayer, prepareMatch, type MatchPicture } from '../../flow/match-layer';
import { signedEdgeDistance } from '../../image/distance';
import { createPlane, requireSize, type Image, type Plane } from '../../image/pixels';
import { lumaOf } from '../../image/plane';
import { bytesOf } from '../coverage/resize';
import { crispenTo, softnessOf } from './softness';
import type { StoredCoverage } from '../coverage/stored-coverage';
import { layerWeights, whole } from './subject-region';

/** Edges further apart than this, in pixels, have not jittered: something really moved, came or went. */
const MOST_JITTER_PX = 4;
/** Pyramid level on which the subject is followed. */
const LEVEL = 1;

interface Moment {
  readonly match: MatchPicture;
  readonly alpha: Plane;
  readonly signed: Float32Array;
  /** Motion of the subject to the next frame; null without one or without a subject. */
  flow: FlowField | null;
}

/**
 * Takes the jitter out of a matte's edge: on every frame its coverage is mixed with that of the frames before and after,
 * moved along with the subject, wherever their edges lie close together, and made as crisp again as it was. Frames are given in order; the smoothed matte of
 * a frame is known once the next one is given.
 */
export class TimeSmoother {
  private readonly share: number;
  private before: Moment | null = null;
  private here: Moment | null = null;

  /** `strength` 0 changes nothing, 1 gives the three frames equal say. @throws RangeError beyond 0..1 */
  constructor(strength: number) {
    if (!(strength >= 0 && strength <= 1)) throw new RangeError(`TimeSmoother: strength ${strength} is not within 0..1`);
    this.share = strength / 3;
  }

  /** The next frame and its coverage, 0..1, of the same size. @returns the smoothed coverage of the frame before; null for the first */
  next(picture: Image, alpha: Plane): StoredCoverage | null {
    requireSize(alpha, picture.width, picture.height, 'TimeSmoother.next: alpha');
    const coming: Moment = { match: prepareMatch(lumaOf(picture)), alpha, signed: signedEdgeDistance(alpha), flow: null };
    const { here } = this;
    if (here === null) {
      this.here = coming;
      return null;
    }
    requireSize(alpha, here.alpha.width, here.alpha.height, 'TimeSmoother.next: alpha');
    const weights = layerWeights(here.alpha);
    here.flow = weights === null ? null : matchLayer(here.match, weights.subject, coming.match, { finest: LEVEL });
    const smoothed = this.smoothed(here, coming);
    this.before = here;
    this.here = coming;
    return smoothed;
  }

  /** The smoothed coverage of the last frame; null when there was none. Begins anew afterwards. */
  end(): StoredCoverage | null {
    const last = this.here === null ? null : this.smoothed(this.here, null);
    this.before = this.here = null;
    return last;
  }

  private smoothed(here: Moment, after: Moment | null): StoredCoverage {
    const { width, height, data } = here.alpha;
    const sums = createPlane(width, height);
    const weights = new Float32Array(data.length).fill(1 - 2 * this.share);
    for (let i = 0; i < data.length; i++) sums.data[i] = weights[i]! * data[i]!;
    const back = this.before?.flow == null ? null : invertField(this.before.flow, whole(here.alpha));
    if (back !== null) addMoved(here, this.before!, back, this.share, sums.data, weights);
    if (after !== null && here.flow !== null) addMoved(here, after, here.flow, this.share, sums.data, weights);
    for (let i = 0; i < data.length; i++) sums.data[i]! /= weights[i]!;
    const mixed = { width, height, data: bytesOf(sums) };
    // mixing makes softer, which is not what is wanted
    crispenTo(softnessOf({ width, height, data: bytesOf(here.alpha) }), mixed);
    return mixed;
  }
}

/** Adds `other`'s coverage where `flow`, from `here` to there, says it is found, as far as both edges lie close together. */
function addMoved(here: Moment, other: Moment, flow: FlowField, share: number, sums: Float32Array, weights: Float32Array): void {
  const { width, height } = here.alpha;
  const from = other.alpha.data;
  const u = new Float32Array(width);
  const v = new Float32Array(width);
  for (let y = 0, i = 0; y < height; y++) {
    flowAlongRow(flow, 0, y, u, v);
    for (let x = 0; x < width; x++, i++) {
      const own = here.signed[i]!;
      if (Math.abs(own) > 2 * MOST_JITTER_PX) continue;
      const px = Math.max(0, Math.min(width - 1.001, x + u[x]!));
      const py = Math.max(0, Math.min(height - 1.001, y + v[x]!));
      const at = (py | 0) * width + (px | 0);
      const fx = px - (px | 0);
      const fy = py - (py | 0);
      const mix = (values: Float32Array): number =>
        (1 - fy) * ((1 - fx) * values[at]! + fx * values[at + 1]!) + fy * ((1 - fx) * values[at + width]! + fx * values[at + width + 1]!);
      const off = (mix(other.signed) - own) / MOST_JITTER_PX;
      const weight = share * Math.max(0, 1 - off * off);
      sums[i]! += weight * mix(from);
      weights[i]! += weight;
    }
  }
}
