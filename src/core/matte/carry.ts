import { chainFields, doubled, flowAt, invertField, type FlowField, type Region } from '../flow/flow-field';
import { matchLayer, prepareMatch, type MatchPicture } from '../flow/match-layer';
import { signedEdgeDistance } from '../image/distance';
import type { Image } from '../image/image';
import { createPlane, cropPlane, lumaOf, pastePlane, requireSize, sampleBilinear, type Plane } from '../image/plane';
import { anchorQuality, bandOf, judge, leanOf, noiseOf, wholeSubject, type Evidence, type Judgement, type SubjectEvidence } from './carry-evidence';
import { cutBand } from './cut-band';
import { explain } from './explain';
import { cropFeatures, featureMiss, featuresOf } from './features';
import { LocalColours } from './local-colour';
import { softEdge } from './soft-edge';
import { joined, layerWeights, reachOf, whole } from './subject-region';

/** A matte on one frame; `doubt` is in pixels of the picture. */
export interface CarriedMatte extends Judgement {
  /** Coverage 0..1 at analysis size. */
  readonly alpha: Plane;
}

interface Frame {
  readonly features: Float32Array<ArrayBuffer>;
  readonly match: MatchPicture;
}

/** Side of the tiles in which far-off pixels are left out. */
const TILE = 8;
/** Shares of the anchor that are found again: below the first it is looked for everywhere, above the second all is well. */
const LOST = 0.62;
const GOOD = 0.8;
/** Squared colour difference up to which a pixel of the anchor counts as found. */
const FOUND = 500;

/**
 * Carries a matte from frame to frame. Subject and background are followed each for themselves, weighted by the
 * matte, so that their motions stay apart at the edge. Which of the two explains each pixel, the moved matte and
 * colours learnt along the edge (Bai et al. 2009) meet in a minimum cut. The subject is also matched afresh with the
 * frame the matte was given on, so that errors do not add up, and is remembered where something passes in front.
 */
export class MatteCarrier {
  readonly width: number;
  readonly height: number;
  private frame: Frame;
  /** What can be seen of the subject, and all of it. */
  private visible: Plane;
  private layer: Plane;
  private readonly anchor: { readonly frame: Frame; readonly alpha: Plane };
  private sinceAnchor: FlowField | null = null;
  /** Where the anchor was when it last fitted well. */
  private pose: FlowField | null = null;
  private subjectFlow: FlowField | null = null;
  private backgroundFlow: FlowField | null = null;

  /** `alpha` is the coverage on `picture`, 0..1. @throws RangeError when the sizes differ. */
  constructor(picture: Image, alpha: Plane) {
    requireSize(alpha, picture.width, picture.height, 'MatteCarrier: alpha');
    this.width = picture.width;
    this.height = picture.height;
    this.frame = prepare(picture);
    this.visible = this.layer = alpha;
    this.anchor = { frame: this.frame, alpha };
  }

  /** Carries on to `picture`, the next frame in the direction of travel. */
  step(picture: Image): CarriedMatte {
    requireSize(picture, this.width, this.height, 'MatteCarrier.step: picture');
    const next = prepare(picture);
    const weights = layerWeights(this.visible);
    if (weights === null) return this.lookForIt(next);
    const { subject: weight, background: around, signed, region: home } = weights;
    const subject = matchLayer(this.frame.match, weight, next.match, { finest: 1, start: this.subjectFlow, lightChange: 28 });
    const background = matchLayer(this.frame.match, around, next.match, { finest: 1, start: this.backgroundFlow });
    const guess = this.sinceAnchor === null ? subject : chainFields(this.sinceAnchor, subject);
    const anchored = this.placeAnchor(guess, next, joined(reachOf(this.layer, subject), reachOf(this.anchor.alpha, guess)));
    const region = joined(reachOf(this.layer, subject), reachOf(this.anchor.alpha, anchored));
    const seen = this.seekSubject(next, region, subject, anchored);
    const { width, height } = seen;
    const layerSigned = signedEdgeDistance(seen.layer);
    const band = bandOf(seen, layerSigned);
    const evidence = this.seekBackground(seen, next, background, band);
    const colour = this.askColours(evidence, band, signed, home, subject);
    const lean = leanOf(evidence, layerSigned, band, colour);
    const inside = cutBand(evidence.features, band, layerSigned, lean, width, height);
    const alpha = createPlane(width, height);
    softEdge(inside, evidence.layer, layerSigned, width, height, alpha);
    const { confidence, doubt } = judge(evidence, inside, layerSigned, band);

    this.frame = next;
    this.visible = createPlane(this.width, this.height);
    pastePlane(alpha, this.visible, region.left, region.top);
    this.layer = createPlane(this.width, this.height);
    pastePlane(wholeSubject(evidence, alpha, inside), this.layer, region.left, region.top);
    this.subjectFlow = subject;
    this.backgroundFlow = background;
    return {
      alpha: this.visible,
      confidence,
      doubt: doubt === null ? null : { x: doubt.x + region.left, y: doubt.y + region.top },
    };
  }

  /** The anchor near where the chain of steps puts it; where that fits badly, wherever it fits better. */
  private placeAnchor(guess: FlowField, next: Frame, region: Region): FlowField {
    let placed = this.matchAnchor(guess, next, region, true);
    let fit = this.fitOf(placed, next);
    if (fit < LOST) {
      const found = this.matchAnchor(this.pose ?? guess, next, whole(this), false);
      const share = this.fitOf(found, next);
      if (share > fit + 0.1) {
        placed = found;
        fit = share;
      }
    }
    if (fit > GOOD) this.pose = placed;
    this.sinceAnchor = placed;
    return placed;
  }

  /** Nothing of the subject was in view: it may be again, where it was last or elsewhere. */
  private lookForIt(next: Frame): CarriedMatte {
    const { width, height } = this;
    this.frame = next;
    this.subjectFlow = null;
    const last = this.pose ?? this.sinceAnchor;
    const found = last === null ? null : this.matchAnchor(last, next, whole(this), false);
    if (found === null || this.fitOf(found, next) < LOST) return { alpha: this.visible, confidence: 0, doubt: null };
    this.sinceAnchor = this.pose = found;
    const alpha = createPlane(width, height);
    const back = invertField(found, whole(this));
    const at = new Float64Array(2);
    for (let y = 0, i = 0; y < height; y++) {
      for (let x = 0; x < width; x++, i++) {
        flowAt(back, x + 0.5, y + 0.5, at);
        alpha.data[i] = sampleBilinear(this.anchor.alpha, x + 0.5 + at[0]!, y + 0.5 + at[1]!);
      }
    }
    this.visible = this.layer = alpha;
    return { alpha, confidence: 0.5, doubt: null };
  }

  /**
   * Motion from the anchor to `next`. The anchor is first warped by `guess`, so that what has turned or grown since
   * matches again, and what is left to move is found afresh inside `region`; errors do not add up.
   */
  private matchAnchor(guess: FlowField, next: Frame, region: Region, nearlyInPlace: boolean): FlowField {
    const { anchor } = this;
    const back = invertField(guess, region);
    // the pictures are compared at half size, so the anchor is warped at half size
    const luma = anchor.frame.match.levels[1]!.luma;
    const target = next.match.levels[1]!.luma;
    const half = {
      left: region.left >> 1,
      top: region.top >> 1,
      right: Math.min(target.width, (region.right + 1) >> 1),
      bottom: Math.min(target.height, (region.bottom + 1) >> 1),
    };
    const warped = createPlane(half.right - half.left, half.bottom - half.top);
    const weight = createPlane(warped.width, warped.height);
    const at = new Float64Array(2);
    for (let y = half.top, o = 0; y < half.bottom; y++) {
      for (let x = half.left; x < half.right; x++, o++) {
        const px = 2 * x + 1;
        const py = 2 * y + 1;
        flowAt(back, px, py, at);
        const cover = sampleBilinear(anchor.alpha, px + at[0]!, py + at[1]!);
        warped.data[o] = sampleBilinear(luma, (px + at[0]!) / 2, (py + at[1]!) / 2);
        weight.data[o] = Math.max(0, 2 * cover - 1);
      }
    }
    const rest = matchLayer(prepareMatch(warped), weight, prepareMatch(cropPlane(target, half)), {
      finest: 0,
      lightChange: nearlyInPlace ? 10 : 28,
      nearlyInPlace,
      ...(nearlyInPlace ? { coarsest: 1 } : {}),
    });
    return chainFields(guess, doubled(rest), 2 * half.left, 2 * half.top);
  }

  /** Share of the anchor's subject that `placed` finds again on `next`. */
  private fitOf(placed: FlowField, next: Frame): number {
    const { width, height, anchor } = this;
    const at = new Float64Array(2);
    let found = 0;
    let all = 0;
    for (let y = 1; y < height; y += 3) {
      for (let x = 1, i = y * width + 1; x < width; x += 3, i += 3) {
        if (anchor.alpha.data[i]! < 0.9) continue;
        flowAt(placed, x + 0.5, y + 0.5, at);
        // what has left the frame cannot be found in it
        if (x + at[0]! < 1 || y + at[1]! < 1 || x + at[0]! > width - 1 || y + at[1]! > height - 1) continue;
        all++;
        if (featureMiss(next.features, width, height, x + 0.5 + at[0]!, y + 0.5 + at[1]!, anchor.frame.features, i) < FOUND) found++;
      }
    }
    return all === 0 ? 0 : found / all;
  }

  /** How the subject's two explanations, by the last step and by the anchor, fit the next frame. */
  private seekSubject(next: Frame, region: Region, subject: FlowField, anchored: FlowField): SubjectEvidence {
    const wanted = this.pixelsInReach(region, subject, anchored);
    const { anchor } = this;
    const step = explain(this.frame.features, next.features, subject, this.layer, this.visible, region, wanted);
    const fresh = explain(anchor.frame.features, next.features, anchored, anchor.alpha, anchor.alpha, region, wanted);
    const [moved, movedSeen, fromAnchor] = [step.cover, step.other, fresh.cover];
    const noise = noiseOf(step.miss, movedSeen);
    const quality = anchorQuality(step.miss, fresh.miss, movedSeen, fromAnchor, noise);
    const width = region.right - region.left;
    const height = region.bottom - region.top;
    const layer = createPlane(width, height);
    const subjectMiss = createPlane(width, height);
    for (let o = 0; o < layer.data.length; o++) {
      const share = quality.data[o]!;
      layer.data[o] = share * fromAnchor.data[o]! + (1 - share) * moved.data[o]!;
      // the step has nothing to say of what it did not see
      const byStep = movedSeen.data[o]! > 0.3 || moved.data[o]! < 0.3 ? step.miss.data[o]! : 1e5;
      subjectMiss.data[o] = Math.min(byStep, fresh.miss.data[o]!);
    }
    return { region, width, height, features: cropFeatures(next.features, this.width, region), layer, subjectMiss, noise };
  }

  /** What the background's motion says of the pixels of `band`, and those around them. */
  private seekBackground(seen: SubjectEvidence, next: Frame, background: FlowField, band: Uint8Array): Evidence {
    const wanted = widened(band, seen.width, seen.height);
    const { miss, cover } = explain(this.frame.features, next.features, background, this.visible, this.visible, seen.region, wanted);
    for (let i = 0; i < wanted.length; i++) cover.data[i] = wanted[i]! - cover.data[i]!;
    return { ...seen, backgroundMiss: miss, backgroundSeen: cover };
  }

  /** 1 at the pixels of `region` in the tiles that the subject or the anchor can reach, and those around them. */
  private pixelsInReach(region: Region, subject: FlowField, anchored: FlowField): Uint8Array {
    const width = region.right - region.left;
    const height = region.bottom - region.top;
    const across = Math.ceil(width / TILE);
    const down = Math.ceil(height / TILE);
    const tiles = new Uint8Array(across * down);
    const at = new Float64Array(2);
    for (const [alpha, flow] of [
      [this.layer, subject],
      [this.anchor.alpha, anchored],
    ] as const) {
      for (let y = 0; y < alpha.height; y += 3) {
        for (let x = 0, i = y * alpha.width; x < alpha.width; x += 3, i += 3) {
          if (alpha.data[i]! < 0.3) continue;
          flowAt(flow, x + 0.5, y + 0.5, at);
          const column = Math.floor((x + at[0]! - region.left) / TILE);
          const row = Math.floor((y + at[1]! - region.top) / TILE);
          if (column >= 0 && row >= 0 && column < across && row < down) tiles[row * across + column] = 1;
        }
      }
    }
    const near = widened(tiles, across, down);
    const out = new Uint8Array(width * height);
    for (let y = 0, o = 0; y < height; y++)
      for (let x = 0, row = Math.floor(y / TILE) * across; x < width; x++, o++) out[o] = near[row + ((x / TILE) | 0)]!;
    return out;
  }

  /** The votes of colours learnt around the edge on the current frame, at the pixels of `band` on the next. */
  private askColours(evidence: SubjectEvidence, band: Uint8Array, signed: Float32Array, home: Region, subject: FlowField): Float32Array {
    const { region, width, height, features } = evidence;
    const colours = LocalColours.learn(
      cropFeatures(this.frame.features, this.width, home),
      signed,
      home.right - home.left,
      home.bottom - home.top,
    );
    const at = new Float64Array(2);
    return colours.vote(features, band, width, height, (x, y) => {
      flowAt(subject, x + home.left + 0.5, y + home.top + 0.5, at);
      return [x + home.left + at[0]! - region.left, y + home.top + at[1]! - region.top];
    });
  }
}

const prepare = (picture: Image): Frame => ({ features: featuresOf(picture), match: prepareMatch(lumaOf(picture)) });

/** `mask` (1 or 0) grown by two cells to all sides. */
function widened(mask: Uint8Array, width: number, height: number): Uint8Array {
  const rows = new Uint8Array(mask.length);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (mask[i] === 0) continue;
      rows.fill(1, i - Math.min(2, x), i + Math.min(2, width - 1 - x) + 1);
    }
  }
  const out = new Uint8Array(mask.length);
  for (let y = 0; y < height; y++) {
    const last = Math.min(height - 1, y + 2);
    for (let v = Math.max(0, y - 2); v <= last; v++)
      for (let i = y * width, j = v * width, end = i + width; i < end; i++, j++) out[i]! |= rows[j]!;
  }
  return out;
}
