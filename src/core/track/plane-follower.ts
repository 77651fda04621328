import { flowAt } from '../flow/flow-field';
import { matchLayer, prepareMatch, type MatchPicture } from '../flow/match-layer';
import { requireSize, type Image } from '../image/pixels';
import { lumaOf } from '../image/plane';
import { fitMap, invertMap, mapPoint, multiply, scaleAt, type Homography, type MotionModel } from '../geometry/fit-map';
import { PlaneTemplate, regionWeights, type Alignment, type Corner } from './plane-template';

/** Where a plane region is on one frame. */
export interface FollowedRegion {
  /** The region's own corners moved along, in pixels, pixel centres at +0.5. */
  readonly corners: readonly Corner[];
  /** 0..1: share of the region that looks as it did; low where it is hidden, blurred or lost and its place only predicted. */
  readonly confidence: number;
}

/** Agreement under which the place is predicted rather than believed: where the region is expected, and half its size or more away. */
const LOST = 0.22;
const LOST_ELSEWHERE = 0.45;
/** Agreement under which other places than the expected one are tried. */
const UNSURE = 0.8;
/** Agreement with the key frame under which a newer frame of the region is tried as well. */
const CHANGED = 0.5;
/** Agreement from which the place is sure enough to take a newer frame of the region there, and of a cell to be taken into it. */
const SURE = 0.45;
/** A region in doubt loses this share of its speed a frame. */
const SLOWS = 0.12;
/** A region in doubt for longer than so many frames is sought in the whole picture on every so many of them only. */
const LONG = 24;
const SELDOM = 3;
/** Frames over which its speed is measured. */
const SPEED_FRAMES = 4;

/**
 * Follows a plane region through frames by aligning each with the key frame, so that errors do not add up. Where the
 * region has come to look too different, a newer frame of it stands in until the key frame fits again; of that frame just the
 * parts that could be seen, so that what is in front is never followed. Started from the last motion or, where things jump,
 * from matched patches. While hidden, the region goes on as it went and slows down, and is looked for in the whole picture.
 */
export class PlaneFollower {
  private readonly model: MotionModel;
  private readonly corners: readonly Corner[];
  private readonly width: number;
  private readonly height: number;
  private readonly key: PlaneTemplate;
  private previous: MatchPicture;
  /** Key-frame units to pixels of the newest frame. */
  private place: Homography;
  private seen = true;
  private agreement = 1;
  /** Where it was on the last run of frames on which its place was sure, newest last, and how many frames ago that run ended. */
  private readonly path: Homography[];
  private unsureFor = 0;
  /** How far each cell of the region agreed when its place was last sure. */
  private cells: Float32Array = new Float32Array(0);
  /** A newer frame of the region; `link` takes its units to the key frame's, `agreement` is how far it agreed with the key frame. */
  private standIn: { readonly template: PlaneTemplate; readonly link: Homography; readonly agreement: number } | null = null;

  /** @throws RangeError with fewer than three corners, or a region that holds almost nothing of the picture. */
  constructor(key: Image, corners: readonly Corner[], model: MotionModel) {
    if (corners.length < 3) throw new RangeError('PlaneFollower: a region needs three corners');
    this.model = model;
    this.corners = corners;
    this.width = key.width;
    this.height = key.height;
    this.previous = prepareMatch(lumaOf(key));
    this.key = new PlaneTemplate(this.previous, corners, model);
    this.place = this.key.home;
    this.path = [this.place];
  }

  /** Follows on to `picture`, the next frame in the direction of travel. */
  step(picture: Image): FollowedRegion {
    requireSize(picture, this.width, this.height, 'PlaneFollower.step: picture');
    const next = prepareMatch(lumaOf(picture));
    const wasSeen = this.seen;
    const expected = this.expected();
    const starts = [expected];
    let best = this.key.align(next, expected);
    if (best.agreement < UNSURE && wasSeen) {
      const jumped = this.matched(next);
      if (jumped !== null) starts.push(jumped);
      starts.push(this.place);
      for (const start of starts.slice(1)) best = better(best, this.key.align(next, start));
    }
    if (best.agreement < CHANGED && wasSeen) {
      for (const start of starts) best = better(best, this.alignStandIn(next, start));
      // from where the stand-in found it, the key frame may fit after all
      best = better(best, this.key.align(next, best.map), 0.1);
    } else if (wasSeen) this.standIn = null;
    // it may come back as it went, or as it first was
    for (const shape of this.unsureFor < LONG || this.unsureFor % SELDOM === 0 ? [expected, this.key.home] : []) {
      if (this.isBelieved(best, expected)) break;
      for (const start of this.key.seek(next, shape)) best = better(best, this.key.align(next, start));
    }
    this.take(best, expected);
    this.previous = next;
    return { corners: this.cornersAt(this.place), confidence: this.seen ? best.agreement : 0.5 * Math.min(LOST, best.agreement) };
  }

  /** Makes `found` the region's place, or `expected` where it is not to be believed. */
  private take(found: Alignment, expected: Homography): void {
    this.seen = this.isBelieved(found, expected);
    this.place = this.seen ? found.map : expected;
    this.agreement = this.seen ? found.agreement : 0;
    if (this.agreement >= SURE) {
      if (this.unsureFor > 0) this.path.length = 0;
      this.unsureFor = 0;
      this.cells = found.cells;
      this.path.push(found.map);
      if (this.path.length > SPEED_FRAMES + 1) this.path.shift();
    } else this.unsureFor++;
  }

  /** Where the region would be on the next frame if it went on as it went while its place was sure. */
  private expected(): Homography {
    const [last, before] = [this.path.at(-1)!, this.path.at(-2)];
    if (this.unsureFor > 0) {
      const [dx, dy] = this.speed();
      const frames = (1 - (1 - SLOWS) ** (this.unsureFor + 1)) / SLOWS;
      return multiply(Float64Array.of(1, 0, dx * frames, 0, 1, dy * frames, 0, 0, 1), last);
    }
    return before === undefined ? last : multiply(multiply(last, invertMap(before)), last);
  }

  /** Pixels a frame of the region's middle over the last frames on which its place was sure. */
  private speed(): Corner {
    const [from, to] = [mapPoint(this.path[0]!, 0, 0), mapPoint(this.path.at(-1)!, 0, 0)];
    const frames = Math.max(1, this.path.length - 1);
    return [(to[0] - from[0]) / frames, (to[1] - from[1]) / frames];
  }

  private cornersAt(place: Homography): Corner[] {
    const map = multiply(place, invertMap(this.key.home));
    return this.corners.map(([x, y]) => mapPoint(map, x, y));
  }

  /** Whether an alignment is where the region is; the further from where it is `expected`, the more must agree. */
  private isBelieved({ map, agreement }: Alignment, expected: Homography): boolean {
    const size = Math.max(1e-6, scaleAt(this.place, 0, 0));
    const growth = scaleAt(map, 0, 0) / size;
    if (!(Number.isFinite(growth) && growth > 0.6 && growth < 1.7)) return false;
    const [found, middle] = [mapPoint(map, 0, 0), mapPoint(expected, 0, 0)];
    const away = Math.min(1, Math.hypot(found[0] - middle[0], found[1] - middle[1]) / size);
    return agreement >= LOST + away * (LOST_ELSEWHERE - LOST);
  }

  private alignStandIn(next: MatchPicture, start: Homography): Alignment {
    if (this.standIn === null || this.agreement >= SURE) {
      const fresh = this.takeStandIn();
      if (fresh !== null) this.standIn = fresh;
    }
    if (this.standIn === null) return { map: start, agreement: 0, cells: this.cells };
    const { template, link } = this.standIn;
    const { map, agreement, cells } = template.align(next, multiply(start, link));
    return { map: multiply(map, invertMap(link)), agreement: agreement * this.standIn.agreement, cells };
  }

  /** What could be seen of the region on the previous frame, where its place was sure. */
  private takeStandIn(): PlaneFollower['standIn'] {
    if (this.agreement < SURE) return null;
    const corners = this.cornersAt(this.place);
    if (!corners.flat().every((v) => Math.abs(v) < 1e5)) return null;
    const back = invertMap(this.place);
    const { cells } = this;
    const isSeen = (x: number, y: number): boolean => {
      const [u, v] = mapPoint(back, x, y);
      return cells[this.key.cellOf(u, v)]! >= SURE;
    };
    let inside = 0;
    const weights = regionWeights(corners, this.width, this.height);
    for (let i = 0; i < weights.data.length; i++)
      if (weights.data[i]! >= 0.5 && isSeen((i % this.width) + 0.5, Math.floor(i / this.width) + 0.5)) inside++;
    if (inside < 64) return null;
    const template = new PlaneTemplate(this.previous, corners, this.model, isSeen);
    return { template, link: multiply(invertMap(this.place), template.home), agreement: this.agreement };
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
