import { carriedPlane } from '../../flow/carried-plane';
import { fieldOf, flowAt, sharedMotion, type Region } from '../../flow/flow-field';
import type { FlowField } from '../../flow/field';
import { matchLayer } from '../../flow/match-layer';
import { signedDistance, signedEdgeDistance, squaredDistances } from '../../image/distance';
import { grown } from '../../image/grown';
import { boundsOf, boxBlur, cropPlane } from '../../image/plane';
import { createPlane, type Plane } from '../../image/pixels';
import type { Frame } from './anchor';
import type { SubjectEvidence } from './evidence';
import { cutBand } from '../cut/cut-band';
import { coverAlongEdge, rampAlongEdge } from '../edge/edge-cover';
import { cropFeatures, featureMiss } from '../cut/features';
import type { LocalColours } from '../cut/local-colour';
import { areaOf } from './subject-region';

/** Room around what is looked at, for the edge's colours. */
const MARGIN_PX = 8;
/** Squared colour difference that counts half, beside noise, and how many times the noise. */
const HALF = 60;
const NOISES = 4;
/** Most that a pixel's two motions may say, as a log ratio, and what they must say for it to be the subject's. */
const MOST = 3;
const ONWARD = 0.5;
/** A motion this far from the background's, in pixels a frame, is one of its own. */
const OWN_PX = 1.2;
/** Weight of colours that speak for the subject, against that. */
const COLOUR = 0.5;
/** Over this radius the pixels speak together. */
const AROUND_PX = 2;
/** What is added must be thicker than the soft edge, half of it in pixels, and than what the shutter blurs of the way of one frame. */
const THICK_PX = 1.5;
const BLURRED = 0.05;
/** Share of the subject that must be in view to say that nothing is in front of it. */
const UNCOVERED = 0.92;
/** Less than this share of what is there already is nothing new. */
const LEAST_SHARE = 0.006;

/** What a frame and the one after show, and how either side goes on from one to the other. */
interface Onward {
  readonly features: Float32Array;
  readonly next: Float32Array;
  readonly subject: FlowField;
  /** As it is found around the pixels asked about, and what most of it has in common. */
  readonly background: FlowField;
  readonly commonBackground: FlowField;
  /** The motion of the pixels asked about, followed for themselves. */
  readonly own: FlowField;
  /** What could be seen of the subject on the frame before. */
  readonly before: Plane;
  /** Squared colour difference that noise alone makes. */
  readonly noise: number;
}

/** What is taken note of from the evidence of a step. */
type Noted = Pick<SubjectEvidence, 'region' | 'width' | 'fromAnchor' | 'toLast' | 'late' | 'noise'>;

/** The subject on one frame: what can be seen of it, and all of it; the colours along its edge, learnt on the part `home`. */
export interface SeenSubject {
  readonly frame: Frame;
  readonly visible: Plane;
  readonly layer: Plane;
  readonly colours: LocalColours;
  readonly home: Region;
}

/**
 * The sides of a subject that come into view while it is carried, and the limbs that come out from behind it. What lay behind it
 * on the frame before, no earlier picture shows; the next one does: the background goes on with the background, a new side with
 * the subject, a limb on a way of its own that leads out of the subject. What has once gone on so belongs to the subject although
 * the anchor does not show it.
 */
export class NewSides {
  /** 1 at the pixels of the subject that the anchor does not show. */
  private late: Plane;
  /** 1 at the pixels outside the cut that only the next frame can tell of; null before any was noted. */
  private doubtful: Uint8Array | null = null;
  /** 1 at those inside the cut that lie beyond what the anchor shows. */
  private gained: Uint8Array;
  /** 1 at the pixels that went on with the subject but were too few or too thin to be told from its soft edge. */
  private waiting: Plane;
  private noise = 0;
  /** What could be seen of the subject on the frame before the noted one; null before any was. */
  private before: Plane | null = null;

  constructor(width: number, height: number) {
    this.late = createPlane(width, height);
    this.waiting = createPlane(width, height);
    this.gained = new Uint8Array(width * height);
  }

  /** Forgets everything: the subject was lost. */
  clear(): void {
    this.late.data.fill(0);
    this.waiting.data.fill(0);
    this.doubtful = this.before = null;
  }

  /**
   * The matte with what has come into view on its frame and, as `next` shows, goes on with the subject; null where there is
   * nothing to add. `subject` and `background` are the motions from the one frame to the other.
   */
  look(seen: SeenSubject, next: Frame, subject: FlowField, background: FlowField): Plane | null {
    const { frame, visible, layer } = seen;
    const { doubtful, gained, late, waiting, noise, before } = this;
    waiting.data.fill(0);
    // with something in front, what comes into view is that
    if (doubtful === null || before === null || areaOf(visible) < UNCOVERED * areaOf(layer)) return null;
    const asked = doubtful.slice();
    for (let i = 0; i < asked.length; i++) asked[i]! |= gained[i]!;
    if (!asked.includes(1)) return null;
    const { width, height } = visible;
    const weights = { width, height, data: new Float32Array(asked) };
    const onward = {
      features: frame.features,
      next: next.features,
      subject,
      background,
      commonBackground: fieldOf(sharedMotion(background), background),
      own: matchLayer(frame.match, weights, next.match, { finest: 1, start: subject }),
      before,
      noise,
    };
    const lean = onwardLean(visible, asked, onward);
    addColours(seen, asked, lean);
    for (let i = 0; i < lean.length; i++) if (gained[i] === 1 && lean[i]! > ONWARD) late.data[i] = 1;
    const found = withNewSides(visible, doubtful, lean, onward);
    for (let i = 0; i < lean.length; i++) {
      if (found !== null && found.data[i]! >= 0.5 && visible.data[i]! < 0.5) late.data[i] = 1;
      else if (doubtful[i] === 1 && lean[i]! > ONWARD) waiting.data[i] = 1;
    }
    return found;
  }

  /** How far the pixels of `region` on the next frame show parts that the anchor does not; `back` is where they came from. */
  lateIn(region: Region, back: FlowField): Plane {
    return carried(this.late, region, back);
  }

  /**
   * Takes note of what a step has left open: `visible` was cut to `inside`; `background` is the motion from where `before` was
   * visible, and `amiss` is 1 where, seen before, it is not what is seen now.
   */
  note(
    { region, width: across, fromAnchor, toLast, late, noise }: Noted,
    inside: Uint8Array,
    visible: Plane,
    before: Plane,
    background: FlowField,
    amiss: Uint8Array,
  ): void {
    const { width, height } = visible;
    this.before = before;
    this.gained = new Uint8Array(width * height);
    this.late = createPlane(width, height);
    for (let o = 0; o < inside.length; o++) {
      if (inside[o] === 0 || fromAnchor.data[o]! > 0.5) continue;
      const i = (region.top + Math.floor(o / across)) * width + region.left + (o % across);
      this.gained[i] = 1;
      this.late.data[i] = late.data[o]!;
    }
    this.doubtful = newlyInView(visible, before, background);
    // a limb may have come over it, and what waits may be wide enough by now
    const waiting = carried(this.waiting, region, toLast);
    for (let o = 0; o < inside.length; o++) {
      const i = (region.top + Math.floor(o / across)) * width + region.left + (o % across);
      if (((amiss[o] === 1 && inside[o] === 0) || waiting.data[o]! > 0.5) && visible.data[i]! < 0.5) this.doubtful[i] = 1;
    }
    this.noise = noise;
  }
}

/** `plane` carried to `region` by `back`; there is seldom anything in it. */
function carried(plane: Plane, region: Region, back: FlowField): Plane {
  if (boundsOf(plane, Number.MIN_VALUE, 0) === null) return createPlane(region.right - region.left, region.bottom - region.top);
  return carriedPlane(plane, back, region);
}

/**
 * 1 at the pixels outside the matte `visible` where the background was behind the subject on the frame before, so that
 * only the next frame can tell whether it is the background that has come into view or a side of the subject not seen
 * before. `background` is how the background moved from there.
 */
function newlyInView(visible: Plane, visibleBefore: Plane, background: FlowField): Uint8Array {
  const { width, height } = visible;
  const out = new Uint8Array(width * height);
  const at = new Float64Array(2);
  const reach = boundsOf(visibleBefore, 0.5, 1 + Math.ceil(furthest(background)));
  if (reach === null) return out;
  for (let y = reach.top; y < reach.bottom; y++) {
    for (let x = reach.left, i = y * width + x; x < reach.right; x++, i++) {
      if (visible.data[i]! >= 0.5) continue;
      flowAt(background, x + 0.5, y + 0.5, at);
      const u = Math.round(x - at[0]!);
      const v = Math.round(y - at[1]!);
      if (u >= 0 && v >= 0 && u < width && v < height && visibleBefore.data[v * width + u]! > 0.5) out[i] = 1;
    }
  }
  return out;
}

/** The most that anything moves across or down. */
function furthest({ u, v }: FlowField): number {
  let most = 0;
  for (let i = 0; i < u.length; i++) most = Math.max(most, Math.abs(u[i]!), Math.abs(v[i]!));
  return most;
}

/**
 * How much each pixel marked 1 in `asked`, with those around it, speaks for going on with the subject rather than with the
 * background, as a log ratio; 0 elsewhere.
 */
function onwardLean(
  { width, height }: Plane,
  asked: Uint8Array,
  { features, next, subject, background, commonBackground, own, before, noise }: Onward,
): Float32Array {
  const lean = createPlane(width, height);
  const share = { width, height, data: new Float32Array(asked) };
  const half = HALF + NOISES * noise;
  const [s, b, c, o] = [new Float64Array(2), new Float64Array(2), new Float64Array(2), new Float64Array(2)];
  /** Squared colour difference to where pixel (x, y) goes under `flow`, which is written to `at`. */
  const missUnder = (flow: FlowField, x: number, y: number, at: Float64Array): number => {
    flowAt(flow, x + 0.5, y + 0.5, at);
    return featureMiss(next, width, height, x + 0.5 + at[0]!, y + 0.5 + at[1]!, features, y * width + x);
  };
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (asked[i] === 0) continue;
      const missed = Math.min(missUnder(background, x, y, b), missUnder(commonBackground, x, y, c));
      let miss = missUnder(subject, x, y, s);
      const alone = missUnder(own, x, y, o);
      const fromBackground = Math.min(squaredBetween(o, b), squaredBetween(o, c));
      const comesOut = fromBackground > OWN_PX ** 2 && isVisible(before, x - o[0]!, y - o[1]!);
      if (alone < miss && (comesOut || squaredBetween(o, s) < fromBackground)) miss = alone;
      lean.data[i] = Math.max(-MOST, Math.min(MOST, Math.log((missed + half) / (miss + half))));
    }
  }
  // pixels without texture go either way; those around them tell
  boxBlur(lean, AROUND_PX, lean);
  boxBlur(share, AROUND_PX, share);
  for (let i = 0; i < asked.length; i++) lean.data[i] = asked[i] === 1 ? lean.data[i]! / share.data[i]! : 0;
  return lean.data;
}

/** Adds to `lean`, at the pixels marked 1 in `asked`, what their colours say for the subject; against it they say nothing: a new side may have any. */
function addColours({ frame, visible, colours, home }: SeenSubject, asked: Uint8Array, lean: Float32Array): void {
  const across = home.right - home.left;
  const down = home.bottom - home.top;
  const part = new Uint8Array(across * down);
  for (let y = 0; y < down; y++) {
    const row = (y + home.top) * visible.width;
    part.set(asked.subarray(row + home.left, row + home.right), y * across);
  }
  const votes = colours.vote(cropFeatures(frame.features, visible.width, home), part, across, down, (x, y) => [x, y]);
  for (let y = 0, o = 0; y < down; y++)
    for (let i = (y + home.top) * visible.width + home.left, end = i + across; i < end; i++, o++)
      lean[i]! += COLOUR * Math.max(0, votes[o]!);
}

/** Whether the pixel nearest to (x, y), counted from 0, is for the most part covered. */
function isVisible({ width, height, data }: Plane, x: number, y: number): boolean {
  const [px, py] = [Math.round(x), Math.round(y)];
  return px >= 0 && py >= 0 && px < width && py < height && data[py * width + px]! > 0.5;
}

const squaredBetween = (a: Float64Array, b: Float64Array): number => (a[0]! - b[0]!) ** 2 + (a[1]! - b[1]!) ** 2;

/**
 * The matte `visible` with those of its `doubtful` pixels that hang together with it and, by `lean`, go on with the subject;
 * null where there are none to speak of.
 */
function withNewSides(visible: Plane, doubtful: Uint8Array, lean: Float32Array, { features, subject, background }: Onward): Plane | null {
  const { width, height } = visible;
  const least = LEAST_SHARE * areaOf(visible);
  let speaking = 0;
  for (let i = 0; i < lean.length; i++) if (doubtful[i] === 1 && lean[i]! > ONWARD) speaking++;
  // the cut joins those that speak for the subject, and hardly any others
  if (speaking < 0.5 * least) return null;
  const region = boundsOf({ width, height, data: new Float32Array(doubtful) }, 0.5, MARGIN_PX);
  if (region === null) return null;
  const across = region.right - region.left;
  const down = region.bottom - region.top;
  const band = new Uint8Array(across * down);
  const leans = new Float32Array(across * down);
  const [s, b] = [new Float64Array(2), new Float64Array(2)];
  let travel = 0;
  let asked = 0;
  for (let y = region.top, o = 0; y < region.bottom; y++) {
    for (let x = region.left; x < region.right; x++, o++) {
      if (doubtful[y * width + x] === 0) continue;
      band[o] = 1;
      leans[o] = lean[y * width + x]! - ONWARD;
      flowAt(subject, x + 0.5, y + 0.5, s);
      flowAt(background, x + 0.5, y + 0.5, b);
      travel += Math.sqrt(squaredBetween(s, b));
      asked++;
    }
  }
  const cropped = cropFeatures(features, width, region);
  const signed = signedEdgeDistance(cropPlane(visible, region));
  const before = new Uint8Array(signed.length);
  for (let o = 0; o < before.length; o++) before[o] = signed[o]! > 0 ? 1 : 0;
  const all = grown(before, cutBand(cropped, band, signed, leans, across, down), across);
  const added = thickParts(all, before, across, down, THICK_PX + (BLURRED * travel) / asked);
  const now = before.slice();
  let area = 0;
  for (let o = 0; o < now.length; o++) {
    area += added[o]!;
    now[o]! |= added[o]!;
  }
  if (area === 0 || area < least) return null;
  signedDistance(now, across, down, signed);
  const soft = { width: across, height: down, data: new Float32Array(now.length) };
  rampAlongEdge(signed, soft);
  coverAlongEdge(cropped, signed, across, down, soft);
  const out = { width, height, data: visible.data.slice() };
  for (let y = region.top, o = 0; y < region.bottom; y++)
    for (let x = region.left, i = y * width + x; x < region.right; x++, i++, o++)
      if (added[o] === 1) out.data[i] = Math.max(0.5, soft.data[o]!);
  return out;
}

/** The parts of `all` beyond `before` that are more than twice `thick` pixels across. */
function thickParts(all: Uint8Array, before: Uint8Array, width: number, height: number, thick: number): Uint8Array {
  const added = new Uint8Array(all.length);
  for (let i = 0; i < added.length; i++) added[i] = all[i]! & ~before[i]!;
  const squared = new Float32Array(added.length);
  squaredDistances(added, 0, width, height, squared);
  const core = new Uint8Array(added.length);
  for (let i = 0; i < core.length; i++) core[i] = squared[i]! > thick * thick ? 1 : 0;
  squaredDistances(core, 1, width, height, squared);
  for (let i = 0; i < added.length; i++) if (squared[i]! >= (thick + 1) ** 2) added[i] = 0;
  return added;
}
