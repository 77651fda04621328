import { describe, expect, it } from 'vitest';
import { createImage } from '../image/pixels';
import { differenceAt, turn, type Direction } from './turned-frame';

const [W, H] = [12, 8];

/** A picture whose left third, seen from where a thing moves `to`, is bright. */
function picture(to: Direction): ReturnType<typeof createImage> {
  const out = createImage(W, H);
  for (let i = 0; i < W * H; i++) {
    const [x, y] = [i % W, Math.floor(i / W)];
    const along = { left: x / W, right: (W - 1 - x) / W, up: y / H, down: (H - 1 - y) / H }[to];
    out.data.set(along < 1 / 3 ? [200, 100, 50, 255] : [10, 20, 30, 255], 4 * i);
  }
  return out;
}

describe('turn', () => {
  it.each(['left', 'right', 'up', 'down'] as const)('makes movement to the left of movement %s', (to) => {
    const turned = turn(picture(to), to);
    const isUpright = to === 'left' || to === 'right';
    expect([turned.width, turned.height]).toEqual(isUpright ? [W, H] : [H, W]);
    const size = W * H;
    for (let y = 0; y < turned.height; y++) {
      // one channel after the other
      expect([0, 1, 2].map((c) => turned.data[c * size + y * turned.width])).toEqual([200, 100, 50]);
      expect([0, 1, 2].map((c) => turned.data[c * size + (y + 1) * turned.width - 1])).toEqual([10, 20, 30]);
    }
  });

  it('leaves nothing between a picture and itself, and the gain between it and a brighter one', () => {
    const turned = turn(picture('left'), 'left');
    expect(differenceAt(turned, turned, 1, 5, 3, 0, 0)).toBe(0);
    // (10 + 20 + 30) / 3 at a third more
    expect(differenceAt(turned, turned, 4 / 3, 8, 3, 0, 0)).toBeCloseTo(20 / 3, 4);
    // beyond the border the nearest pixel counts
    expect(differenceAt(turned, turned, 1, W - 1, 3, 5, 9)).toBe(0);
  });
});
