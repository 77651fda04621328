import { fieldOf, filledOver, flowAt, sharedMotion, type AffineMotion, type Region } from '../../flow/flow-field';
import type { FlowField } from '../../flow/field';
import { matchLayer, prepareMatch } from '../../flow/match-layer';
import { signedDistance, signedEdgeDistance } from '../../image/distance';
import { createPlane, requireSize, type Image, type Plane } from '../../image/pixels';
import { lumaOf, pastePlane } from '../../image/plane';
import { Backdrop } from './backdrop';
import { CarriedHair } from './hair';
import { InFront, type SeenInFront } from './in-front';
import { CarryAnchor, fitOf, LOST, WORSE, type Frame } from './anchor';
import {
  anchorQuality,
  bandOf,
  judge,
  leanOf,
  noiseOf,
  notBackground,
  wholeSubject,
  withoutSuddenHoles,
  type Judgement,
  type SubjectEvidence,
} from './evidence';
import { cutBand } from '../cut/cut-band';
import { coverAlongEdge } from '../edge/edge-cover';
import { explain } from './explain';
import { cropFeatures, featuresOf, gainToUsual } from '../cut/features';
import { edgeShift, layGivenEdge, type PlacedShift } from './given-edge';
import { coarseOf, likelyStart } from './likely-start';
import { LocalColours } from '../cut/local-colour';
import { NewSides } from './new-sides';
import { refineCoverage } from '../edge/refine-coverage';
import { bytesOf, resized } from '../coverage/resize';
import { SideColours } from '../cut/side-colours';
import { softEdge } from './soft-edge';
import { crispenTo, softnessOf } from './softness';
import type { StoredCoverage } from '../coverage/stored-coverage';
import { addSwungOut, subjectColoured, undecided } from './swung-out';
import { areaOf, joined, layerWeights, nearTo, pixelsInReach, reachOf, type LayerWeights } from './subject-region';

/** A matte on one frame, at the size of the given one; `doubt` is in its pixels. */
export interface CarriedMatte extends Judgement {
  readonly coverage: StoredCoverage;
  /** The coverage of the frame before, where this one has told it better; else null. */
  readonly before: StoredCoverage | null;
}

/** What a step went by, kept for a second look at its frame. */
interface LastStep {
  readonly picture: Image;
  readonly detail: Image;
  readonly edge: PlacedShift;
}

/** How both sides went on to a frame, and the coverage of the one before it where that has changed. */
interface Followed {
  readonly subject: FlowField;
  readonly isSure: boolean;
  readonly background: FlowField;
  readonly before: StoredCoverage | null;
  readonly weights: LayerWeights;
  readonly colours: LocalColours;
}

/** What speaks against a pixel on which a thing in front of the subject was found again. */
const IN_FRONT = 6;
/** Squared colour difference of an explanation that says nothing. */
const UNKNOWN = 1e5;
/** From this trust up the colours of the whole picture have a say away from the edge, and this much more makes it full. */
const TRUSTED = 0.8;
const FULLY_TRUSTED = 0.15;
/** They have none this close to the edge, in pixels, where colours mix, and all of it this much further off. */
const MIXED_PX = 2;
const CLEAR_PX = 4;
/** Most that the whole picture's colours say of one pixel, as a log ratio. */
const MOST_BY_WHOLE = 4;
/**
 * So close to the subject the background moves as it does around there: what is found so close may be a limb that the matte
 * has lost, and a background that goes with it would never give it back.
 */
const BESIDE_PX = 24;
/** With less of the background than this further off, in pixels, that close by has to do. */
const ENOUGH_PX = 400;
/** A background that has not been in view for longer than a few frames is no proof that something else has come out. */
const SEEN_LATELY = 0.9;
/** Share of the subject that must be in view to tell how it moves as a whole. */
const MOSTLY_SEEN = 0.75;

/**
 * Carries a matte from frame to frame. Subject and background are followed each for themselves, weighted by the
 * matte, so that their motions stay apart at the edge. Which of the two explains each pixel, the moved matte and
 * colours learnt along the edge (Bai et al. 2009) meet in a minimum cut. The subject is also matched afresh with the
 * frame the matte was given on, so that errors do not add up, and is remembered where something passes in front.
 * It may be carried on pictures smaller than itself; then its edge comes from itself and from larger pictures.
 */
export class MatteCarrier {
  /** Size of the pictures that it is carried on. */
  readonly width: number;
  readonly height: number;
  private readonly given: Plane;
  private readonly hair: CarriedHair | null;
  /** Of the given matte; what is carried is no softer. */
  private readonly softness: number;
  /** Contrast of the pictures is raised so much, that of the given matte's to what is usual. */
  private readonly gain: number;
  private frame: Frame;
  /** What can be seen of the subject, and all of it. */
  private visible: Plane;
  private layer: Plane;
  private readonly anchor: CarryAnchor;
  /** The colours of the anchor's subject and of all around it, and how much they may say where the anchor tells as well, 0..1. */
  private readonly colours: SideColours | null;
  private readonly colourShare: number;
  /** How well the steps have matched lately, as a score. */
  private usualStep = 0;
  private subjectFlow: FlowField | null = null;
  /** The subject's common motion in the last step that was sure. */
  private steady: AffineMotion | null = null;
  private backgroundFlow: FlowField | null = null;
  private last: LastStep | null = null;
  private readonly backdrop = new Backdrop();
  private readonly sides: NewSides;
  /** A thing in front of the subject on the anchor's frame, as long as it is; `null` where there is none. */
  private front: InFront | null;
  private isFrontOwn = false;

  /**
   * `given` is the coverage on `picture`, 0..1, at its size or larger; with `hasHair` what it covers in part is told from colour on every frame.
   * @throws RangeError when it is smaller or has other proportions.
   */
  constructor(picture: Image, given: Plane, hasHair = false) {
    const { width, height } = picture;
    if (!isLikewise(given, picture))
      throw new RangeError(`MatteCarrier: a matte of ${given.width}×${given.height} for a picture of ${width}×${height}`);
    this.width = width;
    this.height = height;
    this.hair = hasHair ? CarriedHair.of(given) : null;
    this.given = this.hair?.solid ?? given;
    this.softness = softnessOf({ ...this.given, data: bytesOf(this.given) });
    const alpha = resized(this.given, width, height);
    this.gain = gainToUsual(featuresOf(picture));
    this.frame = prepare(picture, this.gain);
    this.visible = this.layer = alpha;
    this.anchor = new CarryAnchor(this.frame, alpha);
    this.sides = new NewSides(width, height);
    this.front = InFront.of(alpha);
    const { inside, outside } = clearPlaces(alpha);
    this.colours = SideColours.learn(this.frame.features, inside, outside);
    const trust = this.colours?.trust(this.frame.features, inside, outside) ?? 0;
    this.colourShare = Math.max(0, Math.min(1, (trust - TRUSTED) / FULLY_TRUSTED));
  }

  /**
   * Carries on to `picture`, the next frame in the direction of travel; `detail` is the same at the size of the given matte.
   * Both must stay as they are until the next step is done.
   * @throws RangeError when a size differs.
   */
  step(picture: Image, detail: Image = picture): CarriedMatte {
    requireSize(picture, this.width, this.height, 'MatteCarrier.step: picture');
    requireSize(detail, this.given.width, this.given.height, 'MatteCarrier.step: detail');
    const next = prepare(picture, this.gain);
    const followed = this.follow(next);
    if (followed === null) return this.lookForIt(next, picture, detail);
    const { subject, isSure, background, before } = followed;
    if (this.front !== null && !this.isFrontOwn) {
      this.isFrontOwn = this.front.isOwn(this.frame, next, background);
      if (this.isFrontOwn) this.layer = this.front.with(this.layer);
      else this.front = null;
    }
    const home = followed.weights.region;
    const guess = this.anchor.movedBy(subject);
    const anchored = this.anchor.place(guess, isSure, next, joined(reachOf(this.layer, subject), reachOf(this.anchor.alpha, guess)));
    const region = joined(reachOf(this.layer, subject), reachOf(this.anchor.alpha, anchored));
    const seen = this.seekSubject(next, region, subject, anchored);
    const { width, height } = seen;
    const layerSigned = signedEdgeDistance(seen.layer);
    const behind = this.backdrop.ask(this.frame.features, this.visible, next.features, background, region);
    const front = this.front?.look(this.frame, next, subject, region, seen.noise) ?? null;
    if (front !== null) lookAfresh(seen, front);
    const band = bandOf(seen, behind, layerSigned);
    front?.there.forEach((v, i) => v === 1 && (band[i] = 1));
    // colours that do not tell the sides apart find parts of the subject everywhere
    const coloured = this.colours === null || this.colourShare === 0 ? null : subjectColoured(this.colours, seen.features, layerSigned);
    if (coloured !== null) addSwungOut(seen, behind, coloured, band);
    const colour = askColours(seen, band, followed.colours, home, subject);
    this.askWholeColours(seen, layerSigned, band, colour);
    const lean = leanOf(seen, behind, layerSigned, band, colour);
    front?.there.forEach((v, i) => v === 1 && (lean[i] = -IN_FRONT));
    const inside = withoutSuddenHoles(cutBand(seen.features, band, layerSigned, lean, width, height), seen, front?.there ?? null);
    const cutSigned = new Float32Array(inside.length);
    signedDistance(inside, width, height, cutSigned);
    const alpha = softEdge(cutSigned, seen.layer);
    coverAlongEdge(seen.features, cutSigned, width, height, alpha, behind);
    const { confidence, doubt } = judge(seen, inside, layerSigned, band);
    const edge = { ...edgeShift(alpha, seen.layer, seen.byAnchor), region, back: seen.toAnchor };

    this.frame = next;
    const visibleBefore = this.visible;
    this.visible = createPlane(this.width, this.height);
    pastePlane(alpha, this.visible, region.left, region.top);
    this.layer = createPlane(this.width, this.height);
    pastePlane(wholeSubject(seen, behind, alpha, inside), this.layer, region.left, region.top);
    if (this.front !== null && front !== null) {
      if (this.front.goOn(front, inside, region)) this.layer = this.front.with(this.layer);
      else this.front = null;
    }
    this.subjectFlow = subject;
    this.backgroundFlow = background;
    // hair comes over the background all along its edge
    const asked = this.hair === null ? band : new Uint8Array(band.length);
    this.sides.note(seen, inside, this.visible, visibleBefore, background, notBackground(behind, seen.noise, asked, SEEN_LATELY));
    this.last = { picture, detail, edge };
    const scale = this.given.width / this.width;
    const place = doubt === null ? null : { x: scale * (doubt.x + region.left), y: scale * (doubt.y + region.top) };
    return { coverage: this.atFullSize(this.last), confidence, doubt: place, before };
  }

  /**
   * The coverage of the last frame as `picture`, the one after it, tells it better; null where it does not. For the end of a
   * carry, where no step follows.
   * @throws RangeError when the size differs.
   */
  confirm(picture: Image): StoredCoverage | null {
    requireSize(picture, this.width, this.height, 'MatteCarrier.confirm: picture');
    return this.follow(prepare(picture, this.gain))?.before ?? null;
  }

  /** How subject and background go on to `next`, after another look at the last frame; null when nothing of the subject is in view. */
  private follow(next: Frame): Followed | null {
    const weights = layerWeights(this.visible);
    if (weights === null) return null;
    const { flow: subject, isSure } = this.followSubject(next, weights.subject);
    const start = likelyStart(this.frame.coarse, weights.background, next.coarse, this.backgroundFlow);
    const found = matchLayer(this.frame.match, weights.background, next.match, { finest: 1, start });
    const beside = nearTo(this.visible, BESIDE_PX);
    const background = areaBeyond(weights.background, beside) < ENOUGH_PX ? found : filledOver(found, beside, this.width);
    const colours = this.coloursAlong(weights);
    const { frame, visible, layer } = this;
    const more = this.sides.look({ frame, visible, layer, colours, home: weights.region }, next, subject, background);
    if (this.last === null || more === null) return { subject, isSure, background, before: null, weights, colours };
    for (let i = 0; i < layer.data.length; i++) layer.data[i] = Math.max(layer.data[i]!, more.data[i]!);
    this.visible = more;
    const changed = layerWeights(more)!;
    const again = this.followSubject(next, changed.subject);
    const before = this.atFullSize(this.last);
    return { subject: again.flow, isSure: again.isSure, background, before, weights: changed, colours: this.coloursAlong(changed) };
  }

  /** The colours on either side of the edge on the current frame. */
  private coloursAlong({ region, signed }: LayerWeights): LocalColours {
    const features = cropFeatures(this.frame.features, this.width, region);
    return LocalColours.learn(features, signed, region.right - region.left, region.bottom - region.top);
  }

  /** What is visible now, at the size of the given matte. */
  private atFullSize({ picture, detail, edge }: LastStep): StoredCoverage {
    const { given, width, height } = this;
    const coverage = refineCoverage({ width, height, data: bytesOf(this.visible) }, detail, picture);
    layGivenEdge(given, edge, width, height, coverage);
    crispenTo(this.softness, coverage);
    this.hair?.lay(detail, edge.back, width, coverage);
    return coverage;
  }

  /**
   * Where the visible subject went. When it is found worse than usual, something may be coming over it, which drags its
   * edge along: then only motions near its last sure one count; when hardly any of it is found, that motion alone.
   */
  private followSubject(next: Frame, weight: Plane): { readonly flow: FlowField; readonly isSure: boolean } {
    const { steady } = this;
    const start = likelyStart(this.frame.coarse, weight, next.coarse, this.subjectFlow);
    const options = { finest: 1, start, lightChange: 28 };
    let flow = matchLayer(this.frame.match, weight, next.match, options);
    let fit = fitOf(this.frame, this.visible, flow, next);
    const isPartlySeen = areaOf(this.visible) < MOSTLY_SEEN * areaOf(this.layer);
    const isWorse = fit.score < WORSE * this.usualStep;
    if (steady !== null && (isPartlySeen || isWorse)) {
      flow = matchLayer(this.frame.match, weight, next.match, { ...options, expected: steady });
      fit = fitOf(this.frame, this.visible, flow, next);
      if (fit.found < LOST) return { flow: fieldOf(steady, flow), isSure: false };
    }
    // what stays worse becomes the usual: the light has changed, or the subject is blurred from now on
    this.usualStep += (this.usualStep === 0 ? 1 : isWorse ? 0.1 : 0.2) * (fit.score - this.usualStep);
    if (!isPartlySeen) this.steady = sharedMotion(flow);
    return { flow, isSure: true };
  }

  /** Nothing of the subject was in view: it may be again, where it was last or elsewhere. */
  private lookForIt(next: Frame, picture: Image, detail: Image): CarriedMatte {
    this.frame = next;
    this.subjectFlow = null;
    this.sides.clear();
    this.backdrop.forget();
    const found = this.anchor.seekAgain(next);
    if (found !== null) this.visible = this.layer = found;
    const { width, height } = this;
    const coverage = refineCoverage({ width, height, data: bytesOf(this.visible) }, detail, picture);
    crispenTo(this.softness, coverage);
    return { coverage, confidence: found === null ? 0 : 0.5, doubt: null, before: null };
  }

  /** How the subject's two explanations, by the last step and by the anchor, fit the next frame. */
  private seekSubject(next: Frame, region: Region, subject: FlowField, anchored: FlowField): SubjectEvidence {
    const { anchor } = this;
    const wanted = pixelsInReach(region, [this.layer, subject], [anchor.alpha, anchored]);
    const step = explain(this.frame.features, next.features, subject, this.layer, this.visible, region, wanted);
    const fresh = explain(anchor.features, next.features, anchored, anchor.alpha, anchor.alpha, region, wanted);
    const [moved, movedSeen, fromAnchor] = [step.cover, step.other, fresh.cover];
    const noise = noiseOf(step.miss, movedSeen);
    const byAnchor = anchorQuality(step.miss, fresh.miss, movedSeen, fromAnchor, noise);
    const late = this.sides.lateIn(region, step.back);
    const entering = new Uint8Array(step.shown.length);
    const width = region.right - region.left;
    const height = region.bottom - region.top;
    const layer = createPlane(width, height);
    const subjectMiss = createPlane(width, height);
    for (let o = 0; o < layer.data.length; o++) {
      // what the anchor's frame did not show, only the last one can tell of
      if (fresh.shown[o] === 0) byAnchor.data[o] = 0;
      byAnchor.data[o]! *= 1 - late.data[o]!;
      const share = byAnchor.data[o]!;
      layer.data[o] = share * fromAnchor.data[o]! + (1 - share) * moved.data[o]!;
      // the step has nothing to say of what it did not see
      const missOfStep = step.shown[o] === 1 && (movedSeen.data[o]! > 0.3 || moved.data[o]! < 0.3) ? step.miss.data[o]! : UNKNOWN;
      const missOfAnchor = fresh.shown[o] === 1 ? fresh.miss.data[o]! : UNKNOWN;
      subjectMiss.data[o] = Math.min(missOfStep, missOfAnchor);
      if (step.shown[o] === 0 && fresh.shown[o] === 0) {
        entering[o] = 1;
        subjectMiss.data[o] = undecided(noise);
      }
    }
    return {
      region,
      width,
      height,
      features: cropFeatures(next.features, this.width, region),
      layer,
      subjectMiss,
      entering,
      byAnchor,
      toAnchor: fresh.back,
      toLast: step.back,
      fromAnchor,
      late,
      seenBefore: movedSeen,
      anchored: fresh.shown,
      noise,
    };
  }

  /**
   * What the colours of the anchor's whole picture say. Where the anchor itself cannot tell they always count; what comes in has
   * no edge learnt from close by, either. Elsewhere they count away from the edge, if they tell the sides apart: a limb
   * may swing further than shape and local colours would have it.
   */
  private askWholeColours(
    { entering, anchored, features }: SubjectEvidence,
    signed: Float32Array,
    band: Uint8Array,
    votes: Float32Array,
  ): void {
    if (this.colours === null) return;
    const ratios = this.colours.ratios(features, band, MOST_BY_WHOLE);
    for (let i = 0; i < votes.length; i++) {
      if (band[i] === 0) continue;
      if (anchored[i] === 0 || entering[i] === 1) votes[i] = 0.5 * votes[i]! + (entering[i] === 1 ? 1 : 0.5) * ratios[i]!;
      else votes[i]! += this.colourShare * Math.max(0, Math.min(1, (Math.abs(signed[i]!) - MIXED_PX) / CLEAR_PX)) * ratios[i]!;
    }
  }
}

/** What no frame has shown of the subject yet is looked at as if it came in: neither the last step nor the anchor tells of it. */
function lookAfresh({ entering, subjectMiss, byAnchor, noise }: SubjectEvidence, { there, unseen }: SeenInFront): void {
  for (let i = 0; i < unseen.length; i++) {
    if (unseen[i] === 0 || there[i] === 1) continue;
    entering[i] = 1;
    subjectMiss.data[i] = undecided(noise);
    byAnchor.data[i] = 0;
  }
}

/** The votes of colours learnt around the edge on the part `home` of the current frame, at the pixels of `band` on the next. */
function askColours(
  { region, width, height, features }: SubjectEvidence,
  band: Uint8Array,
  colours: LocalColours,
  home: Region,
  subject: FlowField,
): Float32Array {
  const at = new Float64Array(2);
  return colours.vote(features, band, width, height, (x, y) => {
    flowAt(subject, x + home.left + 0.5, y + home.top + 0.5, at);
    return [x + home.left + at[0]! - region.left, y + home.top + at[1]! - region.top];
  });
}

/** True when `given` has the size and proportions of `picture` or larger ones, but for rounding. */
function isLikewise(given: Plane, { width, height }: Image): boolean {
  const scale = Math.max(given.width, given.height) / Math.max(width, height);
  return scale >= 1 && Math.abs(given.width / scale - width) < 0.51 && Math.abs(given.height / scale - height) < 0.51;
}

/** What `weights` sums up to outside `mask`. */
function areaBeyond({ data }: Plane, mask: Uint8Array): number {
  let sum = 0;
  for (let i = 0; i < data.length; i++) if (mask[i] === 0) sum += data[i]!;
  return sum;
}

/** The pixels that belong to one side alone: mixtures of the edge teach nothing. */
function clearPlaces({ data }: Plane): { readonly inside: number[]; readonly outside: number[] } {
  const [inside, outside]: [number[], number[]] = [[], []];
  for (let i = 0; i < data.length; i++) {
    if (data[i]! > 0.95) inside.push(i);
    else if (data[i]! < 0.05) outside.push(i);
  }
  return { inside, outside };
}

const prepare = (picture: Image, gain: number): Frame => ({
  features: featuresOf(picture, gain),
  match: prepareMatch(lumaOf(picture)),
  coarse: coarseOf(picture),
});
