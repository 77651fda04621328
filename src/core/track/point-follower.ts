import { prepareMatch, type MatchPicture } from '../flow/match-layer';
import { requireSize, type Image, type Plane } from '../image/pixels';
import { lumaOf } from '../image/plane';
import { fitMap, mapPoint } from '../geometry/fit-map';
import type { Corner } from './plane-template';
import { LEVELS, PointPatch, REACH, trackPoint, uprightAt, type PatchPlace } from './point-patch';

/** Correlation with how a point looked from which it counts as seen, and as seen again after it was hidden. */
const SEEN = 0.72;
const SEEN_AGAIN = 0.85;
/** Correlation from which where a point went needs no further proof. */
const ALIKE = 0.95;
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
/** With fewer it goes as far as the middle one of them. */
const FEWEST_NEIGHBOURS = 5;
/** A hidden point is looked for in steps of so many pixels, so far around where it should be; alone, a pixel further every frame. */
const SEARCH_STEP = 4;
const SEARCH_PX = 8;
const MOST_SEARCH_PX = 24;
/** Correlation from which a place found so is worth a closer look. */
const WORTH_A_LOOK = 0.5;
/** A hidden point alone keeps this share of its speed a frame. */
const SLOWS = 0.9;

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

/** Where a look lies on a frame, and how alike that is. */
interface Fitted {
  readonly place: PatchPlace;
  readonly likeness: number;
}

/** Where a point lies on a frame by its looks. */
interface Found extends Fitted {
  readonly first: Fitted | null;
  readonly newer: Fitted | null;
}

interface Point {
  /** Its first look, and the newest where that has changed too much. */
  readonly key: Look;
  recent: Look | null;
  x: number;
  y: number;
  /** Where it was when it last looked just like itself, moved on since. */
  sure: Corner;
  /** Pixels a frame. */
  dx: number;
  dy: number;
  /** How much it looked like itself when it was last seen. */
  likeness: number;
  /** Frames since it was last seen; infinite for one that never was in the picture. */
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
      ...{ key: lookAt(luma, x, y, 0), recent: null, x, y, sure: [x, y] as const, dx: 0, dy: 0, likeness: 1 },
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
      if (p.hiddenFor === Infinity) continue;
      const [x, y] = before[i]!;
      if (p.hiddenFor === 0 && p.likeness >= CHANGED) {
        Object.assign(p, { dx: p.x - x, dy: p.y - y, sure: [p.x, p.y] });
        continue;
      }
      // one in doubt is believed while it stays with the others; when it is hidden, it goes on from where it was sure
      const others = p.hiddenFor === 0 ? moved.filter((m) => m[0] !== x || m[1] !== y) : moved;
      const along = expected(others, ...p.sure);
      p.sure = along ?? [p.sure[0] + p.dx, p.sure[1] + p.dy];
      if (along === null) {
        p.dx *= SLOWS;
        p.dy *= SLOWS;
      }
      if (p.hiddenFor === 0 && (along === null || isNear([p.x, p.y], along, ASTRAY_PX))) continue;
      [p.x, p.y] = p.sure;
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
    // mostly it goes on as it went, and looks so much like itself there that nothing more need be asked
    const straight = this.found(p, next, p.x + p.dx, p.y + p.dy, ALIKE);
    if (straight !== null && this.isInside(straight.place)) {
      this.accept(p, next, straight);
      return true;
    }
    const starts: Corner[] = [[p.dx, p.dy]];
    if (p.dx !== 0 || p.dy !== 0) starts.push([0, 0]);
    for (const [dx, dy] of starts) {
      const to = trackPoint(this.previous, next, p.x, p.y, dx, dy);
      if (!this.isInside(to)) continue;
      const found = this.found(p, next, to.x, to.y, SEEN);
      if (found === null) continue;
      if (found.likeness < ALIKE) {
        // what looks a little different must lead back to where it was
        const back = trackPoint(next, this.previous, to.x, to.y, p.x - to.x, p.y - to.y);
        if (!isNear([back.x, back.y], [p.x, p.y], ROUND_TRIP_PX)) continue;
      }
      this.accept(p, next, found);
      return true;
    }
    return false;
  }

  /** Where a point lies at about (x, y) by its looks, the first counting before the newer; null when it looks like neither. */
  private found(p: Point, next: MatchPicture, x: number, y: number, least: number): Found | null {
    const first = fitted(p.key, next, x, y, least);
    const newer = p.recent === null || (first !== null && first.likeness >= CHANGED) ? null : fitted(p.recent, next, x, y, least);
    const best = first ?? newer;
    return best === null ? null : { first, newer, place: best.place, likeness: Math.max(first?.likeness ?? 0, newer?.likeness ?? 0) };
  }

  /** Believes that a point is where it was found. */
  private accept(p: Point, next: MatchPicture, { first, newer, place, likeness }: Found): void {
    if (first !== null) p.key.place = first.place;
    if (newer !== null) p.recent!.place = newer.place;
    const slowly = this.frame - (p.recent ?? p.key).frame >= SLOWLY && likeness > p.likeness - SUDDEN;
    Object.assign(p, { x: place.x, y: place.y, likeness, hiddenFor: 0 });
    if (likeness < CHANGED && slowly) p.recent = lookAt(next.levels[0]!.luma, p.x, p.y, this.frame);
  }

  /** Looks for a hidden point up to `reach` pixels around where it should be; true when it is there. */
  private seekAround(p: Point, next: MatchPicture, reach: number): boolean {
    const { luma } = next.levels[0]!;
    let best = { likeness: 0, x: p.x, y: p.y };
    for (const look of p.recent === null ? [p.key] : [p.key, p.recent]) {
      const around = (cx: number, cy: number, far: number, step: number): void => {
        for (let v = -far; v <= far; v += step) {
          for (let u = -far; u <= far; u += step) {
            const at = { x: cx + u, y: cy + v };
            if (!this.isInside(at)) continue;
            const likeness = look.patch.roughCorrelation(luma, { ...look.place, ...at });
            if (likeness > best.likeness) best = { likeness, ...at };
          }
        }
      };
      around(p.x, p.y, reach, SEARCH_STEP);
      around(best.x, best.y, SEARCH_STEP / 2, SEARCH_STEP / 2);
    }
    const found = best.likeness < WORTH_A_LOOK ? null : this.found(p, next, best.x, best.y, SEEN_AGAIN);
    if (found !== null) this.accept(p, next, found);
    return found !== null;
  }
}

/** Where a look lies at about (x, y), and how alike that is; null when it is not, or lies elsewhere. */
function fitted(look: Look, next: MatchPicture, x: number, y: number, least: number): Fitted | null {
  // one that has grown is compared with a smaller size of the picture
  const grown = Math.sqrt(Math.abs(look.place.a * look.place.d - look.place.b * look.place.c));
  const level = Math.max(0, Math.min(next.levels.length - 1, Math.round(Math.log2(grown))));
  const { luma } = next.levels[level]!;
  const there = look.patch.fit(luma, resized({ ...look.place, x, y }, 1 / (1 << level)));
  const place = resized(there, 1 << level);
  const likeness = look.patch.correlation(luma, there);
  return likeness >= least && isNear([place.x, place.y], [x, y], CORRECTION_PX) ? { place, likeness } : null;
}

const isNear = ([x, y]: Corner, [u, v]: Corner, px: number): boolean => (x - u) ** 2 + (y - v) ** 2 <= px * px;

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
  if (near.length >= FEWEST_NEIGHBOURS) {
    const pairs = near.flatMap(({ m, away }) => [m[0] - x, m[1] - y, m[2] - x, m[3] - y, 1 / (REACH * REACH + away)]);
    const motion = fitMap('similarity', Float64Array.from(pairs), 2);
    if (motion !== null) {
      const [u, v] = mapPoint(motion, 0, 0);
      return [x + u, y + v];
    }
  }
  const middle = (values: number[]): number => values.sort((p, q) => p - q)[values.length >> 1]!;
  return [x + middle(near.map(({ m }) => m[2] - m[0])), y + middle(near.map(({ m }) => m[3] - m[1]))];
}
