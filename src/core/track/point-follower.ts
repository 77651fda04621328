import { prepareMatch } from '../flow/match-layer';
import type { Image } from '../image/image';
import { lumaOf } from '../image/plane';
import { PlaneFollower } from './plane-follower';
import type { Corner } from './plane-template';

/** Half the side of the patch around a point. */
const REACH = 12;
/** Agreement of the patch under which the point counts as out of sight. */
const SEEN = 0.35;

/** Follows points, each by the patch around it, which may move, turn and grow. */
export class PointFollower {
  private readonly followers: readonly (PlaneFollower | null)[];
  private readonly width: number;
  private readonly height: number;

  /** Points in pixels of `key`, pixel centres at +0.5. One too near the border to have a patch is never seen. */
  constructor(key: Image, points: readonly Corner[]) {
    this.width = key.width;
    this.height = key.height;
    this.followers = points.map(([x, y]) => {
      if (x < 3 || y < 3 || x > key.width - 3 || y > key.height - 3) return null;
      const corners: Corner[] = [
        [x - REACH, y - REACH],
        [x + REACH, y - REACH],
        [x + REACH, y + REACH],
        [x - REACH, y + REACH],
      ];
      return new PlaneFollower(key, corners, 'similarity');
    });
  }

  /** The points on `picture`, the next frame; null where one cannot be seen. */
  step(picture: Image): (Corner | null)[] {
    const next = prepareMatch(lumaOf(picture));
    return this.followers.map((follower) => {
      if (follower === null) return null;
      const { corners, confidence } = follower.stepPrepared(next);
      const x = corners.reduce((sum, c) => sum + c[0], 0) / 4;
      const y = corners.reduce((sum, c) => sum + c[1], 0) / 4;
      const inside = x >= 0 && y >= 0 && x < this.width && y < this.height;
      return inside && confidence >= SEEN ? [x, y] : null;
    });
  }
}
