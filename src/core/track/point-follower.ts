import { prepareMatch, type MatchPicture } from '../flow/match-layer';
import type { Image } from '../image/image';
import { lumaOf, requireSize, type Plane } from '../image/plane';
import { fitMap, mapPoint } from './homography';
import type { Corner } from './plane-template';
import { PointPatch, REACH, trackPoint, uprightAt, type PatchPlace } from './point-patch';

/** Correlation with how a point looked from which it counts as seen, and as seen again after it was hidden. */
const SEEN = 0.72;
const SEEN_AGAIN = 0.85;
/** A point whose look changes less than this in so many frames has turned; one that changes faster is hidden. */
const CHANGED = 0.9;
const SLOWLY = 5;
/** A likeness that falls by this much from one frame to the next comes of something in front. */
const SUDDEN = 0.06;
/** Pixels by which a point may come back elsewhere when it is followed back. */
const ROUND_TRIP_PX = 1;
/** Pixels by which the look of a point may correct where the last frame says it went. */
const CORRECTION_PX = 4;
/** Pixels by which a point in some doubt may leave those around it. */
const ASTRAY_PX = 6;
/** Points nearby from which the motion of a hidden one is taken. */
const NEIGHBOURS = 8;
/** A hidden point is looked for in steps of so many pixels, so far around where it should be; alone, a pixel further every frame. */
const SEARCH_STEP = 2;
const SEARCH_PX = 8;
const MOST_SEARCH_PX = 24;

/** Where a point is on one frame, in pixels, centres at +0.5, and how sure that is, 0..1; 0 where it is hidden and only predicted. */
export interface FollowedPoint {
  readonly x: number;
  readonly y: number;
  readonly confidence: number;
}

/** How a point looked on one frame, and where the patch lies on the newest. */
interface Look {
  readonly patch: PointPatch;
  readonly frame: number;
  place: PatchPlace;
}

interface Point {
  /** Its first look, and the newest where that has changed too much. */
  readonly key: Look;
  recent: Look | null;
  x: number;
  y: number;
  /** Pixels a frame. */
  dx: number;
  dy: number;
  /** How much it looked like itself when it was last seen. */
  likeness: number;
  hiddenFor: number;
}

/**
 * Follows points: each from frame to frame by small patches, there and back, then set right by how it looked first, so that
 * errors do not add up (Shi & Tomasi 1994). One that no longer looks so is hidden; it goes on with the points around it
 * and is looked for there.
 */
export class PointFollower {
  private readonly points: readonly Point[];
  private readonly width: number;
  private readonly height: number;
  private previous: MatchPicture;
  private frame = 0;

  /** Points in pixels of `key`, pixel centres at +0.5. One beyond the border is never seen. */
  constructor(key: Image, points: readonly Corner[]) {
    this.width = key.width;
    this.height = key.height;
    this.previous = prepareMatch(lumaOf(key), LEVELS);
    const { luma } = this.previous.levels[0]!;
    this.points = points.map(([x, y]) => ({
      ...{ key: lookAt(luma, x, y, 0), recent: null, x, y, dx: 0, dy: 0, likeness: 1 },
      hiddenFor: this.isInside({ x, y }) ? 0 : Infinity,
    }));
  }

  /** The points on `picture`, the next frame. */
  step(picture: Image): FollowedPoint[] {
    requireSize(picture, this.width, this.height, 'PointFollower.step: picture');
    const next = prepareMatch(lumaOf(picture), LEVELS);
    this.frame++;
    const before = this.points.map((p): Corner => [p.x, p.y]);
    /** x, y, and where it went, of the points seen on both frames. */
    const moved: [number, number, number, number][] = [];
    for (const [i, p] of this.points.entries()) {
      if (p.hiddenFor > 0) continue;
      if (this.follow(p, next)) moved.push([...before[i]!, p.x, p.y]);
      else p.hiddenFor = 1;
    }
    for (const [i, p] of this.points.entries()) {
      // one in some doubt that leaves the others has been taken along by something in front
      if (p.hiddenFor > 0 || p.likeness >= CHANGED || moved.length < NEIGHBOURS) continue;
      const [x, y] = before[i]!;
      const others = moved.filter((m) => m[0] !== x || m[1] !== y);
      const [ex, ey] = expected(others, x, y)!;
      if ((p.x - ex) ** 2 + (p.y - ey) ** 2 > ASTRAY_PX ** 2) p.hiddenFor = 1;
    }
    for (const [i, p] of this.points.entries()) {
      if (p.hiddenFor === 0 || p.hiddenFor === Infinity) continue;
      const [x, y] = before[i]!;
      const along = expected(moved, x, y);
      const [px, py] = along ?? [x + p.dx, y + p.dy];
      this.goOn(p, px, py);
      if (!this.seekAround(p, next, along === null ? Math.min(MOST_SEARCH_PX, SEARCH_PX + p.hiddenFor) : SEARCH_PX)) p.hiddenFor++;
    }
    this.previous = next;
    return this.points.map((p) => ({ x: p.x, y: p.y, confidence: p.hiddenFor > 0 || !this.isInside(p) ? 0 : confidenceOf(p.likeness) }));
  }

  private isInside({ x, y }: { readonly x: number; readonly y: number }): boolean {
    return x >= 0 && y >= 0 && x < this.width && y < this.height;
  }

  /** Takes a point that was seen on the last frame to where it is now; false when it cannot be seen. */
  private follow(p: Point, next: MatchPicture): boolean {
    for (const [dx, dy] of p.dx === 0 && p.dy === 0
      ? [[0, 0]]
      : [
          [p.dx, p.dy],
          [0, 0],
        ]) {
      const to = trackPoint(this.previous, next, p.x, p.y, dx!, dy!);
      if (!this.isInside(to)) continue;
      const back = trackPoint(next, this.previous, to.x, to.y, p.x - to.x, p.y - to.y);
      if ((back.x - p.x) ** 2 + (back.y - p.y) ** 2 > ROUND_TRIP_PX ** 2) continue;
      if (this.setRight(p, next, to.x, to.y, SEEN)) return true;
    }
    return false;
  }

  /** Sets a point at (x, y) right by its looks; false when it looks like neither. */
  private setRight(p: Point, next: MatchPicture, x: number, y: number, least: number): boolean {
    for (const look of p.recent === null ? [p.key] : [p.key, p.recent]) {
      // one that has grown is compared with a smaller size of the picture
      const grown = Math.sqrt(Math.abs(look.place.a * look.place.d - look.place.b * look.place.c));
      const level = Math.max(0, Math.min(next.levels.length - 1, Math.round(Math.log2(grown))));
      const { luma } = next.levels[level]!;
      const fitted = look.patch.fit(luma, resized({ ...look.place, x, y }, 1 / (1 << level)));
      const place = resized(fitted, 1 << level);
      if ((place.x - x) ** 2 + (place.y - y) ** 2 > CORRECTION_PX ** 2) continue;
      const likeness = look.patch.correlation(luma, fitted);
      if (likeness < least) continue;
      look.place = place;
      Object.assign(p, { dx: place.x - p.x, dy: place.y - p.y, x: place.x, y: place.y, hiddenFor: 0 });
      const slowly = this.frame - (p.recent ?? p.key).frame >= SLOWLY && likeness > p.likeness - SUDDEN;
      p.likeness = likeness;
      if (likeness < CHANGED && slowly) p.recent = lookAt(next.levels[0]!.luma, p.x, p.y, this.frame);
      return true;
    }
    return false;
  }

  /** Where a hidden point goes: with its looks, so that they are looked for as they lay. */
  private goOn(p: Point, x: number, y: number): void {
    Object.assign(p, { dx: 0.9 * (x - p.x), dy: 0.9 * (y - p.y), x, y });
  }

  private seekAround(p: Point, next: MatchPicture, reach: number): boolean {
    const { dx, dy } = p;
    const { luma } = next.levels[0]!;
    let best = { likeness: 0, x: p.x, y: p.y };
    for (const look of p.recent === null ? [p.key] : [p.key, p.recent]) {
      for (let v = -reach; v <= reach; v += SEARCH_STEP) {
        for (let u = -reach; u <= reach; u += SEARCH_STEP) {
          const [x, y] = [p.x + u, p.y + v];
          if (!this.isInside({ x, y })) continue;
          const likeness = look.patch.correlation(luma, { ...look.place, x, y });
          if (likeness > best.likeness) best = { likeness, x, y };
        }
      }
    }
    if (best.likeness < 0.5 || !this.setRight(p, next, best.x, best.y, SEEN_AGAIN)) return false;
    Object.assign(p, { dx, dy });
    return true;
  }
}

const LEVELS = 4;

const confidenceOf = (likeness: number): number => Math.min(1, 2 * likeness - 1);

const resized = ({ x, y, a, b, c, d }: PatchPlace, by: number): PatchPlace => ({
  x: x * by,
  y: y * by,
  a: a * by,
  b: b * by,
  c: c * by,
  d: d * by,
});

const lookAt = (luma: Plane, x: number, y: number, frame: number): Look => ({
  patch: new PointPatch().take(luma, x, y),
  frame,
  place: uprightAt(x, y),
});

/** Where (x, y) would be if it moved with the points around it; null without any. */
function expected(moved: readonly (readonly [number, number, number, number])[], x: number, y: number): Corner | null {
  const near = moved
    .map((m) => ({ m, away: (m[0] - x) ** 2 + (m[1] - y) ** 2 }))
    .sort((a, b) => a.away - b.away)
    .slice(0, NEIGHBOURS);
  if (near.length === 0) return null;
  const pairs = near.flatMap(({ m, away }) => [m[0] - x, m[1] - y, m[2] - x, m[3] - y, 1 / (REACH * REACH + away)]);
  if (near.length > 2) {
    const motion = fitMap('similarity', Float64Array.from(pairs), 2);
    if (motion !== null) {
      const [u, v] = mapPoint(motion, 0, 0);
      return [x + u, y + v];
    }
  }
  const { m } = near[0]!;
  return [x + m[2] - m[0], y + m[3] - m[1]];
}
