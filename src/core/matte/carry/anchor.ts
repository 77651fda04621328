import { carriedPlane } from '../../flow/carried-plane';
import {
  chainFields,
  doubled,
  fieldOf,
  fillField,
  flowAt,
  invertField,
  sharedMotion,
  withMotion,
  type Region,
} from '../../flow/flow-field';
import { putField, type FlowField } from '../../flow/field';
import { matchLayer, prepareMatch, type MatchOptions, type MatchPicture } from '../../flow/match-layer';
import { createPlane, type Plane } from '../../image/pixels';
import { cropPlane, sampleBilinear } from '../../image/plane';
import { beginCall, kernels } from '../../kernels/kernels';
import { putEmptyPlane, putPlane, takePlane } from '../../image/plane-memory';
import { featureMiss } from '../cut/features';
import type { CoarsePicture } from './likely-start';
import { reachOf, whole } from './subject-region';

/** A picture prepared for being matched and compared. */
export interface Frame {
  readonly features: Float32Array<ArrayBuffer>;
  readonly match: MatchPicture;
  readonly coarse: CoarsePicture;
}

/** Shares of the subject that are found again: below the first it is looked for everywhere, above the second all is well. */
export const LOST = 0.62;
const GOOD = 0.8;
/** Squared colour difference up to which a pixel counts as found. */
const FOUND = 500;
/** Squared colour difference that counts half in the score of a match. */
const HALF_SCORE = 150;
/** A match that scores less than this share of the usual is doubted; another must score this much more to be taken. */
export const WORSE = 0.85;
const BETTER = 0.05;

/** Brightness (0..255) below which a ratio says nothing, the ratios it takes to tell, and how fast a new one counts. */
const LEAST_LUMA = 16;
const LEAST_RATIOS = 12;
const LIGHT_STEP = 0.5;

/**
 * The subject as it was on the frame a matte was given on, and where that is now. It is matched afresh with every frame,
 * so that errors do not add up.
 */
export class CarryAnchor {
  readonly frame: Frame;
  /** Coverage 0..1 on `frame`. */
  readonly alpha: Plane;
  /** How much brighter the subject is now than on `frame`, and the features of `frame` in that light. */
  private gain = 1;
  private readonly lit: Frame;
  private motion: FlowField | null = null;
  /** Where it was when it last fitted well. */
  private pose: FlowField | null = null;
  /** How well it has matched lately, as a score. */
  private usualScore = 0;

  constructor(frame: Frame, alpha: Plane) {
    this.frame = frame;
    this.lit = { features: frame.features.slice(), match: frame.match, coarse: frame.coarse };
    this.alpha = alpha;
  }

  /** The features of the anchor's frame in the light of the last one it was placed on. */
  get features(): Float32Array<ArrayBuffer> {
    return this.lit.features;
  }

  /**
   * Where a step of the subject takes it, before it is matched. Only what its parts have in common counts: how each went
   * on its own is seen better against the anchor itself, and what drags a part along in one step must not last.
   */
  movedBy(step: FlowField): FlowField {
    const common = fieldOf(sharedMotion(step), step);
    return this.motion === null ? common : chainFields(this.motion, common);
  }

  /**
   * The anchor near where the chain of steps puts it, or, where that fits worse than it used to, wherever it fits better.
   * Where it fits nowhere and the step is not sure either, it stays where the steps put it.
   */
  place(guess: FlowField, isSure: boolean, next: Frame, region: Region): FlowField {
    const { lit, alpha } = this;
    let placed = this.match(guess, next, region);
    let fit = fitOf(lit, alpha, placed, next);
    if (fit.found < LOST || fit.score < WORSE * this.usualScore) {
      const elsewhere = this.seek(this.pose ?? guess, next);
      const other = fitOf(lit, alpha, elsewhere, next);
      if (other.found > LOST && other.score > fit.score + BETTER) {
        placed = elsewhere;
        fit = other;
      }
    }
    if (fit.found < LOST && !isSure) placed = guess;
    this.motion = this.mended(placed, next);
    if (fit.found > LOST) this.light(this.motion, next);
    if (fit.found > GOOD) {
      this.pose = this.motion;
      this.usualScore += (this.usualScore === 0 ? 1 : 0.2) * (fit.score - this.usualScore);
    }
    return this.motion;
  }

  /** Its coverage on `next`, wherever it is found there again after it was out of view; null where it is not. */
  seekAgain(next: Frame): Plane | null {
    const { alpha } = this;
    const last = this.pose ?? this.motion;
    const found = last === null ? null : this.seek(last, next);
    if (found === null || fitOf(this.lit, alpha, found, next).found < LOST) return null;
    this.motion = this.pose = found;
    return carriedPlane(alpha, invertField(found, whole(alpha)), whole(alpha));
  }

  /** Takes up the light of `next`: the median ratio of the subject's brightness there and on its own frame. */
  private light(motion: FlowField, next: Frame): void {
    const { width, height, data } = this.alpha;
    const luma = this.frame.match.levels[0]!.luma;
    const now = next.match.levels[0]!.luma;
    const at = new Float64Array(2);
    const ratios: number[] = [];
    for (let y = 1; y < height; y += 4) {
      for (let x = 1, i = y * width + 1; x < width; x += 4, i += 4) {
        if (data[i]! < 0.9 || luma.data[i]! < LEAST_LUMA) continue;
        flowAt(motion, x + 0.5, y + 0.5, at);
        const px = x + 0.5 + at[0]!;
        const py = y + 0.5 + at[1]!;
        if (px > 1 && py > 1 && px < width - 1 && py < height - 1) ratios.push(sampleBilinear(now, px, py) / luma.data[i]!);
      }
    }
    if (ratios.length < LEAST_RATIOS) return;
    ratios.sort((a, b) => a - b);
    this.gain += LIGHT_STEP * (ratios[ratios.length >> 1]! - this.gain);
    const { features } = this.lit;
    for (let p = 0; p < features.length; p++) features[p] = this.gain * this.frame.features[p]!;
  }

  /** Where the anchor is not found, what hides it must not drag it along: there it goes with what is found of it. */
  private mended(placed: FlowField, next: Frame): FlowField {
    const { lit, alpha } = this;
    const { width, height } = alpha;
    const { left, top, step } = placed;
    const out = withMotion(placed, placed.u.slice(), placed.v.slice(), new Float32Array(placed.trust.length));
    for (let row = 0, i = 0; row < placed.height; row++) {
      const y = Math.min(height - 1, Math.floor((top + row + 0.5) * step));
      for (let column = 0; column < placed.width; column++, i++) {
        const x = Math.min(width - 1, Math.floor((left + column + 0.5) * step));
        const at = y * width + x;
        if (alpha.data[at]! < 0.5) continue;
        const px = x + 0.5 + placed.u[i]!;
        const py = y + 0.5 + placed.v[i]!;
        if (px < 1 || py < 1 || px > width - 1 || py > height - 1) continue;
        const miss = featureMiss(next.features, width, height, px, py, lit.features, at);
        out.trust[i] = HALF_SCORE / (HALF_SCORE + miss);
      }
    }
    fillField(out, sharedMotion(out));
    return out;
  }

  /**
   * Motion from the anchor to `next`. The anchor is first warped by `guess`, so that what has turned or grown since
   * matches again, and what little is left to move is found afresh inside `region`, at half size and then at full size;
   * errors do not add up.
   */
  private match(guess: FlowField, next: Frame, region: Region): FlowField {
    const options = { finest: 0, lightChange: 10, nearlyInPlace: true };
    const half = this.matchWarped(guess, next, region, 1, { ...options, coarsest: 1 });
    const near = chainFields(guess, doubled(half.rest), half.left, half.top);
    const full = this.matchWarped(near, next, region, 0, { ...options, coarsest: 0 });
    return chainFields(near, full.rest, full.left, full.top);
  }

  /** The same where the anchor, as `pose` has it, may have gone anywhere: as a whole first, then in detail. */
  private seek(pose: FlowField, next: Frame): FlowField {
    const { rest } = this.matchWarped(pose, next, whole(this.alpha), 1, { finest: 0, lightChange: 28 });
    const [a, b, c, d, e, f] = sharedMotion(rest);
    const x = rest.left + rest.width / 2;
    const y = rest.top + rest.height / 2;
    const dx = 2 * (a! * x + b! * y + c!);
    const dy = 2 * (d! * x + e! * y + f!);
    const moved = chainFields(pose, fieldOf(Float64Array.of(0, 0, dx, 0, 0, dy), pose));
    return this.match(moved, next, reachOf(this.alpha, moved));
  }

  /**
   * Matches the anchor, warped by `guess`, with `next` on the pyramid's `level`; `rest` is the field found in the pixels
   * of that level from (left, top) on, which are in full-size ones.
   */
  private matchWarped(
    guess: FlowField,
    next: Frame,
    region: Region,
    level: number,
    options: MatchOptions,
  ): { readonly rest: FlowField; readonly left: number; readonly top: number } {
    const back = invertField(guess, region);
    const luma = this.frame.match.levels[level]!.luma;
    const target = next.match.levels[level]!.luma;
    const scale = 1 << level;
    const part = {
      left: region.left >> level,
      top: region.top >> level,
      right: Math.min(target.width, Math.ceil(region.right / scale)),
      bottom: Math.min(target.height, Math.ceil(region.bottom / scale)),
    };
    const warped = createPlane(part.right - part.left, part.bottom - part.top);
    const weight = createPlane(warped.width, warped.height);
    beginCall();
    const [warping, weighing] = [putEmptyPlane(warped), putEmptyPlane(weight)];
    kernels.warp(putField(back), putPlane(luma), putPlane(this.alpha), this.gain, scale, part.left, part.top, warping, weighing);
    takePlane(warping, warped);
    takePlane(weighing, weight);
    const sizes = options.coarsest === undefined ? undefined : options.coarsest + 1;
    const rest = matchLayer(prepareMatch(warped, sizes), weight, prepareMatch(cropPlane(target, part), sizes), options);
    return { rest, left: scale * part.left, top: scale * part.top };
  }
}

/** How much of what `alpha` covers on `frame` is found again on `next` under `motion`: the share, and how well on average, 0..1. */
export function fitOf(frame: Frame, alpha: Plane, motion: FlowField, next: Frame): { readonly found: number; readonly score: number } {
  const { width, height } = alpha;
  const at = new Float64Array(2);
  let found = 0;
  let score = 0;
  let all = 0;
  for (let y = 1; y < height; y += 3) {
    for (let x = 1, i = y * width + 1; x < width; x += 3, i += 3) {
      if (alpha.data[i]! < 0.9) continue;
      flowAt(motion, x + 0.5, y + 0.5, at);
      // what has left the frame cannot be found in it
      if (x + at[0]! < 1 || y + at[1]! < 1 || x + at[0]! > width - 1 || y + at[1]! > height - 1) continue;
      all++;
      const miss = featureMiss(next.features, width, height, x + 0.5 + at[0]!, y + 0.5 + at[1]!, frame.features, i);
      if (miss < FOUND) found++;
      score += HALF_SCORE / (HALF_SCORE + miss);
    }
  }
  return all === 0 ? { found: 0, score: 0 } : { found: found / all, score: score / all };
}
