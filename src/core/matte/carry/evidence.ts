import type { FlowField } from '../../flow/field';
import type { Region } from '../../flow/flow-field';
import { grown } from '../../image/grown';
import { boxBlur } from '../../image/plane';
import { createPlane, type Plane } from '../../image/pixels';
import type { Behind } from '../edge/edge-cover';

/** Half width of the band in which the edge may move against where the motion puts it. */
const BAND_PX = 12;
/** Over this radius the anchor's match is judged. */
const QUALITY_RADIUS = 12;
/** Weights of the four witnesses in the cut. */
const SHAPE = 1.1;
const MOTION = 0.8;
const COLOUR = 0.7;
/** Squared colour difference beyond which it is no longer noise. */
const MOST_NOISE = 80;
/** Squared colour difference, beside noise, from which the background is not what is seen, and how well it must be known to say so. */
const NOT_BACKGROUND = 150;
const WAS_SEEN = 0.5;
/** Squared colour difference, beside noise, by which the background must fit better than the subject to count amid it. */
const BETTER = 20;
/** A place the background has just uncovered is seldom the subject. */
const UNCOVERED = 1.5;
/** What a fitting background counts at least where the last matte had the subject. */
const AMISS = 0.7;
/** Most that the shape says of what comes in over the frame's border. */
const MOST_FOR_ENTERING = 1;
/** Inside by this much, in pixels, a match that fails is no longer put down to an edge that moved a little. */
const WELL_INSIDE_PX = 2;
/** What speaks for a subject that is explained perfectly, and the squared colour difference that takes 1 of it away. */
const EXPLAINED = 2.5;
const UNEXPLAINED = 250;
/** Share of the subject that cannot go in one step unless something covers it. */
const AT_ONCE = 0.12;

/** How far a carried matte is to be trusted. */
export interface Judgement {
  /** 0..1 */
  readonly confidence: number;
  /** The place that is most in doubt, in pixels; null where nothing is. */
  readonly doubt: { readonly x: number; readonly y: number } | null;
}

/** What is known of the pixels of one region of the next frame by following the subject. */
export interface SubjectEvidence {
  readonly region: Region;
  readonly width: number;
  readonly height: number;
  readonly features: Float32Array<ArrayBuffer>;
  /** The whole subject, also what something hides, where the motion puts it; 0..1. */
  readonly layer: Plane;
  /** Squared colour difference of the better of the subject's two explanations. */
  readonly subjectMiss: Plane;
  /** 1 where no earlier picture showed what is here: it was beyond the frame's border, or swung out of where the motions look. */
  readonly entering: Uint8Array;
  /** 1 where the anchor shows what is here. */
  readonly anchored: Uint8Array;
  /** How far the anchor leads, 0..1, and the motion from here back to it. */
  readonly byAnchor: Plane;
  readonly toAnchor: FlowField;
  /** The motion from here back to the last frame. */
  readonly toLast: FlowField;
  /** The anchor's coverage there, and how far the pixel shows a part of the subject that the anchor does not, 0..1. */
  readonly fromAnchor: Plane;
  readonly late: Plane;
  /** What of it could be seen on the last frame, where the motion puts it; 0..1. */
  readonly seenBefore: Plane;
  /** Squared colour difference that noise alone makes. */
  readonly noise: number;
}

/** What the background says of the same pixels. */
export interface BackgroundEvidence extends Behind {
  /** Squared colour difference of the background's explanation. */
  readonly miss: Plane;
}

/** 1 at the pixels of `asked` where the background is known, at least as well as `known` says, and something else is seen now. */
export function notBackground(
  { miss, seen }: Pick<BackgroundEvidence, 'miss' | 'seen'>,
  noise: number,
  asked: Uint8Array,
  known = WAS_SEEN,
): Uint8Array {
  const limit = NOT_BACKGROUND + 8 * noise;
  return asked.map((v, i) => (v === 1 && seen.data[i]! > known && miss.data[i]! > limit ? 1 : 0));
}

/** Median miss where the subject was seen: what noise and resampling make of a right match. */
export function noiseOf(miss: Plane, seen: Plane): number {
  const values: number[] = [];
  for (let i = 0; i < miss.data.length; i += 7) if (seen.data[i]! > 0.9) values.push(miss.data[i]!);
  values.sort((a, b) => a - b);
  return Math.min(MOST_NOISE, values[values.length >> 1] ?? 0);
}

/**
 * How far the anchor's match leads around each pixel, 0..1: as long as it explains the subject about as well as the
 * last step does. Where the last step has not seen the subject, an anchor that fits is proof enough.
 */
export function anchorQuality(movedMiss: Plane, anchorMiss: Plane, movedSeen: Plane, fromAnchor: Plane, noise: number): Plane {
  const { width, height } = movedMiss;
  const good = createPlane(width, height);
  const weight = createPlane(width, height);
  const scale = 80 + 4 * noise;
  let sum = 0;
  let count = 0;
  for (let i = 0; i < good.data.length; i++) {
    if (fromAnchor.data[i]! < 0.9) continue;
    const wasSeen = movedSeen.data[i]! > 0.9;
    if (!wasSeen && anchorMiss.data[i]! > scale) continue;
    const excess = (anchorMiss.data[i]! - (wasSeen ? movedMiss.data[i]! : 2 * noise)) / scale;
    weight.data[i] = 1;
    good.data[i] = excess < 1 ? 1 : 0;
    sum += good.data[i]!;
    count++;
  }
  const overall = count === 0 ? 0 : sum / count;
  boxBlur(good, QUALITY_RADIUS, good);
  boxBlur(weight, QUALITY_RADIUS, weight);
  for (let i = 0; i < good.data.length; i++) {
    const share = (good.data[i]! + 0.02 * overall) / (weight.data[i]! + 0.02);
    good.data[i] = Math.max(0, Math.min(1, (share - 0.35) / 0.3));
  }
  return good;
}

/**
 * Where the cut may decide: along the edge, and inside wherever the subject's motion does not explain what is seen, or the
 * background, as far as it is known there, does so better.
 */
export function bandOf(
  { subjectMiss, entering, noise }: Pick<SubjectEvidence, 'subjectMiss' | 'entering' | 'noise'>,
  background: BackgroundEvidence,
  signed: Float32Array,
): Uint8Array {
  const band = new Uint8Array(signed.length);
  const unexplained = 300 + 8 * noise;
  for (let i = 0; i < band.length; i++) {
    const d = signed[i]!;
    const miss = subjectMiss.data[i]!;
    const isBetterBehind = background.seen.data[i]! > WAS_SEEN && background.miss.data[i]! + BETTER + noise < miss;
    if (Math.abs(d) < BAND_PX || (d > 0 && (entering[i] === 1 || miss > unexplained || isBetterBehind))) band[i] = 1;
  }
  return band;
}

/** For every pixel of `band`, how much speaks for the subject (positive) or against it. */
export function leanOf(
  { subjectMiss, entering, noise }: SubjectEvidence,
  background: BackgroundEvidence,
  signed: Float32Array,
  band: Uint8Array,
  colour: Float32Array,
): Float32Array {
  const lean = new Float32Array(signed.length);
  const scale = 20 + 2 * noise;
  for (let i = 0; i < lean.length; i++) {
    if (band[i] === 0) continue;
    const d = signed[i]!;
    const miss = subjectMiss.data[i]!;
    const seen = background.seen.data[i]!;
    let sum = (SHAPE * d) / (1 + 0.12 * Math.abs(d));
    // that the subject goes on beyond the border as it ends there is a guess
    if (entering[i] === 1) sum = Math.max(-MOST_FOR_ENTERING, Math.min(MOST_FOR_ENTERING, sum));
    const motion = Math.max(-3, Math.min(3, (background.miss.data[i]! - miss) / scale));
    // a background that was not seen cannot be expected to fit; where it does, and the subject does not, it was there all along
    sum += MOTION * (motion > 0 ? seen : Math.max(seen, AMISS)) * motion;
    if (d < -1) sum -= UNCOVERED * (1 - seen);
    // inside, where neither the last step nor the anchor explains what is seen, something is in front; and far inside it is the
    // background that has come into view where that is known and fits better
    if (d > WELL_INSIDE_PX && entering[i] === 0) {
      const explained = Math.max(-3, Math.min(3, EXPLAINED - (miss - 3 * noise) / UNEXPLAINED));
      sum = d < BAND_PX ? Math.min(sum, explained + 1 - d / BAND_PX) : explained + MOTION * seen * Math.min(0, motion);
    }
    lean[i] = sum + COLOUR * colour[i]!;
  }
  return lean;
}

/**
 * The cut without the holes that open at once in the midst of the subject: what comes in front of it comes over its edge or the
 * frame's, or from where it was in front before. `inFront` is 1 where such a thing was found again.
 */
export function withoutSuddenHoles(
  inside: Uint8Array,
  { layer, seenBefore, width }: Pick<SubjectEvidence, 'layer' | 'seenBefore' | 'width'>,
  inFront: Uint8Array | null = null,
): Uint8Array {
  const open = new Uint8Array(inside.length);
  const beyond = new Uint8Array(inside.length);
  for (let i = 0; i < open.length; i++) {
    open[i] = 1 - inside[i]!;
    const x = i % width;
    const isAtBorder = x === 0 || x === width - 1 || i < width || i >= open.length - width;
    beyond[i] = open[i] === 1 && (isAtBorder || layer.data[i]! < 0.5 || seenBefore.data[i]! < 0.5 || inFront?.[i] === 1) ? 1 : 0;
  }
  const out = grown(beyond, open, width);
  for (let i = 0; i < out.length; i++) out[i] = 1 - out[i]!;
  return out;
}

/**
 * The subject with what something hides of it: hidden is what neither motion explains and, when much of the subject
 * goes at once, all that went, since what comes in front may look like the background.
 */
export function wholeSubject(
  { layer, subjectMiss, noise }: SubjectEvidence,
  background: BackgroundEvidence,
  alpha: Plane,
  inside: Uint8Array,
): Plane {
  const whole = createPlane(layer.width, layer.height);
  const limit = 100 + 4 * noise;
  let area = 0;
  let gone = 0;
  for (let i = 0; i < inside.length; i++) {
    if (layer.data[i]! < 0.5) continue;
    area++;
    if (inside[i] === 0) gone++;
  }
  const isCovered = gone > AT_ONCE * area;
  for (let i = 0; i < whole.data.length; i++) {
    whole.data[i] = alpha.data[i]!;
    if (inside[i] === 1 || layer.data[i]! < 0.5) continue;
    const isBackground = background.seen.data[i]! > 0.5 && background.miss.data[i]! < limit;
    if (isCovered || (!isBackground && subjectMiss.data[i]! > limit)) whole.data[i] = Math.max(alpha.data[i]!, layer.data[i]!);
  }
  return whole;
}

/** How far a cut is to be trusted: less the more of the subject is not found again and the further the edge went from where motion put it. */
export function judge(
  { width, layer, subjectMiss, noise }: SubjectEvidence,
  inside: Uint8Array,
  signed: Float32Array,
  band: Uint8Array,
): Judgement {
  let moved = 0;
  let edge = 0;
  let missed = 0;
  let area = 0;
  let worst = 0;
  let doubt: Judgement['doubt'] = null;
  const limit = 100 + 4 * noise;
  for (let i = 0; i < inside.length; i++) {
    if (layer.data[i]! >= 0.5) {
      area++;
      if (inside[i] === 0 || subjectMiss.data[i]! > limit) missed++;
    }
    if (band[i] === 0) continue;
    const d = Math.abs(signed[i]!);
    if (d < 1) edge++;
    if ((inside[i] === 1) === layer.data[i]! >= 0.5) continue;
    moved++;
    if (d > worst) {
      worst = d;
      doubt = { x: (i % width) + 0.5, y: Math.floor(i / width) + 0.5 };
    }
  }
  if (area === 0) return { confidence: 0, doubt: null };
  const disagreement = moved / Math.max(1, 4 * edge);
  return { confidence: Math.max(0, Math.min(1, (1 - disagreement) * (1 - missed / area))), doubt: worst > 3 ? doubt : null };
}
