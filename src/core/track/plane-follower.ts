import { flowAt } from '../flow/flow-field';
import { matchLayer, prepareMatch, type MatchPicture } from '../flow/match-layer';
import type { Image } from '../image/image';
import { lumaOf, requireSize } from '../image/plane';
import { fitMap, invertMap, mapPoint, multiply, scaleAt, type Homography, type MotionModel } from './homography';
import { PlaneTemplate, regionWeights, type Alignment, type Corner } from './plane-template';

/** Where a plane region is on one frame. */
export interface FollowedRegion {
  /** The region's own corners moved along, in pixels, pixel centres at +0.5. */
  readonly corners: readonly Corner[];
  /** 0..1: share of the region that looks as it did; low where it is hidden, blurred or lost and its place only predicted. */
  readonly confidence: number;
}

/** Agreement under which the place is predicted rather than believed. */
const LOST = 0.22;
/** Agreement with the key frame under which a newer frame of the region is tried as well. */
const CHANGED = 0.6;
/** Agreement from which the place is sure enough to take a newer frame of the region there. */
const SURE = 0.5;

/**
 * Follows a plane region through frames by aligning each with the key frame, so that errors do not add up. Where the
 * region has come to look too different, a newer frame of it stands in until the key frame fits again. Started from
 * the last motion or, where things jump, from matched patches. While hidden, the region goes on as it went.
 */
export class PlaneFollower {
  private readonly model: MotionModel;
  private readonly corners: readonly Corner[];
  private readonly width: number;
  private readonly height: number;
  private readonly key: PlaneTemplate;
  private previous: MatchPicture;
  /** Key-frame units to pixels of the newest frame, and of the one before. */
  private place: Homography;
  private before: Homography;
  private agreement = 1;
  /** A newer frame of the region; `link` takes its units to the key frame's. */
  private standIn: { readonly template: PlaneTemplate; readonly link: Homography } | null = null;

  /** @throws RangeError with fewer than three corners, or a region that holds almost nothing of the picture. */
  constructor(key: Image, corners: readonly Corner[], model: MotionModel) {
    if (corners.length < 3) throw new RangeError('PlaneFollower: a region needs three corners');
    this.model = model;
    this.corners = corners;
    this.width = key.width;
    this.height = key.height;
    this.previous = prepareMatch(lumaOf(key));
    this.key = new PlaneTemplate(this.previous, corners, model);
    this.place = this.before = this.key.home;
  }

  /** Follows on to `picture`, the next frame in the direction of travel. */
  step(picture: Image): FollowedRegion {
    requireSize(picture, this.width, this.height, 'PlaneFollower.step: picture');
    return this.stepPrepared(prepareMatch(lumaOf(picture)));
  }

  /** The same for a picture that others use too. */
  stepPrepared(next: MatchPicture): FollowedRegion {
    const wasBelieved = this.agreement >= LOST;
    const ahead = multiply(multiply(this.place, invertMap(this.before)), this.place);
    const starts = [wasBelieved ? ahead : this.place];
    let best = this.key.align(next, starts[0]!);
    if (best.agreement < 0.8) {
      const jumped = this.matched(next);
      if (jumped !== null) starts.push(jumped);
      starts.push(this.place);
      for (const start of starts.slice(1)) best = better(best, this.key.align(next, start));
    }
    if (best.agreement < CHANGED) {
      for (const start of starts) best = better(best, this.alignStandIn(next, start));
      // from where the stand-in found it, the key frame may fit after all
      best = better(best, this.key.align(next, best.map), 0.1);
    } else this.standIn = null;
    const believed = best.agreement >= LOST && this.isPlausible(best.map);
    const place = believed ? best.map : wasBelieved ? ahead : this.place;
    this.before = believed && !wasBelieved ? place : this.place;
    this.place = place;
    this.agreement = believed ? best.agreement : 0;
    this.previous = next;
    return { corners: this.cornersAt(place), confidence: believed ? best.agreement : 0.5 * best.agreement };
  }

  private cornersAt(place: Homography): Corner[] {
    const map = multiply(place, invertMap(this.key.home));
    return this.corners.map(([x, y]) => mapPoint(map, x, y));
  }

  private isPlausible(map: Homography): boolean {
    const growth = scaleAt(map, 0, 0) / Math.max(1e-6, scaleAt(this.place, 0, 0));
    return Number.isFinite(growth) && growth > 0.6 && growth < 1.7;
  }

  private alignStandIn(next: MatchPicture, start: Homography): Alignment {
    if (this.standIn === null || this.agreement >= SURE) {
      const fresh = this.takeStandIn();
      if (fresh !== null) this.standIn = fresh;
    }
    if (this.standIn === null) return { map: start, agreement: 0 };
    const { template, link } = this.standIn;
    const { map, agreement } = template.align(next, multiply(start, link));
    return { map: multiply(map, invertMap(link)), agreement };
  }

  /** The region as it was on the previous frame, where its place was sure. */
  private takeStandIn(): PlaneFollower['standIn'] {
    if (this.agreement < SURE) return null;
    const corners = this.cornersAt(this.place);
    if (!corners.flat().every((v) => Math.abs(v) < 1e5)) return null;
    let inside = 0;
    const weights = regionWeights(corners, this.width, this.height);
    for (const w of weights.data) if (w >= 0.5) inside++;
    if (inside < 64) return null;
    const template = new PlaneTemplate(this.previous, corners, this.model);
    return { template, link: multiply(invertMap(this.place), template.home) };
  }

  /** A start found by matching patches of the previous frame's region; null when they agree on nothing. */
  private matched(next: MatchPicture): Homography | null {
    const corners = this.cornersAt(this.place);
    if (!corners.flat().every((v) => Math.abs(v) < 1e5)) return null;
    const weights = regionWeights(corners, this.width, this.height);
    const field = matchLayer(this.previous, weights, next, { finest: Math.min(2, next.levels.length - 1) });
    const pairs: number[] = [];
    const at = new Float64Array(2);
    for (let y = 0; y < field.height; y += 2) {
      for (let x = 0; x < field.width; x += 2) {
        const trust = field.trust[y * field.width + x]!;
        if (trust < 0.2) continue;
        const px = (field.left + x + 0.5) * field.step;
        const py = (field.top + y + 0.5) * field.step;
        flowAt(field, px, py, at);
        pairs.push(px, py, px + at[0]!, py + at[1]!, trust);
      }
    }
    if (pairs.length < 5 * 8) return null;
    // coarse patches tell an affine motion; perspective is left to the alignment
    const motion = fitMap(this.model === 'similarity' ? 'similarity' : 'affine', Float64Array.from(pairs), 3);
    return motion === null ? null : multiply(motion, this.place);
  }
}

const better = (a: Alignment, b: Alignment, handicap = 0): Alignment => (b.agreement + handicap > a.agreement ? b : a);
